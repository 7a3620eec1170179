"""A sitting while it runs, the stand, the wrap-up, takes."""
