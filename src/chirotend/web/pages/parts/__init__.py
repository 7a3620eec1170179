"""The pages of parts."""

from chirotend.web.pages.parts.routes import bp

__all__ = ["bp"]
