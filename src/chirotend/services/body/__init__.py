"""Marks and checks of the body, what they resemble, self-checks, how she is today."""
