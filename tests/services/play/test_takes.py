"""Takes: recorded, heard, kept or thrown away, with their sound; in deletes and backups."""

from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest

from chirotend.formats import kept_rows
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.kept_rows import TakeEntry
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.play import takes
from chirotend.services.server import database
from chirotend.store.models import TakeRow
from chirotend.store.repository import as_document

WEBM = b"\x1aE\xdf\xa3" + b"sound" * 100


def _record(
    context: Context, folder: Path, data: bytes, media: str, seconds: float | None, title: str, instrument: str
) -> TakeRow:
    return takes.record(context, takes.put(context, folder, data, media, seconds), title, instrument)


def test_a_take_is_kept_for_a_day_or_in_the_archive_and_its_sound_goes_with_it(context: Context, tmp_path: Path):
    blobs = tmp_path / "blobs"
    first = _record(context, blobs, WEBM, "audio/webm;codecs=opus", 61.5, "Low F", "bassoon")
    again = _record(context, blobs, WEBM, "audio/webm", 61.5, "Low F again", "bassoon")
    assert first.blob != again.blob and len(list(blobs.iterdir())) == 2
    takes.keep(context, first.uid)
    later = replace(context, now=context.now + timedelta(days=2))
    assert [t.uid for t in takes.takes_page(later).takes] == [first.uid]
    takes.forget_unkept(later)
    takes.drop_files(later, blobs, [first.blob, again.blob])
    assert len(list(blobs.iterdir())) == 1, "it is still named"
    takes.drop_files(later, blobs, [takes.discard(later, first.uid)])
    assert list(blobs.iterdir()) == []
    with pytest.raises(NotThere):
        takes.take_of(later, first.uid)


def test_another_take_is_due_after_four_months(context: Context, tmp_path: Path):
    assert not takes.takes_page(context).due
    takes.keep(context, _record(context, tmp_path, WEBM, "audio/webm", 600, "", "").uid)
    assert not takes.takes_page(context).due
    assert takes.takes_page(replace(context, now=context.now + timedelta(days=121))).due


@pytest.mark.parametrize(
    ("data", "media", "seconds"),
    [
        (b"", "audio/webm", 5),
        (WEBM, "video/mp4", 5),
        (b"GIF89a" * 20, "audio/webm", 5),
        (WEBM, "audio/webm", None),
        (WEBM, "audio/webm", 4000),
    ],
)
def test_what_is_no_take_is_refused_and_nothing_is_kept(context: Context, tmp_path: Path, data, media, seconds):
    with pytest.raises(FieldError):
        _record(context, tmp_path / "blobs", data, media, seconds, "", "")
    assert takes.takes_page(context).takes == () and not (tmp_path / "blobs").exists()


def test_recordings_are_in_the_backup(tmp_path: Path, clock):
    opened = database.open_database(tmp_path, clock())
    opened.blobs.mkdir()
    (opened.blobs / "abc").write_bytes(WEBM)
    saved = database.backup(opened, clock())
    assert saved is not None and (saved.with_suffix(".blobs") / "abc").read_bytes() == WEBM
    opened.engine.dispose()


def test_the_takes_of_one_player_have_a_limit_said_in_words(context: Context, tmp_path: Path, monkeypatch):
    monkeypatch.setattr(takes, "PLAYER_BYTES_MAX", len(WEBM) + 10)
    _record(context, tmp_path, WEBM, "audio/webm", 5, "", "")
    with pytest.raises(FieldError, match="Throw some away first"):
        _record(context, tmp_path, WEBM, "audio/webm", 5, "", "")


@pytest.mark.parametrize("blob", ["../secret.key", "/etc/passwd", "x", ""])
def test_no_file_but_a_sound_is_ever_served(context: Context, tmp_path: Path, blob: str):
    row = _record(context, tmp_path / "blobs", WEBM, "audio/webm", 5, "", "")
    (tmp_path / "secret.key").write_bytes(b"key")
    assert takes.sound_of(context, tmp_path / "blobs", row.uid)[1] == "audio/webm"
    row.blob = blob
    with pytest.raises(NotThere):
        takes.sound_of(context, tmp_path / "blobs", row.uid)


@pytest.mark.parametrize(("field", "value"), [("blob", "../secret.key"), ("blob", "A" * 64), ("media", "text/html")])
def test_a_brought_take_names_a_sound_and_nothing_else(context: Context, tmp_path: Path, field: str, value: str):
    document = as_document(_record(context, tmp_path / "blobs", WEBM, "audio/webm", 5, "", ""))
    kept_rows.check(document, TakeEntry)
    with pytest.raises(UnreadableFile, match=field):
        kept_rows.check({**document, field: value}, TakeEntry)
