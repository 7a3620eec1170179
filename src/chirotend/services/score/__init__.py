"""The record as a score."""
