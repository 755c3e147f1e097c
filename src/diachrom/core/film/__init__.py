"""What a sprayed film looks like: paints, transport of light, surfaces, grounds, stacks of films."""
