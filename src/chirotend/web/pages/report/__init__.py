"""The pages of report."""

from chirotend.web.pages.report.routes import bp

__all__ = ["bp"]
