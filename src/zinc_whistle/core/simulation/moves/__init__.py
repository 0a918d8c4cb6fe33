"""A move of the drive to a place: the shaft, what is asked of it, how it is asked, and what happens on the way.

setpoint → error in whole counts → law → duty → exact propagation of the averaged motor to the next sample → figures
"""
