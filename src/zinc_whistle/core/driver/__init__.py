"""Station 4: which kind, which part?"""
