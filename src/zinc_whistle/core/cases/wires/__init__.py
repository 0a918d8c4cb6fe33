"""The wires of each drive, one by one, as the design asks for them."""
