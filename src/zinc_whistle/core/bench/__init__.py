"""Station 10: what to measure, with what set how, and what is right."""
