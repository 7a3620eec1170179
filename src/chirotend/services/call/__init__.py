"""Today's call: its inputs are loaded once, it is computed once by the core, and stored once."""
