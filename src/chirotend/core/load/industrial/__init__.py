"""Rules made for factory work, laboratory holds and cadaver tendon: background only, never a verdict on playing.

Each was tested on other people than players, and none says that anything is harmless. They take what she types, show
their formula, and end there: nothing of the call, the plan or the signs asks them.
"""
