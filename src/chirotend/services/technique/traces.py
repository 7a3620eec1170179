"""Traces of sensors: brought, told what each channel is, worked out in % of her strongest effort, looked at closely."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO
from uuid import uuid4

import numpy as np

from chirotend.core.errors import MethodError
from chirotend.core.fit.sticks import N_PER_LBF
from chirotend.core.load.industrial.amplitude import Amplitudes, apdf
from chirotend.core.measure.traces import (
    CHANNEL_KINDS,
    REST_PCT,
    bursts,
    envelope,
    overview,
    rests,
    share_of_maximum,
    uneven_pct,
)
from chirotend.drawing.measured import Picture
from chirotend.drawing.trace import let_gos, trace_picture
from chirotend.formats import trace
from chirotend.formats.probe_data import Channel, Summary, Trace
from chirotend.services.context import Context, FieldError
from chirotend.services.play import takes
from chirotend.services.technique import probes
from chirotend.services.technique.lines import ProbeLine
from chirotend.services.technique.probes import BYTES_MAX, Brought, File, Probe
from chirotend.services.units import decimal, maybe
from chirotend.services.words import sentence

STATIC, MIDDLE, PEAK, LONGEST = "muscle.static.", "muscle.middle.", "muscle.peak.", "trace.longest."
NPY = "application/x-npy"
OVERVIEW = 600
#: units by kind, and what one of each is in the kind's own unit; EMG has none: its gain is seldom known
UNITS: dict[str, dict[str, float]] = {
    "emg": {"µV": 1e-3, "uV": 1e-3, "mV": 1.0, "V": 1e3, "counts": 1.0},
    "force": {"N": 1.0, "kN": 1e3, "kg": 9.80665, "g": 9.80665e-3, "lbf": N_PER_LBF},
    "scale": {"N": 1.0, "kg": 9.80665, "g": 9.80665e-3, "lbf": N_PER_LBF},
    "acceleration": {"g": 9.80665, "m/s²": 1.0, "m/s2": 1.0},
}
#: more than a hand can do, by kind, in the kind's own unit: then the unit is asked
MOST = {"emg": 1e4, "force": 2_000.0, "scale": 2_000.0, "acceleration": 1_000.0}
NAMES = {"emg": "muscle (EMG)", "force": "force pad", "scale": "scale", "acceleration": "accelerometer"}
#: without her strongest effort a let-go is this share of the recording's own loud part, %
OWN_REST_PCT = 10.0
#: where an amplitude lies against its two lines, as the page says it
ZONES = {
    "ok": "under both lines",
    "above lower limit": "past the first line",
    "above upper limit": "past both lines",
}


@dataclass(frozen=True)
class TraceRow:
    """A channel as the page shows it: its summary, where it lies against the limits (none = it has none)."""

    channel: Channel
    summary: Summary | None
    zones: tuple[str, ...]
    of: str


@dataclass(frozen=True)
class TracePage:
    """A trace: its channels with what they showed, a picture of a part of it, one sentence and one thing to try."""

    probe: Probe[Trace]
    rows: tuple[TraceRow, ...]
    picture: Picture | None
    from_s: float
    to_s: float
    sentence: str
    next: str
    uneven: str
    notes: tuple[str, ...]
    #: a take that is heard beside it ("" = none), and the takes there are
    sound: str
    takes: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Samples:
    """The samples of a trace as they lie in the folder, and what its file said of them."""

    file: File
    written: trace.WrittenTrace


def bring(
    context: Context, folder: Path, typed: Mapping[str, str], stream: IO[bytes] | None, file_name: str
) -> Brought:
    """Put the file of a trace into the folder; returns the probe it will be."""
    about = probes.about_of(context, typed)
    if not about.what:
        about = replace(about, what=file_name[:80])
    if stream is None:
        raise FieldError("trace", "Bring a table (CSV) or an EDF file first.")
    name, size, _ = probes.store(context, folder, "trace", stream, BYTES_MAX)
    return Brought(about, Trace(source=file_name[:80]), File(name, size, "text/csv"))


def read_trace(
    context: Context, folder: Path, file: File, seconds: int, step: Callable[[float], None] | None = None
) -> Samples:
    """Read a file as a trace and put its samples into the folder; nothing is changed. `UnreadableFile` says what is
    wrong with it."""
    return samples_by(context, folder, lambda part: trace.read_sandboxed(folder / file.name, part, seconds, step))


def samples_by(context: Context, folder: Path, write: Callable[[Path], trace.WrittenTrace]) -> Samples:
    """Put the samples that `write` writes into the folder."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    part = folder / f"{uuid4().hex}.part"
    try:
        written = write(part)
        with part.open("rb") as stream:
            name, size, _ = probes.store(context, folder, "trace", stream, 16 * BYTES_MAX)
    finally:
        part.unlink(missing_ok=True)
    return Samples(File(name, size, NPY), written)


def keep_samples(context: Context, uid: str, samples: Samples) -> None:
    """Keep the samples of a trace in the place of the file it came in, and what its channels seem to be."""
    probes.change_file(context, uid, samples.file)
    found = samples.written
    seconds = found.count / found.rate_hz if found.rate_hz else 0.0
    channels = [_guessed(n, u) for n, u in zip(found.names, found.units, strict=True)]
    old = probes.probe(context, uid, Trace).data
    probes.change(
        context, uid, old.model_copy(update={"channels": channels, "rate_hz": found.rate_hz or 0.0, "seconds": seconds})
    )


def _guessed(name: str, unit: str) -> Channel:
    """What a channel seems to be, by its unit and name; she says what it is."""
    low = f"{name} {unit}".lower()
    kinds = [kind for kind, units in UNITS.items() if unit in units]
    kind = kinds[0] if kinds else "emg"
    if re.search(r"acc|m/s", low):
        kind = "acceleration"
    elif "scale" in low:
        kind = "scale"
    elif re.search(r"force|pad|press|\bn\b", low):
        kind = "force"
    side = "left" if "left" in low else "right" if "right" in low else ""
    known = unit if unit in UNITS[kind] else next(iter(UNITS[kind]))
    return Channel(name=name[:80], kind=kind, unit=known, side=side)


def worked_out(context: Context, folder: Path, uid: str, typed: Mapping[str, str]) -> Trace:
    """Work a trace out by what she says of each channel; nothing is kept. `FieldError` at the field that cannot be."""
    found = probes.probe(context, uid, Trace)
    samples = trace.kept(probes.file_of(context, folder, uid)[0])
    rate = found.data.rate_hz or maybe("rate_hz", "Samples a second", typed.get("rate_hz", ""), 5, 50_000)
    if not rate:
        raise FieldError("rate_hz", "Say how many samples a second the trace has: it holds no column of time.")
    channels = [_channel_as_typed(n, c, typed) for n, c in enumerate(found.data.channels)]
    summaries = []
    for n, channel in enumerate(channels):
        values = samples[n].astype(float) * UNITS[channel.kind][channel.unit]
        most = float(np.nanmax(np.abs(values))) if np.isfinite(values).any() else 0.0
        if most > MOST[channel.kind]:
            raise FieldError(
                f"unit-{n}",
                f"{channel.name}: the largest value would be {most:.3g}, more than a hand does. Is it in another unit?",
            )
        try:
            summaries.append(summary_of(values, rate, channel))
        except MethodError as error:
            raise FieldError(f"kind-{n}", f"{channel.name}: {str(error).partition(': ')[2]}.") from error
    data: Trace = found.data
    return data.model_copy(
        update={
            "channels": channels,
            "rate_hz": rate,
            "seconds": samples.shape[1] / rate,
            "summaries": summaries,
        }
    )


def describe(context: Context, uid: str, data: Trace) -> None:
    """Keep what she said of each channel, and what was worked out by it."""
    probes.finish(context, uid, data, _values(data, probes.probe(context, uid, Trace).about.hand))


def _channel_as_typed(n: int, channel: Channel, typed: Mapping[str, str]) -> Channel:
    kind, unit, side = (typed.get(f"{name}-{n}", getattr(channel, name)) for name in ("kind", "unit", "side"))
    if kind not in CHANNEL_KINDS:
        raise FieldError(f"kind-{n}", f"{channel.name}: say what it is: {', '.join(NAMES.values())}.")
    if unit not in UNITS[kind]:
        raise FieldError(f"unit-{n}", f"{channel.name}: a {NAMES[kind]} is told in {', '.join(UNITS[kind])}.")
    if side not in ("", "left", "right"):
        raise FieldError(f"side-{n}", f"{channel.name}: left, right, or neither.")
    effort = f"{channel.name}, your strongest effort"
    maximum = maybe(f"maximum-{n}", effort, typed.get(f"maximum-{n}", ""), 0, 1e9, unit)
    rest = maybe(f"rest-{n}", f"{channel.name}, at rest", typed.get(f"rest-{n}", ""), 0, 1e9, unit) or 0.0
    if maximum is not None and maximum <= rest:
        raise FieldError(f"maximum-{n}", f"{channel.name}: your strongest effort is more than what it shows at rest.")
    return Channel(name=channel.name, kind=kind, unit=unit, side=side, maximum=maximum, rest=rest)


def summary_of(values: np.ndarray, rate: float, channel: Channel) -> Summary:
    """Return what a channel showed (samples in its kind's own unit); `MethodError` where nothing can be told."""
    strength = envelope(values, rate, channel.kind)
    unit = UNITS[channel.kind][channel.unit]
    if channel.maximum is not None:
        pct = share_of_maximum(strength, channel.maximum * unit, channel.rest * unit)
        below = REST_PCT if channel.kind == "emg" else 2.0
    else:
        loud = float(np.nanpercentile(strength, 95))
        pct = 100 * strength / loud if loud > 0 else strength * 0
        below = OWN_REST_PCT
    known = pct[np.isfinite(pct)]
    spread = apdf(known)
    gaps = rests(pct, rate, below)
    try:
        found = len(bursts(pct, rate))
    except MethodError:
        found = 0  # nothing moves: there are none
    low, high = overview(np.nan_to_num(pct, nan=0.0), OVERVIEW)
    return Summary(
        p10=spread.p10,
        p50=spread.p50,
        p90=spread.p90,
        bursts=found,
        gaps_a_minute=gaps.a_minute,
        gaps_pct=gaps.share_pct,
        longest_s=gaps.longest_without_s,
        low=[round(float(v), 2) for v in low],
        high=[round(float(v), 2) for v in high],
    )


def _values(data: Trace, hand: str) -> dict[str, float]:
    """What is kept of a trace: a muscle's amplitudes only against her strongest effort; by the channel's side."""
    values: dict[str, float] = {}
    for channel, found in zip(data.channels, data.summaries, strict=True):
        if channel.side not in ("", hand) and hand:
            continue
        key = re.sub(r"[^a-z0-9]+", "_", channel.name.lower()).strip("_")[:20] or "channel"
        if channel.kind == "emg" and channel.maximum is not None:
            values[STATIC + key], values[MIDDLE + key] = min(200.0, found.p10), min(200.0, found.p50)
            values[PEAK + key] = min(300.0, found.p90)
        if channel.kind != "acceleration":
            values[LONGEST + key] = found.longest_s
    return values


def trace_page(
    context: Context, folder: Path, uid: str, from_s: float | None = None, to_s: float | None = None
) -> TracePage:
    """Return a trace; `from_s` and `to_s` = the part that is drawn (None = all of it)."""
    found = probes.probe(context, uid, Trace)
    data = found.data
    summaries: list[Summary | None] = [*data.summaries] or [None] * len(data.channels)
    rows = tuple(_row(c, s) for c, s in zip(data.channels, summaries, strict=True))
    heard = takes.named(context)
    sound = data.take if data.take in dict(heard) else ""
    start = max(0.0, min(data.seconds, from_s or 0.0))
    end = max(start + min(1.0, data.seconds), min(data.seconds, to_s or data.seconds))
    picture = None
    if found.done:
        whole = from_s is None and to_s is None
        lines = [(c.name, s.low, s.high) for c, s in zip(data.channels, data.summaries, strict=True)]
        if not whole:
            lines = _closer(context, folder, found, start, end)
        picture = trace_picture(lines, start, end, data.marks, bool(sound))
    return TracePage(found, rows, picture, start, end, *_sentence(data), _uneven(data), _notes(data), sound, heard)


def _row(channel: Channel, found: Summary | None) -> TraceRow:
    if found is None:
        return TraceRow(channel, None, (), "")
    if channel.maximum is None:
        return TraceRow(channel, found, (), "% of its own loud part: compares with no other recording")
    if channel.kind != "emg":
        return TraceRow(channel, found, (), "% of your strongest")
    zones = Amplitudes(found.p10, found.p50, found.p90).zones
    return TraceRow(channel, found, tuple(ZONES[z] for z in zones), "% of your strongest effort")


def _closer(
    context: Context, folder: Path, found: Probe[Trace], start: float, end: float
) -> list[tuple[str, list[float], list[float]]]:
    """The envelope of a part, worked out again with a second before and after it."""
    data = found.data
    samples = trace.kept(probes.file_of(context, folder, found.uid)[0])
    a, b = max(0, int((start - 1) * data.rate_hz)), min(samples.shape[1], int((end + 1) * data.rate_hz))
    lines = []
    for n, channel in enumerate(data.channels):
        unit = UNITS[channel.kind][channel.unit]
        values = np.asarray(samples[n, a:b], dtype=float) * unit
        try:
            strength = envelope(values, data.rate_hz, channel.kind)
        except MethodError:
            strength = np.abs(np.nan_to_num(values))
        scale = (channel.maximum or 0.0) * unit or float(np.nanpercentile(strength, 95)) or 1.0
        inside = strength[int(start * data.rate_hz) - a : int(end * data.rate_hz) - a]
        low, high = overview(np.nan_to_num(100 * inside / scale), OVERVIEW)
        lines.append((channel.name, list(low), list(high)))
    return lines


def _sentence(data: Trace) -> tuple[str, str]:
    if not data.summaries:
        return sentence("technique", "say_channels"), ""
    pairs = list(zip(data.channels, data.summaries, strict=True))
    channel, found = max(pairs, key=lambda each: each[1].longest_s)
    times, seconds = f"{found.gaps_a_minute:.0f}", f"{found.longest_s:.0f}"
    let_go = sentence("technique", "lets_go", channel=channel.name, times=times, seconds=seconds)
    return let_go, sentence("technique", "lets_go_do")


def _uneven(data: Trace) -> str:
    sides = {c.side: s for c, s in zip(data.channels, data.summaries, strict=False) if c.side}
    if len(sides) < 2 or any(c.maximum is None for c in data.channels if c.side):
        return ""
    try:
        share = uneven_pct([sides["left"].p50], [sides["right"].p50])
    except MethodError:
        return ""
    if abs(share) < 5:
        return sentence("technique", "sides_alike")
    more = f"{abs(share):.0f}"
    if share > 0:
        return sentence("technique", "right_more", share=more)
    return sentence("technique", "left_more", share=more)


def _notes(data: Trace) -> tuple[str, ...]:
    notes = []
    if any(c.kind == "emg" and c.maximum is None for c in data.channels) and data.summaries:
        notes.append(sentence("technique", "no_strongest"))
    return tuple(notes)


def mark(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Write a word beside a second of the trace."""
    found = probes.probe(context, uid, Trace)
    at = decimal("at_s", "A second of this trace", typed.get("at_s", ""), 0, max(1.0, found.data.seconds), "s")
    word = typed.get("word", "").strip()
    if not word or len(word) > 80:
        raise FieldError("at_s", "Type a second of the trace and a word for it, up to 80 characters.")
    data = found.data.model_copy(update={"marks": sorted([*found.data.marks, (at, word)])[:200]})
    probes.change(context, uid, data, found.state)


def hear_beside(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Lay a take beside the trace that was recorded with it; none chosen = none lies beside it any more."""
    found = probes.probe(context, uid, Trace)
    take = typed.get("take", "")
    if take and take not in dict(takes.named(context)):
        raise FieldError("take", "This take is not there any more. Choose another one.")
    begins = decimal("take_at_s", "The second at which it begins", typed.get("take_at_s", "0"), -86_400, 86_400, "s")
    probes.change(context, uid, found.data.model_copy(update={"take": take, "take_at_s": begins}), found.state)


def line(context: Context) -> ProbeLine:
    """Return the line of traces of the bench."""
    done = [p for p in probes.of_kind(context, Trace, most=3) if p.data.summaries]
    if not done:
        return ProbeLine(
            Trace.kind,
            "Traces",
            None,
            "",
            "",
            None,
            sentence("technique", "what_traces_tell"),
            "Bring a trace",
            "technique.trace",
        )
    last = done[-1]
    longest = [(p.day, max(s.longest_s for s in p.data.summaries), p.data.summaries[0].gaps_a_minute) for p in done]
    return ProbeLine(
        Trace.kind,
        "Traces",
        last.day,
        f"{longest[-1][1]:.0f} s",
        "longest without a let-go",
        let_gos(longest),
        _sentence(last.data)[0],
        "Bring a trace",
        "technique.trace",
    )
