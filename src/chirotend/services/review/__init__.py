"""The week, read back."""
