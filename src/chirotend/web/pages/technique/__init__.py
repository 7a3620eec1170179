"""The pages of technique."""

from chirotend.web.pages.technique.routes import bp

__all__ = ["bp"]
