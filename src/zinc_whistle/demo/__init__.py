"""The fair: made-up builds and sample parts that ship as data."""
