"""The program of a controller: one model of what it does, written out as C and as MicroPython."""
