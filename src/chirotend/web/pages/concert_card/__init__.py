"""The pages of the pre-concert card."""

from chirotend.web.pages.concert_card.routes import bp

__all__ = ["bp"]
