"""Accounts, the browsers they are signed in with, players and the grants between them."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import bindparam, delete, select, update
from sqlalchemy.orm import Session as Db

from chirotend.core.names import name_key
from chirotend.store.models import AccountRow, BrowserRow, GrantRow, PlayerRow, SetupLinkRow

# asked for on every page: made once
PLAYER_OF = (
    select(PlayerRow)
    .join(GrantRow, GrantRow.player_id == PlayerRow.id)
    .where(GrantRow.account_id == bindparam("account"))
    .order_by(PlayerRow.id)
    .limit(1)
)


def account_named(db: Db, name: str) -> AccountRow | None:
    return db.scalar(select(AccountRow).where(AccountRow.name_key == name_key(name)))


def account(db: Db, account_id: int) -> AccountRow | None:
    return db.get(AccountRow, account_id)


def any_account(db: Db) -> AccountRow | None:
    return db.scalar(select(AccountRow).order_by(AccountRow.id).limit(1))


def player_of(db: Db, account_id: int) -> PlayerRow | None:
    """Return the player whose record this account opens (the first one granted)."""
    return db.scalar(PLAYER_OF, {"account": account_id})


def add_account(db: Db, name: str, password_hash: str, player: PlayerRow, now: datetime) -> AccountRow:
    """Add an account with a player of its own."""
    row = AccountRow(name=name, name_key=name_key(name), password_hash=password_hash, created_utc=now)
    db.add_all([row, player])
    db.flush()
    db.add(GrantRow(account_id=row.id, player_id=player.id))
    db.flush()
    return row


def hold(db: Db, player_id: int) -> None:
    """Take the write lock for this player: what is read after it cannot change before the transaction ends."""
    # any column but the key: to set that, the database walks through every row that names the player
    db.execute(update(PlayerRow).where(PlayerRow.id == player_id).values(zone=PlayerRow.zone))


# --- browsers ------------------------------------------------------------------------------------------------


def add_browser(db: Db, digest: str, account_id: int, agent: str, now: datetime) -> BrowserRow:
    row = BrowserRow(digest=digest, account_id=account_id, created_utc=now, seen_utc=now, agent=agent)
    db.add(row)
    db.flush()
    return row


def browser(db: Db, digest: str) -> BrowserRow | None:
    return db.get(BrowserRow, digest)


def browsers(db: Db, account_id: int) -> Sequence[BrowserRow]:
    """Return the browsers of an account, the last seen first."""
    return list(
        db.scalars(
            select(BrowserRow)
            .where(BrowserRow.account_id == account_id)
            .order_by(BrowserRow.seen_utc.desc(), BrowserRow.digest)
        )
    )


def drop_browsers(db: Db, account_id: int, digest: str | None = None, but: str | None = None) -> None:
    """Sign out one browser of an account, or all of them (but one)."""
    wanted = [BrowserRow.account_id == account_id]
    if digest is not None:
        wanted.append(BrowserRow.digest == digest)
    if but is not None:
        wanted.append(BrowserRow.digest != but)
    db.execute(delete(BrowserRow).where(*wanted))


def drop_idle_browsers(db: Db, before: datetime) -> None:
    db.execute(delete(BrowserRow).where(BrowserRow.seen_utc < before))


# --- set-up links --------------------------------------------------------------------------------------------


def put_setup_link(db: Db, digest: str, name: str, now: datetime) -> None:
    """Keep a set-up link; an older one for the same name stops working."""
    db.execute(delete(SetupLinkRow).where(SetupLinkRow.name == name))
    db.add(SetupLinkRow(digest=digest, created_utc=now, name=name))
    db.flush()


def setup_link(db: Db, digest: str) -> SetupLinkRow | None:
    return db.get(SetupLinkRow, digest)


def use_setup_link(db: Db, digest: str) -> bool:
    """Take a link out, so that it makes one account; False when it was used at the same instant."""
    used = db.scalars(delete(SetupLinkRow).where(SetupLinkRow.digest == digest).returning(SetupLinkRow.digest))
    return used.first() is not None


def every_player(db: Db) -> list[PlayerRow]:
    return list(db.scalars(select(PlayerRow).order_by(PlayerRow.id)))
