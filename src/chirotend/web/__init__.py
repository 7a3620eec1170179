"""The pages: read the request, call one service, pick a template."""

from chirotend.web.app import create_app

__all__ = ["create_app"]
