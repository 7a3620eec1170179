"""Accounts: the first run, signing in, passwords, the player's settings."""

import hashlib
import secrets
from datetime import datetime

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from sqlalchemy.orm import Session as Db

from chirotend.core.days import zone_named
from chirotend.core.errors import OutOfRange
from chirotend.services.desk import Desk, Refused
from chirotend.store import accounts as store
from chirotend.store.models import AccountRow, PlayerRow

PASSWORD_MIN = 10
UNITS = ("metric", "inch")


class Passwords:
    """Hashing with Argon2id at the library's defaults; `cheap` is for tests only."""

    def __init__(self, cheap: bool = False) -> None:
        self.hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1) if cheap else PasswordHasher()
        self._nobody = self.hasher.hash(secrets.token_hex(8))

    def digest(self, password: str) -> str:
        if len(password) < PASSWORD_MIN:
            raise Refused("password", f"At least {PASSWORD_MIN} characters; a few plain words are good.")
        if len(password) > 200:
            raise Refused("password", "At most 200 characters.")
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


def make_setup_link(db: Db, now: datetime) -> str:
    """Return the secret of a one-time link for the first account; only its digest is kept."""
    secret = secrets.token_urlsafe(24)
    store.put_setup_link(db, _digest(secret), now)
    return secret


def setup_link_works(db: Db, secret: str) -> bool:
    return store.any_account(db) is None and store.has_setup_link(db, _digest(secret))


def first_account(
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
    """Make the first account with its player; the link stops working."""
    if not setup_link_works(db, secret):
        raise Refused("link", "This link was used already, or the server printed a newer one.")
    row = add_account(db, passwords, name, password, player, zone, instruments, now)
    store.drop_setup_links(db)
    return row


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
    name, player = name.strip(), player.strip()
    if not 1 <= len(name) <= 80:
        raise Refused("name", "Type a name to sign in with, up to 80 characters.")
    if store.account_named(db, name):
        raise Refused("name", "This name is taken. Choose another.")
    if not 1 <= len(player) <= 80:
        raise Refused("player", "Type your name as it should stand on your part, up to 80 characters.")
    _check_zone(zone)
    digest = passwords.digest(password)
    made = PlayerRow(name=player, zone=zone, instruments=instruments, created_utc=now)
    return store.add_account(db, name, digest, secrets.token_hex(16), made, now)


def sign_in(db: Db, passwords: Passwords, name: str, password: str) -> AccountRow:
    account = store.account_named(db, name.strip())
    if not passwords.fits(account, password) or account is None:
        raise Refused("password", "Name and password do not fit together. Check both; capital letters count.")
    return account


def set_password(db: Db, passwords: Passwords, name: str, password: str) -> None:
    """Set a new password and sign every browser out."""
    account = store.account_named(db, name)
    if account is None:
        raise Refused("name", f"There is no account “{name}”.")
    account.password_hash = passwords.digest(password)
    account.stamp = secrets.token_hex(16)


def save_settings(
    desk: Desk, name: str, zone: str, instruments: list[str], emergency_number: str, units: str, letter_keys: bool
) -> None:
    """Write the player's settings; `Refused` names the field."""
    if not 1 <= len(name.strip()) <= 80:
        raise Refused("player", "Type your name as it should stand on your part, up to 80 characters.")
    _check_zone(zone)
    number = emergency_number.strip()
    if number and (len(number) > 40 or not set(number) <= set("0123456789 +-()")):
        raise Refused("emergency_number", "A telephone number: digits, spaces, + - ( ) only.")
    if units not in UNITS:
        raise Refused("units", "Choose metric or inch.")
    p = desk.player
    p.name, p.zone, p.instruments, p.emergency_number = name.strip(), zone, instruments, number
    p.units, p.letter_keys = units, letter_keys


def account_of(db: Db, account_id: int) -> AccountRow | None:
    return store.account(db, account_id)


def the_only_account(db: Db) -> AccountRow | None:
    """Return the first account: the one `make demo` signs in by itself."""
    return store.any_account(db)


def desk_of(db: Db, account: AccountRow, now: datetime) -> Desk | None:
    """Return the desk of the player whose record this account opens."""
    player = store.player_of(db, account.id)
    return Desk(db, player, now) if player else None


def _check_zone(zone: str) -> None:
    try:
        zone_named(zone)
    except OutOfRange as error:
        raise Refused("zone", "Choose a time zone from the list, such as Europe/Vienna.") from error


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
