"""Reports that open without an account: found by their code alone, since nobody is signed in."""

from sqlalchemy import select
from sqlalchemy.orm import Session as Db

from chirotend.store.models import PlayerRow, ShareRow


def share_of(db: Db, digest: str) -> tuple[ShareRow, PlayerRow] | None:
    """Return a share and its player by the digest of its code."""
    row = db.scalar(select(ShareRow).where(ShareRow.digest == digest))
    player = db.get(PlayerRow, row.player_id) if row is not None else None
    return (row, player) if row is not None and player is not None else None
