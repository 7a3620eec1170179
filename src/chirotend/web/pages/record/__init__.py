"""The pages of record."""

from chirotend.web.pages.record.routes import bp

__all__ = ["bp"]
