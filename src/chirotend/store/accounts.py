"""Accounts, players and the grants between them."""

from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session as Db

from chirotend.store.models import AccountRow, GrantRow, PlayerRow, SetupLinkRow


def account_named(db: Db, name: str) -> AccountRow | None:
    return db.scalar(select(AccountRow).where(func.lower(AccountRow.name) == name.lower()))


def account(db: Db, account_id: int) -> AccountRow | None:
    return db.get(AccountRow, account_id)


def any_account(db: Db) -> AccountRow | None:
    return db.scalar(select(AccountRow).order_by(AccountRow.id).limit(1))


def player_of(db: Db, account_id: int) -> PlayerRow | None:
    """Return the player whose record this account opens (the first one granted)."""
    return db.scalar(
        select(PlayerRow)
        .join(GrantRow, GrantRow.player_id == PlayerRow.id)
        .where(GrantRow.account_id == account_id)
        .order_by(PlayerRow.id)
        .limit(1)
    )


def add_account(db: Db, name: str, password_hash: str, stamp: str, player: PlayerRow, now: datetime) -> AccountRow:
    """Add an account with a player of its own."""
    row = AccountRow(name=name, password_hash=password_hash, stamp=stamp, created_utc=now)
    db.add_all([row, player])
    db.flush()
    db.add(GrantRow(account_id=row.id, player_id=player.id))
    db.flush()
    return row


def put_setup_link(db: Db, digest: str, now: datetime) -> None:
    """Keep one set-up link; an older one stops working."""
    db.execute(delete(SetupLinkRow))
    db.add(SetupLinkRow(digest=digest, created_utc=now))
    db.flush()


def has_setup_link(db: Db, digest: str) -> bool:
    return db.get(SetupLinkRow, digest) is not None


def drop_setup_links(db: Db) -> None:
    db.execute(delete(SetupLinkRow))


def every_player(db: Db) -> list[PlayerRow]:
    return list(db.scalars(select(PlayerRow).order_by(PlayerRow.id)))
