"""What is kept."""
