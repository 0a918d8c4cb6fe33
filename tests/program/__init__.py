"""The generated programs, run: C in an instruction-level simulator, MicroPython in the real interpreter."""
