"""Station 6: PWM, ramps and truth tables."""
