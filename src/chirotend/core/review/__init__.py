"""The week read back: what her own entries say, by rule."""
