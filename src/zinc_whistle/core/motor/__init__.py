"""Station 1: what have I got?"""
