"""Engagements, aims, the week laid, a date asked for."""
