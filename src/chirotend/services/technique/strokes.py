"""Strokes: how hard each one is, by stick and by way to strike; which stick spares the hand at equal loudness."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO
from uuid import uuid4

from chirotend.core.errors import MethodError
from chirotend.core.fit.sticks import N_PER_LBF
from chirotend.core.measure.strokes import StrokeSet, at_equal_loudness, stroke_set, strokes
from chirotend.drawing.measured import Picture
from chirotend.drawing.strokes import small_strokes, strokes_picture
from chirotend.formats import sandbox, sound, trace
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import Strokes
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes
from chirotend.services.technique.hearing import struck_sandboxed
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.probes import BYTES_MAX, About, Probe
from chirotend.services.units import decimals
from chirotend.services.words import sentence

MIDDLE = "stroke.middle"
PEAK_MAX_N = 2_000.0
LEVELS_DB = (-200.0, 60.0)
UNITS = {"N": 1.0, "lbf": N_PER_LBF, "kg": 9.80665}
WAYS = ("free", "choked")


@dataclass(frozen=True)
class StrokeRow:
    """One set of strokes as the page shows it."""

    probe: Probe[Strokes]
    set: StrokeSet
    name: str


@dataclass(frozen=True)
class StrokesPage:
    """The sets of one hand on one instrument, newest first; at equal loudness by name; a sentence, a thing to try."""

    rows: tuple[StrokeRow, ...]
    equal: tuple[tuple[str, float], ...]
    picture: Picture | None
    sentence: str
    next: str


def read_strokes(
    context: Context,
    folder: Path,
    typed: Mapping[str, str],
    stream: IO[bytes] | None,
    file_name: str,
    heard: IO[bytes] | None = None,
) -> tuple[About, Strokes]:
    """Return a set of strokes: typed peaks, or found in a force trace (`stream`); how loud each was, typed or `heard`.

    `FieldError` at the field that cannot be; neither file is kept, and nothing is changed.
    """
    stick = typed.get("stick", "").strip()
    if not stick or len(stick) > 80:
        raise FieldError("stick", "Name the stick, key or mallet, in up to 80 characters.")
    way = typed.get("way", "")
    if way not in ("", *WAYS):
        raise FieldError("way", "Say whether the rebound was free or choked, or leave it open.")
    about = replace(probes.about_of(context, typed), what=stick)
    peaks = _from_file(context, folder, stream) if stream is not None else _typed(typed)
    levels = _heard(context, folder, heard, len(peaks)) if heard is not None else _levels(typed, len(peaks))
    data = Strokes(stick=stick, way=way, peaks_N=peaks, levels=levels, source=file_name[:80])
    try:
        stroke_set(peaks)
    except MethodError as error:
        raise FieldError("peaks", f"{str(error).partition(': ')[2]}.") from error
    return about, data


def keep(context: Context, about: About, data: Strokes) -> str:
    """Keep a set of strokes; returns its id. `FieldError` when today spares its hand."""
    return probes.keep_whole(context, about, data, {MIDDLE: stroke_set(data.peaks_N).middle_N})


def _typed(typed: Mapping[str, str]) -> list[float]:
    unit = typed.get("unit", "N")
    if unit not in UNITS:
        raise FieldError("unit", f"A force here is in {', '.join(UNITS)}.")
    peaks = [v * UNITS[unit] for v in decimals("peaks", typed.get("peaks", ""), 0, 1e6, "20 31.5 28")]
    if len(peaks) < 3:
        raise FieldError(
            "peaks", "Type the peak of at least 3 strokes, with spaces between, or bring a trace of a force pad."
        )
    if max(peaks) > PEAK_MAX_N:
        raise FieldError("peaks", f"A stroke of {max(peaks):.0f} N is more than a hand does. Is it in another unit?")
    return peaks


def _levels(typed: Mapping[str, str], count: int) -> list[float]:
    levels = decimals("levels", typed.get("levels", ""), *LEVELS_DB, "-20 -18 -19")
    if levels and len(levels) != count:
        raise FieldError("levels", f"{len(levels)} loudnesses for {count} strokes: one for each, or none.")
    return levels


def _heard(context: Context, folder: Path, stream: IO[bytes], count: int) -> list[float]:
    """How loud each stroke is in a recording of the same strokes, dB of full scale."""
    name, _, head = probes.store(context, folder, "sound", stream, BYTES_MAX)
    try:
        levels = struck_sandboxed(folder / name, sound.kind_of(head))
    except UnreadableFile as error:
        raise FieldError("sound", str(error)) from error
    finally:
        probes.drop_file(context, folder, name)
    if len(levels) != count:
        raise FieldError(
            "sound",
            f"{len(levels)} strokes are heard and {count} peaks are there: record just those, with a breath between.",
        )
    return levels


def _from_file(context: Context, folder: Path, stream: IO[bytes]) -> list[float]:
    """The peaks in the first channel of a force trace; its unit by its name, newtons without one. It is not kept."""
    name, _, _ = probes.store(context, folder, "trace", stream, BYTES_MAX)
    part = folder / f"{uuid4().hex}.part"
    try:
        found = trace.read_sandboxed(folder / name, part, sandbox.CPU_S)
        if found.rate_hz is None:
            raise FieldError("trace", "Strokes need a column of time in the table: time (s), force (N).")
        unit = found.units[0] or "N"
        if unit not in UNITS:
            raise FieldError("trace", f"A force here is in {', '.join(UNITS)}, not in {unit}.")
        peaks = [s.peak_N for s in strokes(trace.kept(part)[0].astype(float) * UNITS[unit], found.rate_hz)]
    except (UnreadableFile, MethodError) as error:
        words = str(error) if isinstance(error, UnreadableFile) else f"{str(error).partition(': ')[2]}."
        raise FieldError("trace", words) from error
    finally:
        part.unlink(missing_ok=True)
        probes.drop_file(context, folder, name)
    if max(peaks) > PEAK_MAX_N:
        raise FieldError("trace", f"A stroke of {max(peaks):.0f} N is more than a hand does. Is it in another unit?")
    return peaks


def strokes_page(context: Context) -> StrokesPage:
    """Return her sets of strokes with what they say together."""
    done = list(reversed(probes.of_kind(context, Strokes)))[:24]
    rows = tuple(StrokeRow(p, stroke_set(p.data.peaks_N), _name(p)) for p in done)
    newest: dict[str, StrokeRow] = {}
    for row in rows:
        if row.probe.about.hand == rows[0].probe.about.hand:
            newest.setdefault(row.name, row)
    shown = list(newest.values())[:6]
    equal = _equal(shown)
    sentence, following = _strokes_in_words(shown, equal)
    return StrokesPage(
        rows,
        equal,
        strokes_picture([(r.name, r.set.middle_N, r.set.top_N) for r in shown]) if shown else None,
        sentence,
        following,
    )


def _name(found: Probe[Strokes]) -> str:
    return f"{found.data.stick}, {found.data.way}" if found.data.way else found.data.stick


def _equal(shown: list[StrokeRow]) -> tuple[tuple[str, float], ...]:
    """The force of each at one loudness, where at least two sets were heard; least first."""
    heard = {
        r.name: list(zip(r.probe.data.peaks_N, r.probe.data.levels, strict=True)) for r in shown if r.probe.data.levels
    }
    try:
        found = at_equal_loudness(heard)
    except MethodError:
        return ()
    return tuple(sorted(found.items(), key=lambda each: each[1]))


def _strokes_in_words(shown: list[StrokeRow], equal: tuple[tuple[str, float], ...]) -> tuple[str, str]:
    if not shown:
        return (
            sentence("technique", "no_strokes"),
            sentence("technique", "no_strokes_do"),
        )
    if equal:
        (name, least), (other, most) = equal[0], equal[-1]
        return (
            sentence("technique", "equal_loudness", name=name, least=f"{least:.1f}", other=other, most=f"{most:.1f}"),
            sentence("technique", "equal_loudness_do", name=name),
        )
    ways = {r.probe.data.way: r for r in shown if r.probe.data.stick == shown[0].probe.data.stick}
    if "free" in ways and "choked" in ways:
        free, choked = ways["free"].set.middle_N, ways["choked"].set.middle_N
        return (
            sentence(
                "technique", "choked", stick=shown[0].probe.data.stick, choked=f"{choked:.1f}", free=f"{free:.1f}"
            ),
            sentence("technique", "choked_do"),
        )
    name, first = shown[0].name, shown[0].set
    middle, dose = f"{first.middle_N:.1f}", f"{first.dose_N:.0f}"
    return (
        sentence("technique", "one_stroke_row", name=name, middle=middle, dose=dose, count=first.count),
        sentence("technique", "one_stroke_row_do"),
    )


def line(context: Context) -> ProbeLine:
    """Return the line of strokes of the bench."""
    shown = strokes_page(context)
    if not shown.rows:
        return never_done(
            Strokes.kind,
            "Strokes",
            sentence("technique", "what_strokes_tell"),
            "Measure",
            "technique.strokes",
        )
    last = shown.rows[0]
    return ProbeLine(
        Strokes.kind,
        "Strokes",
        last.probe.day,
        f"{last.set.middle_N:.1f} N",
        last.name,
        small_strokes([(r.name, r.set.middle_N) for r in shown.rows[:4]]),
        shown.sentence,
        "Measure",
        "technique.strokes",
    )
