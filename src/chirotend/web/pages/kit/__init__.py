"""The pages of kit."""

from chirotend.web.pages.kit.routes import bp

__all__ = ["bp"]
