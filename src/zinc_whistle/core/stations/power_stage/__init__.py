"""The station power stage."""
