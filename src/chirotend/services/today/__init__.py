"""The day’s call, what it stops, the warm-up and the pre-concert card."""
