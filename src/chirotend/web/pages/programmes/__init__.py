"""The pages of programmes."""

from chirotend.web.pages.programmes.routes import bp

__all__ = ["bp"]
