"""The pages of curtain."""

from chirotend.web.pages.curtain.routes import bp

__all__ = ["bp"]
