"""Instruments that are not there: a supply, a meter, an oscilloscope and a motor board, of one build on one bench.

They speak what real ones speak (SCPI by IEEE 488.2, the board's own line protocol) on local ports, driven by one
simulation in real time. Nothing else of the app knows that they are not real.
"""
