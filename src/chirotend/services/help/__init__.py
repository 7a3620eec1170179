"""Help: the questions a player asks, and their answers."""
