"""One module a page."""
