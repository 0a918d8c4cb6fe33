"""Instruments over open protocols: SCPI (IEEE 488.2) and the board's line protocol, on TCP or a serial port."""
