"""The pages of play."""

from chirotend.web.pages.play.routes import bp

__all__ = ["bp"]
