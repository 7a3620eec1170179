"""Programmes: begun, shown, obeyed, ended."""
