"""The pages of away."""

from chirotend.web.pages.away.routes import bp

__all__ = ["bp"]
