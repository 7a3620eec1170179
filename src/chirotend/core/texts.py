"""What a text must be to be kept: in a file, a table, a page."""


def can_be_kept(text: str) -> bool:
    """False when `text` holds what no text file can: NUL, or half a character."""
    return clean(text) == text


def clean(text: str) -> str:
    """Return `text` without NUL, and with a mark in the place of half a character, which no file can hold."""
    return text.replace("\x00", "").encode("utf-8", "replace").decode("utf-8")
