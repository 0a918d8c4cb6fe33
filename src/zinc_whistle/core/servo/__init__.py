"""A hobby servo: what it can move, what its rail must give, and its pulse."""
