"""Play and listen: a few minutes from the microphone, heard back, kept in an archive or thrown away.

The sound stays on this server. A kept take now and then lets her hear herself over the seasons.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from uuid import uuid4

from chirotend.core.record.words import MEDIA
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.store import blobs
from chirotend.store.models import TakeRow

SECONDS_MAX, BYTES_MAX = 15 * 60 + 30, 30 * 1024 * 1024
PLAYER_BYTES_MAX = 600 * 1024 * 1024  # all the takes, pictures and traces of one player together
#: how a recording begins, by its kind
BEGINNINGS = dict(zip(MEDIA, (b"\x1aE\xdf\xa3", b"OggS", b"RIFF", b"ftyp"), strict=True))
REMIND_AFTER = timedelta(days=120)  # domain rule: every 3 to 6 months
UNKEPT_FOR = timedelta(days=1)


@dataclass(frozen=True)
class TakesPage:
    """The takes, newest first, and whether it is time for another one in the archive."""

    takes: tuple[TakeRow, ...]
    last_kept: date | None
    due: bool


def takes_page(context: Context) -> TakesPage:
    """Return the takes that are kept, and those of the last day that wait to be heard."""
    rows = context.store.repository(TakeRow).all(order=(TakeRow.at_utc.desc(),))
    shown = tuple(r for r in rows if r.kept or context.now - r.at_utc <= UNKEPT_FOR)
    last = max((r.day for r in rows if r.kept), default=None)
    return TakesPage(shown, last, last is not None and context.today - last >= REMIND_AFTER)


def named(context: Context) -> tuple[tuple[str, str], ...]:
    """Return the takes of the shelf by id, each with its title and day."""
    return tuple((t.uid, f"{t.title or 'untitled'}, {t.day:%d %B}") for t in takes_page(context).takes)


def take_of(context: Context, uid: str) -> TakeRow:
    return context.row(TakeRow, uid)


@dataclass(frozen=True)
class Sound:
    """The sound of a take as it lies in the folder: its name, size in bytes, kind, and length in seconds."""

    name: str
    size: int
    media: str
    seconds: float


def put(context: Context, folder: Path, data: bytes, media: str, seconds: float | None) -> Sound:
    """Put a recording into the folder; `FieldError` says what is wrong with it."""
    kind = media.partition(";")[0].strip().lower()
    if kind not in BEGINNINGS:
        raise FieldError("sound", "This is no recording that can be played here (WebM, Ogg, WAV or MP4 sound).")
    if BEGINNINGS[kind] not in data[:12]:
        raise FieldError("sound", "This recording is empty or broken. Record again.")
    if len(data) > BYTES_MAX:
        raise FieldError("sound", "A take may have up to 30 MB. Record a shorter one.")
    check_room(context, "sound", len(data))
    if seconds is None or not 0 < seconds <= SECONDS_MAX:
        raise FieldError("sound", "A take lasts up to 15 minutes.")
    return Sound(blobs.put(folder, data), len(data), kind, seconds)


def record(context: Context, sound: Sound, title: str, instrument: str) -> TakeRow:
    """Keep a take for a day, so that it can be heard."""
    return context.store.repository(TakeRow).put(
        {
            "uid": uuid4().hex,
            "day": context.today,
            "at_utc": context.now,
            "title": title.strip()[:120],
            "instrument": instrument[:80],
            "seconds": sound.seconds,
            "bytes": sound.size,
            "blob": sound.name,
            "media": sound.media,
            "kept": False,
        }
    )


def check_room(context: Context, field: str, more: int) -> None:
    """Raise `FieldError` when `more` bytes do not fit beside what she keeps already."""
    if blobs.held_bytes(context.db, context.player.id) + more > PLAYER_BYTES_MAX:
        raise FieldError(
            field, "Your takes and pictures fill 600 MB, the most one player may keep. Throw some away first."
        )


def sound_of(context: Context, folder: Path, uid: str) -> tuple[Path, str]:
    """Return the file of a take and its kind of sound; `NotThere` when either is none that may be served."""
    row = take_of(context, uid)
    path = blobs.path_of(folder, row.blob)
    if path is None or row.media not in MEDIA:
        raise NotThere(uid)
    return path, row.media


def keep(context: Context, uid: str) -> None:
    """Put a take into the archive."""
    take_of(context, uid).kept = True


def discard(context: Context, uid: str) -> str:
    """Throw a take away; returns the name of its sound, to be dropped once the deletion holds."""
    name = take_of(context, uid).blob
    context.store.repository(TakeRow).drop(uid)
    return name


def forget_unkept(context: Context) -> None:
    """Drop takes that nobody kept within a day."""
    context.store.repository(TakeRow).drop_all(TakeRow.kept.is_(False), TakeRow.at_utc < context.now - UNKEPT_FOR)


def drop_files(context: Context, folder: Path, names: Iterable[str]) -> None:
    """Delete those of `names` that nothing of anybody names any more."""
    blobs.drop(context.db, folder, names)
