"""The pages of score."""

from chirotend.web.pages.score.routes import bp

__all__ = ["bp"]
