"""The demo bench: Skarholm, an invented workshop on an invented island, with its paints, bottles and recipes."""
