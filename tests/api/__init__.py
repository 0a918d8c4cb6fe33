"""The service and the command line."""
