"""Instruments against stand-ins, and stand-ins against what they stand for."""
