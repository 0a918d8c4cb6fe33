"""Station 3: what feeds it?"""
