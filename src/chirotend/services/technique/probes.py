"""Probes as they are kept: begun, finished with their values, read back, deleted. A value names its probe."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import IO, Any, Generic, Protocol, TypeVar
from uuid import uuid4

from pydantic import ValidationError

from chirotend.core.errors import MethodError
from chirotend.core.record.shape import NAME_MAX
from chirotend.formats.probe_data import ProbeData
from chirotend.services.body.condition import spared_hands
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.play.takes import check_room
from chirotend.services.record import corrections, measured
from chirotend.store import blobs
from chirotend.store.models import MeasurementRow, ProbeRow

HANDS = ("", "left", "right")
#: the most a recording or trace that is brought may have
BYTES_MAX = 200 * 1024 * 1024
OPEN, DONE = "open", "done"
D = TypeVar("D", bound=ProbeData)


@dataclass(frozen=True)
class About:
    """What a probe is about: the instrument, the hand ("" = both or neither), what is played, what on or with."""

    instrument: str = ""
    hand: str = ""
    what: str = ""
    kit: str = ""


@dataclass(frozen=True)
class Probe(Generic[D]):
    """A probe, read back: its row's words, and its data as its kind has it."""

    uid: str
    day: date
    at_utc: datetime
    about: About
    state: str
    data: D
    blob: str
    media: str

    @property
    def done(self) -> bool:
        return self.state == DONE


def instrument_of(context: Context, asked: str) -> str:
    """Return the instrument a page is about: the one asked for, else her first; "" = she has none."""
    own = context.player.instruments
    return asked if asked in own_library.instruments(context) else own[0] if own else ""


class Fits(Protocol):
    """Something of the library that is for some families of instruments."""

    def fits(self, family: str) -> bool: ...


Entry = TypeVar("Entry", bound=Fits)


def offered(
    context: Context, made_of: type[D], instrument: str, entries: Mapping[str, Entry]
) -> tuple[str, tuple[Entry, ...], Probe[D] | None]:
    """Return the instrument a form is about, the entries that fit it, and her last probe of the kind on it."""
    chosen = instrument_of(context, instrument)
    known = own_library.instruments(context).get(chosen)
    fit = tuple(e for e in entries.values() if known is None or e.fits(known.family))
    before = [p for p in of_kind(context, made_of) if p.about.instrument == chosen]
    return chosen, fit, before[-1] if before else None


def about_of(context: Context, typed: Mapping[str, str]) -> About:
    """Return what a form says a probe is about; `FieldError` at the field that cannot be."""
    hand, instrument = typed.get("hand", ""), typed.get("instrument", "")
    if hand not in HANDS:
        raise FieldError("hand", "Say left, right, or neither.")
    if instrument and instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose one of your instruments.")
    found = About(instrument, hand, typed.get("what", "").strip(), typed.get("kit", "").strip())
    for name in ("what", "kit"):
        if len(getattr(found, name)) > NAME_MAX:
            raise FieldError(name, f"At most {NAME_MAX} characters.")
    return found


def spared_today(context: Context) -> dict[str, str]:
    """Return the hands that today spares, each with the place it is for."""
    return spared_hands(todays_call(context).issued)


def check_spared(context: Context, field: str, hand: str) -> None:
    """Raise `FieldError` at `field` when a Muted day spares that hand: the call rests on a place of it."""
    place = spared_today(context).get(hand)
    if place is not None:
        raise FieldError(
            field, f"Your {place} is spared on a Muted day. Take the other hand, or wait until it is Open."
        )


def begin(context: Context, about: About, data: ProbeData) -> str:
    """Begin a probe; returns its id. `FieldError` when today spares its hand."""
    if data.works_the_hand:
        check_spared(context, "hand", about.hand)
    return _put(context, uuid4().hex, about, OPEN, data)


@dataclass(frozen=True)
class File:
    """A file as it lies in the folder: its name, its size, its kind."""

    name: str
    size: int
    media: str


@dataclass(frozen=True)
class Brought:
    """A file that lies in the folder, and what the probe of it will be; nothing of it is kept yet."""

    about: About
    data: ProbeData
    file: File


def begin_with_file(context: Context, about: About, data: ProbeData, file: File) -> str:
    """Begin a probe that keeps a picture, a sound or a trace: it was played already, so it is kept."""
    return _put(context, uuid4().hex, about, OPEN, data, blob=file.name, media=file.media, bytes=file.size)


def store(context: Context, folder: Path, field: str, stream: IO[bytes], most: int) -> tuple[str, int, bytes]:
    """Keep what `stream` holds; returns its name, size and first bytes. `FieldError` at `field` when it is empty, over
    `most`, or more than she may keep: then nothing of it stays."""
    kept = blobs.put_stream(folder, stream, most)
    if kept is None:
        raise FieldError(
            field, f"This file is larger than {most // 2**20} MB, the most that is taken here. Cut it into parts."
        )
    name, size = kept
    with (folder / name).open("rb") as file:
        head = file.read(256)
    try:
        check_room(context, field, size)
        if not size:
            raise FieldError(field, "This file is empty. Choose another one.")
    except FieldError:
        drop_file(context, folder, name)
        raise
    return name, size, head


def drop_file(context: Context, folder: Path, name: str) -> None:
    """Delete a file that nothing names."""
    blobs.drop(context.db, folder, [name])


def change_file(context: Context, uid: str, file: File) -> None:
    """Put another file in the place of a probe's."""
    row = context.row(ProbeRow, uid)
    row.blob, row.bytes, row.media = file.name, file.size, file.media
    context.db.flush()


def _put(context: Context, uid: str, about: About, state: str, data: ProbeData, **file: Any) -> str:
    corrections.put_row(
        context,
        "probe",
        {
            "uid": uid,
            "day": context.today,
            "at_utc": context.now,
            "kind": data.kind,
            "instrument": about.instrument,
            "hand": about.hand,
            "what": about.what,
            "kit": about.kit,
            "state": state,
            "data": data.model_dump(mode="json"),
            "blob": "",
            "media": "",
            "bytes": 0,
            **file,
        },
    )
    return uid


def change(context: Context, uid: str, data: ProbeData, state: str = OPEN) -> None:
    """Put new data in the place of a probe's; what was worked out of it before is for the caller to keep again."""
    corrections.change_row(context, "probe", context.row(ProbeRow, uid), data=data.model_dump(mode="json"), state=state)


def finish(context: Context, uid: str, data: ProbeData, values: Mapping[str, float]) -> None:
    """End a probe and keep what was measured, by method; a method it had before and has no more goes."""
    row = context.row(ProbeRow, uid)
    with corrections.as_one(context):
        change(context, uid, data, DONE)
        for old in values_of(context, uid):
            if old.method not in values:
                corrections.delete(context, "measurement", old.uid)
        for method, value in values.items():
            try:
                measured.keep(
                    context, method, value, row.hand, row.instrument, f"{uid[:20]}.{method}"[:64], row.what, uid
                )
            except MethodError as error:
                raise FieldError("value", f"{error}. Nothing of it was kept.") from error


def keep_whole(context: Context, about: About, data: ProbeData, values: Mapping[str, float]) -> str:
    """Keep a probe that is answered at once, with its values, as one deed; returns its id."""
    with corrections.as_one(context):
        uid = begin(context, about, data)
        finish(context, uid, data, values)
    return uid


def probe(context: Context, uid: str, made_of: type[D]) -> Probe[D]:
    """Return a probe of hers that is made of such data; `NotThere` when there is none."""
    row = context.row(ProbeRow, uid)
    if row.kind != made_of.kind:
        raise NotThere(uid)
    return _probe_of(row, made_of)


def _probe_of(row: ProbeRow, made_of: type[D]) -> Probe[D]:
    try:
        data = made_of.model_validate(dict(row.data))
    except ValidationError as error:
        raise NotThere(row.uid) from error
    about = About(row.instrument, row.hand, row.what, row.kit)
    return Probe(row.uid, row.day, row.at_utc, about, row.state, data, row.blob, row.media)


#: how many of a kind are looked at where years of them would say no more
LATEST = 24


def of_kind(context: Context, made_of: type[D], first: date | None = None, most: int = LATEST) -> list[Probe[D]]:
    """Return her finished probes made of such data, from `first` on, oldest first; without it the latest `most`."""
    wanted: list[Any] = [ProbeRow.kind == made_of.kind, ProbeRow.state == DONE]
    if first is not None:
        wanted.append(ProbeRow.day >= first)
    return _newest(context, made_of, wanted, None if first is not None else most)


def _newest(context: Context, made_of: type[D], wanted: list[Any], most: int | None) -> list[Probe[D]]:
    rows = context.store.repository(ProbeRow).all(*wanted, order=(ProbeRow.at_utc.desc(),), most=most)
    return [_probe_of(row, made_of) for row in reversed(rows)]


def every(context: Context, made_of: type[D], day: date) -> list[Probe[D]]:
    """Return the probes made of such data that were begun on a day, done or not, oldest first."""
    rows = context.store.repository(ProbeRow).all(
        ProbeRow.kind == made_of.kind, ProbeRow.day == day, order=(ProbeRow.at_utc,)
    )
    return [_probe_of(row, made_of) for row in rows]


def alike(context: Context, wanted: Probe[D], most: int = LATEST) -> list[Probe[D]]:
    """Return the finished probes that compare with `wanted` (same kind, instrument, hand, what and kit), oldest first.

    A value with another reed, stick or kit is joined to none with this one. The latest `most` of them.
    """
    return _newest(context, type(wanted.data), _same(wanted), most)


def first_alike(context: Context, wanted: Probe[D]) -> Probe[D]:
    """Return the oldest of the finished probes that compare with `wanted`, a finished one itself."""
    (row,) = context.store.repository(ProbeRow).all(*_same(wanted), order=(ProbeRow.at_utc,), most=1)
    return _probe_of(row, type(wanted.data))


def ids_alike(context: Context, wanted: Probe[Any]) -> list[str]:
    """Return the ids of the finished probes that compare with `wanted` and were begun no later, `wanted` among them."""
    until = [*_same(wanted), ProbeRow.at_utc <= wanted.at_utc]
    rows = context.store.repository(ProbeRow).some(("uid",), *until, order=(ProbeRow.at_utc.desc(),), most=LATEST)
    return [wanted.uid, *(row.uid for row in rows if row.uid != wanted.uid)]


def _same(wanted: Probe[Any]) -> list[Any]:
    about = wanted.about
    return [
        ProbeRow.kind == wanted.data.kind,
        ProbeRow.state == DONE,
        ProbeRow.instrument == about.instrument,
        ProbeRow.hand == about.hand,
        ProbeRow.what == about.what,
        ProbeRow.kit == about.kit,
    ]


def values_of(context: Context, uid: str) -> list[MeasurementRow]:
    """Return what was measured by a probe."""
    return context.store.repository(MeasurementRow).all(MeasurementRow.probe == uid)


def delete(context: Context, uid: str) -> None:
    """Delete a probe with its values, as one deed; its file goes once it cannot be undone any more."""
    context.row(ProbeRow, uid)
    with corrections.as_one(context):
        corrections.delete(context, "probe", uid)
        for value in values_of(context, uid):
            corrections.delete(context, "measurement", value.uid)


def file_of(context: Context, folder: Path, uid: str) -> tuple[Path, str]:
    """Return the file of a probe and its kind; `NotThere` without one."""
    row = context.row(ProbeRow, uid)
    path = blobs.path_of(folder, row.blob) if row.blob else None
    if path is None:
        raise NotThere(uid)
    return path, row.media
