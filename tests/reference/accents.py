"""Which notes carry an accent that moves: to hold `core.plan.cycles` against."""

from chirotend.core.errors import check_range
from chirotend.core.plan.cycles import NOTES_MAX


def accented_notes(notes: int, group: int, shift: int = 0) -> tuple[int, ...]:
    """Return which of `notes` notes carry the accent when every `group`-th does, the first one moved by `shift`."""
    check_range("notes", notes, 1, NOTES_MAX, "notes")
    check_range("group", group, 1, 16, "notes")
    return tuple(n for n in range(1, notes + 1) if (n - 1 - shift) % group == 0)
