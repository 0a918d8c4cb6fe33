"""Station 2: what must it move, how fast, how long?"""
