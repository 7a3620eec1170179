"""Open matters: visits and errands with a date, and what was told."""

from chirotend.web.pages.matters.routes import bp

__all__ = ["bp"]
