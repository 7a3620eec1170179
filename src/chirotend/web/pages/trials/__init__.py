"""The pages of trials."""

from chirotend.web.pages.trials.routes import bp

__all__ = ["bp"]
