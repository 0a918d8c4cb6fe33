"""What the builder gave: specs only."""
