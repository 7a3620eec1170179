"""Something happened."""

from chirotend.web.pages.happened.routes import bp

__all__ = ["bp"]
