"""Station 7: which pin goes where, with which wire."""
