"""What nature and the trade say: rules only."""
