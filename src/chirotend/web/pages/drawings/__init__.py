"""Drawings to take away."""

from chirotend.web.pages.drawings.routes import bp

__all__ = ["bp"]
