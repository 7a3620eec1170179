"""The pages of account."""

from chirotend.web.pages.account.routes import bp

__all__ = ["bp"]
