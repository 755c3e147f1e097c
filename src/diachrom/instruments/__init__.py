"""Outside devices behind small protocols, each with a simulated one that ships with the application."""
