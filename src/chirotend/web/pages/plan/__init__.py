"""The pages of plan."""

from chirotend.web.pages.plan.routes import bp

__all__ = ["bp"]
