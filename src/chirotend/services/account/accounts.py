"""Accounts: the first run, signing in, passwords, the player's settings."""

import hashlib
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from sqlalchemy.orm import Session as Db

from chirotend.core.days import zone_named
from chirotend.core.errors import OutOfRange
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.store import accounts as store
from chirotend.store.models import AccountRow, PlayerRow

PASSWORD_MIN = 10
LINK_FOR, IDLE_FOR, SEEN_EVERY = timedelta(hours=24), timedelta(days=14), timedelta(hours=12)
UNITS = ("metric", "inch")


class Passwords:
    """Hashing with Argon2id at the library's defaults; `cheap` is for tests only."""

    def __init__(self, cheap: bool = False) -> None:
        self.hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1) if cheap else PasswordHasher()
        self._nobody = self.hasher.hash(secrets.token_hex(8))

    def digest(self, password: str) -> str:
        if len(password) < PASSWORD_MIN:
            raise FieldError("password", f"At least {PASSWORD_MIN} characters; a few plain words are good.")
        if len(password) > 200:
            raise FieldError("password", "At most 200 characters.")
        return self.hasher.hash(password)

    def fits(self, account: AccountRow | None, password: str) -> bool:
        """Check a password; takes the same time when there is no such account."""
        try:
            return (
                self.hasher.verify(account.password_hash if account else self._nobody, password[:200])
                and account is not None
            )
        except (VerifyMismatchError, InvalidHashError):
            return False


def make_setup_link(db: Db, now: datetime, name: str = "") -> str:
    """Return the secret of a one-time link for one account, good for 24 hours; only its digest is kept.

    `name` is the name to sign in with; "" = the first account of a server, which chooses its own. `FieldError` when the
    name is taken.
    """
    if name and store.account_named(db, name):
        raise FieldError("name", f"There is an account “{name}” already.")
    secret = secrets.token_urlsafe(24)
    store.put_setup_link(db, _digest(secret), name, now)
    return secret


def setup_link_name(db: Db, secret: str, now: datetime) -> str | None:
    """Return the name a link was made for ("" = the first account); None when it does not work (any more)."""
    link = store.setup_link(db, _digest(secret))
    if link is None or now - link.created_utc > LINK_FOR:
        return None
    return None if link.name == "" and store.any_account(db) is not None else link.name


def account_by_link(
    db: Db,
    passwords: Passwords,
    secret: str,
    name: str,
    password: str,
    player: str,
    zone: str,
    instruments: list[str],
    now: datetime,
) -> AccountRow:
    """Make the one account a link is good for, with its player; the link stops working."""
    meant = setup_link_name(db, secret, now)
    if meant is None or not store.use_setup_link(db, _digest(secret)):
        raise FieldError("name", "This link was used already, or is older than a day. Ask for a new one.")
    return add_account(db, passwords, meant or name, password, player, zone, instruments, now)


def sign_in_name(name: str) -> str:
    """Return a name to sign in with as it is kept; `FieldError` when it is none."""
    if not 1 <= len(name.strip()) <= 80 or not name.strip().isprintable():
        raise FieldError("name", "Type a name to sign in with, up to 80 characters.")
    return name.strip()


def add_account(
    db: Db,
    passwords: Passwords,
    name: str,
    password: str,
    player: str,
    zone: str,
    instruments: list[str],
    now: datetime,
) -> AccountRow:
    name, player = sign_in_name(name), player.strip()
    if store.account_named(db, name):
        raise FieldError("name", "This name is taken. Choose another.")
    if not 1 <= len(player) <= 80:
        raise FieldError("player", "Type your name as it should stand on your part, up to 80 characters.")
    _check_zone(zone)
    digest = passwords.digest(password)
    made = PlayerRow(name=player, zone=zone, instruments=instruments, created_utc=now)
    return store.add_account(db, name, digest, made, now)


def sign_in(db: Db, passwords: Passwords, name: str, password: str) -> AccountRow:
    account = store.account_named(db, name.strip())
    if not passwords.fits(account, password) or account is None:
        raise FieldError(
            "password", "Name and password do not fit together. Check both; capital letters of the password count."
        )
    return account


def set_password(db: Db, passwords: Passwords, name: str, password: str) -> None:
    """Set a new password and sign every browser out."""
    account = store.account_named(db, name)
    if account is None:
        raise FieldError("name", f"There is no account “{name}”.")
    account.password_hash = passwords.digest(password)
    store.drop_browsers(db, account.id)


def change_password(db: Db, passwords: Passwords, account: AccountRow, old: str, new: str, here: str) -> None:
    """Change her own password, knowing the old one; every browser but this one (cookie `here`) is signed out."""
    if not passwords.fits(account, old):
        raise FieldError("old_password", "This is not the password that holds now.")
    try:
        account.password_hash = passwords.digest(new)
    except FieldError as error:
        raise FieldError("new_password", error.sentence) from error
    store.drop_browsers(db, account.id, but=_digest(here))


# --- signed-in browsers --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Browser:
    """A browser that is signed in: its handle for signing it out, what it is on, when, whether it is this one."""

    handle: str
    agent: str
    created_utc: datetime
    seen_utc: datetime
    here: bool


def open_browser(db: Db, account: AccountRow, agent: str, now: datetime) -> str:
    """Keep that a browser is signed in; returns what its cookie holds. Browsers idle for two weeks are forgotten."""
    store.drop_idle_browsers(db, now - IDLE_FOR)
    cookie = secrets.token_urlsafe(24)
    store.add_browser(db, _digest(cookie), account.id, _kind_of_device(agent), now)
    return cookie


def _kind_of_device(agent: str) -> str:
    """What a browser is on, in plain words: its long name for itself says little to her, and is not kept."""
    return "a phone or tablet" if any(word in agent.lower() for word in ("mobi", "tablet", "phone")) else "a computer"


def account_of_browser(db: Db, cookie: str, now: datetime) -> AccountRow | None:
    """Return the account a cookie is signed in to; None after a sign-out, or two weeks without a visit."""
    row = store.browser(db, _digest(cookie))
    if row is None or now - row.seen_utc > IDLE_FOR:
        return None
    return store.account(db, row.account_id)


def browser_was_here(db: Db, cookie: str, now: datetime) -> None:
    """Note the visit, to the half day, so that reading pages seldom writes."""
    row = store.browser(db, _digest(cookie))
    if row is not None and now - row.seen_utc > SEEN_EVERY:
        row.seen_utc = now


def browsers(db: Db, account: AccountRow, here: str) -> Sequence[Browser]:
    """Return where an account is signed in, the last seen first."""
    mine = _digest(here)
    return [
        Browser(r.digest[:16], r.agent, r.created_utc, r.seen_utc, r.digest == mine)
        for r in store.browsers(db, account.id)
    ]


def sign_out(db: Db, account: AccountRow, cookie: str) -> None:
    """End this browser's session on the server: a copy of its cookie is worth nothing any more."""
    store.drop_browsers(db, account.id, _digest(cookie))


def sign_out_handle(db: Db, account: AccountRow, handle: str) -> None:
    """Sign one browser of the list out; `NotThere` when it is none of hers."""
    found = next((r for r in store.browsers(db, account.id) if r.digest[:16] == handle), None)
    if found is None:
        raise NotThere(handle)
    store.drop_browsers(db, account.id, found.digest)


def sign_out_everywhere(db: Db, account: AccountRow) -> None:
    store.drop_browsers(db, account.id)


def save_settings(
    context: Context, name: str, zone: str, instruments: list[str], emergency_number: str, units: str, letter_keys: bool
) -> None:
    """Write the player's settings; `FieldError` names the field."""
    check_settings(name, zone, instruments, emergency_number, units, letter_keys)
    p = context.player
    p.name, p.zone, p.instruments, p.emergency_number = name.strip(), zone, instruments, emergency_number.strip()
    p.units, p.letter_keys = units, letter_keys


def check_settings(
    name: str, zone: str, instruments: list[str], emergency_number: str, units: str, letter_keys: bool
) -> None:
    """Raise `FieldError`, naming the field, when these could not be a player's settings."""
    texts = (name, zone, emergency_number, units)
    if not all(isinstance(text, str) for text in texts) or not isinstance(letter_keys, bool):
        raise FieldError("player", "Settings are words, and yes or no.")
    if not isinstance(instruments, list) or not all(isinstance(i, str) and len(i) <= 80 for i in instruments):
        raise FieldError("instruments", "Instruments are a list of names.")
    if len(instruments) > 40:
        raise FieldError("instruments", "At most 40 instruments.")
    if not 1 <= len(name.strip()) <= 80:
        raise FieldError("player", "Type your name as it should stand on your part, up to 80 characters.")
    _check_zone(zone)
    number = emergency_number.strip()
    if number and (len(number) > 40 or not set(number) <= set("0123456789 +-()")):
        raise FieldError("emergency_number", "A telephone number: digits, spaces, + - ( ) only.")
    if units not in UNITS:
        raise FieldError("units", "Choose metric or inch.")


def the_only_account(db: Db) -> AccountRow | None:
    """Return the first account: the one `make demo` signs in by itself."""
    return store.any_account(db)


def context_of(db: Db, account: AccountRow, now: datetime, writes: bool = True) -> Context | None:
    """Return the context of the player whose record this account opens."""
    player = store.player_of(db, account.id)
    return Context(db, player, now, writes) if player else None


def context_named(db: Db, name: str | None, now: datetime) -> Context | None:
    """Return the context of the account called `name`, or of the only account without one; None when there is none."""
    if name is None:
        players = store.every_player(db)
        return Context(db, players[0], now) if len(players) == 1 else None
    account = store.account_named(db, name)
    return context_of(db, account, now) if account is not None else None


def hold(context: Context) -> None:
    """Take this player's write lock: what is read after it cannot change before the transaction ends."""
    store.hold(context.db, context.player.id)


def _check_zone(zone: str) -> None:
    try:
        zone_named(zone)
    except OutOfRange as error:
        raise FieldError("zone", "Choose a time zone from the list, such as Europe/Vienna.") from error


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
