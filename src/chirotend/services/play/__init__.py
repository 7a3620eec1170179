"""A session while it runs, the stand, the wrap-up, takes."""
