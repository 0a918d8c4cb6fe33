"""Zinc Whistle: selects, designs, wires and tests brushed DC motor drivers."""

__version__ = "0.1.0"
