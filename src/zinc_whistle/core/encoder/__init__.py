"""Station 8: what it resolves, and whether the controller keeps up."""
