"""The pages of help."""

from chirotend.web.pages.help.routes import bp

__all__ = ["bp"]
