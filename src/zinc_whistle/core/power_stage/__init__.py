"""Station 5: the stage's stresses, losses and heat."""
