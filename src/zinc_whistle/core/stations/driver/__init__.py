"""The station driver."""
