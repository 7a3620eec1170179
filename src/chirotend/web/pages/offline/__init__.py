"""The pages that work without a network."""

from chirotend.web.pages.offline.routes import bp

__all__ = ["bp"]
