"""The pages of body."""

from chirotend.web.pages.body.routes import bp

__all__ = ["bp"]
