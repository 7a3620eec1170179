"""Chirotend: practice load, tension signs and the day’s call for performing instrumentalists."""
