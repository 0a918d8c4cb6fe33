"""Station 9: reach the speed without overshoot or hunting."""
