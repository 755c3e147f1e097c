"""Light and colour: the band grid, the observer, lights, Lab, differences, screen colours, plain words."""
