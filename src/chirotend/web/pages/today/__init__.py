"""The pages of today."""

from chirotend.web.pages.today.routes import bp

__all__ = ["bp"]
