"""How names, and words that are looked for, are compared."""

import unicodedata


def name_key(name: str) -> str:
    """Return `name` as it is compared: without spaces at its ends, case, or differences of how letters are composed."""
    return unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name.strip()).casefold())
