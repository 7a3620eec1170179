"""What stood before a correction."""

from datetime import datetime
from typing import Any

from sqlalchemy import delete, func, select

from chirotend.store.bound import Bound
from chirotend.store.models import (
    BroughtRow,
    ChangeRow,
)


def _without(kept: Any, name: str, subject: str, key: str) -> Any:
    """What an import keeps of entries it joined to, without one of them."""
    if name == "before" and subject == "check":
        return [check for check in kept if f"{check['day']} {check['timing']}" != key]
    if name == "notes_before" and subject == "day":
        return [note for note in kept if note["day"] != key]
    return kept


class Changes(Bound):
    """The corrections of a player."""

    def add_change(
        self, at_utc: datetime, action: str, subject: str, key: str, before: dict[str, Any] | None, act: int = 0
    ) -> int:
        """Note what stood before a change; `act` is the first change of the same deed, 0 = this one."""
        number = 1 + (
            self.db.scalar(select(func.max(ChangeRow.number)).where(ChangeRow.player_id == self.player_id)) or 0
        )
        self.db.add(
            ChangeRow(
                player_id=self.player_id,
                number=number,
                at_utc=at_utc,
                act=act or number,
                action=action,
                subject=subject,
                key=key,
                before=before,
            )
        )
        self.db.flush()
        return number

    def change(self, number: int) -> ChangeRow | None:
        return self.db.get(ChangeRow, (self.player_id, number))

    def newest_change(self) -> ChangeRow | None:
        return self.db.scalar(
            select(ChangeRow).where(ChangeRow.player_id == self.player_id).order_by(ChangeRow.number.desc()).limit(1)
        )

    def changes_of(self, change: ChangeRow) -> list[ChangeRow]:
        """Return the changes of the same deed, newest first."""
        if not change.act:
            return [change]
        # a deed begins with the change it is named for: by its number it is found without reading every change
        mine = (ChangeRow.player_id == self.player_id, ChangeRow.number >= change.act, ChangeRow.act == change.act)
        return list(self.db.scalars(select(ChangeRow).where(*mine).order_by(ChangeRow.number.desc())))

    def drop_change(self, number: int) -> None:
        self.db.execute(delete(ChangeRow).where(ChangeRow.player_id == self.player_id, ChangeRow.number == number))

    def forget_history_of(self, subject: str, key: str) -> None:
        """Remove earlier versions of a deleted document, also those that an import keeps: a delete is complete."""
        for row in self.db.scalars(select(BroughtRow).where(BroughtRow.player_id == self.player_id)):
            row.document = {name: _without(kept, name, subject, key) for name, kept in row.document.items()}
        self.db.execute(
            delete(ChangeRow).where(
                ChangeRow.player_id == self.player_id,
                ChangeRow.subject == subject,
                ChangeRow.key == key,
                ChangeRow.action != "delete",
            )
        )
