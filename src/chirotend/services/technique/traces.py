"""Traces of sensors: brought, told what each channel is, worked out in % of her strongest effort, looked at closely."""

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
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
    filled,
    hums,
    is_envelope,
    overview,
    rests,
    share_of_maximum,
)
from chirotend.core.measure.zero import TARE_S, is_clipped, is_upside_down, played, tare, zero_line
from chirotend.drawing.measured import Picture
from chirotend.drawing.trace import let_gos, trace_picture
from chirotend.formats import trace
from chirotend.formats.probe_data import Channel, Summary, Trace
from chirotend.services.context import Context, FieldError
from chirotend.services.play import takes
from chirotend.services.technique import probes
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.probes import BYTES_MAX, Brought, File, Probe
from chirotend.services.units import decimal, maybe
from chirotend.services.words import sentence

STATIC, MIDDLE, PEAK, LONGEST = "muscle.static.", "muscle.middle.", "muscle.peak.", "trace.longest."
NPY = "application/x-npy"
OVERVIEW = 600
KILOGRAMS = {"kg": 9.80665, "kgf": 9.80665, "g": 9.80665e-3, "gf": 9.80665e-3}
#: units by kind, and what one of each is in the kind's own unit; EMG has none: its gain is seldom known
UNITS: dict[str, dict[str, float]] = {
    "emg": {"µV": 1e-3, "uV": 1e-3, "mV": 1.0, "V": 1e3, "counts": 1.0},
    "force": {"N": 1.0, "mN": 1e-3, "kN": 1e3, **KILOGRAMS, "lbf": N_PER_LBF},
    "scale": {"N": 1.0, "mN": 1e-3, **KILOGRAMS, "lbf": N_PER_LBF},
    "acceleration": {"g": 9.80665, "m/s²": 1.0, "m/s2": 1.0},
}
#: more than a hand can do, by kind, in the kind's own unit: then the unit is asked
MOST = {"emg": 1e4, "force": 2_000.0, "scale": 2_000.0, "acceleration": 1_000.0}
NAMES = {"emg": "muscle (EMG)", "force": "force pad", "scale": "scale", "acceleration": "accelerometer"}
#: kinds whose zero is what they read with the hands off, and the fields in which its seconds are typed
ZEROED, HANDS_OFF = ("force", "scale"), ("hands_off", "hands_off_again")
#: a zero that moves by more than this share of the press is told; sides closer than this are alike; more is no number
DRIFT_SHARE, ALIKE, TIMES_MOST = 0.05, 1.1, 5.0
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
    summary: Summary
    zones: tuple[str, ...]
    of: str


@dataclass(frozen=True)
class TracePage:
    """A trace: what its channels showed (those of which something can be told), a picture of a part of it, one sentence
    and one thing to try."""

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
    # a unit that is not known is kept as the file says it, and asked for: N in its place would be another force
    return Channel(name=name[:80], kind=kind, unit=unit[:80] or next(iter(UNITS[kind])), side=side)


def worked_out(context: Context, folder: Path, uid: str, typed: Mapping[str, str]) -> Trace:
    """Work a trace out by what she says of each channel; nothing is kept. `FieldError` at the field that cannot be."""
    found = probes.probe(context, uid, Trace)
    samples = trace.kept(probes.file_of(context, folder, uid)[0])
    rate = found.data.rate_hz or maybe("rate_hz", "Samples a second", typed.get("rate_hz", ""), 5, 50_000)
    if not rate:
        raise FieldError("rate_hz", "Say how many samples a second the trace has: it holds no column of time.")
    channels = [_channel_as_typed(n, c, typed) for n, c in enumerate(found.data.channels)]
    hands_off = _hands_off(typed, found.data.hands_off_s, found.data.seconds or samples.shape[1] / rate)
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
            summaries.append(summary_of(values, rate, channel, hands_off))
        except MethodError as error:
            field = "hands_off" if error.field == "hands_off" else f"kind-{n}"
            raise FieldError(field, f"{channel.name}: {str(error).partition(': ')[2]}.") from error
    data: Trace = found.data
    return data.model_copy(
        update={
            "channels": channels,
            "rate_hz": rate,
            "seconds": samples.shape[1] / rate,
            "summaries": summaries,
            "hands_off_s": hands_off,
        }
    )


def describe(context: Context, uid: str, data: Trace) -> None:
    """Keep what she said of each channel, and what was worked out by it."""
    probes.finish(context, uid, data, _values(data, probes.probe(context, uid, Trace).about.hand))


def _hands_off(typed: Mapping[str, str], kept: list[float], seconds: float) -> list[float]:
    """The seconds from which the hands were off, as typed, else as kept; at most two, in order."""
    found = []
    for n, name in enumerate(HANDS_OFF):
        text = typed.get(name, f"{kept[n]:g}" if n < len(kept) else "")
        at = maybe(name, "The second from which the hands were off", text, 0, max(0.0, seconds - TARE_S), "s")
        if at is not None:
            found.append(at)
    return sorted(found)


def rests_shown(data: Trace) -> list[str]:
    """Return what each channel reads at rest or with the hands off, as its field shows it; "" = not said."""
    kept = (c.hands_off if c.kind in ZEROED else c.rest for c in data.channels)
    return ["" if value is None else f"{value:g}" for value in kept]


def hands_off_shown(data: Trace) -> list[str]:
    """Return the seconds from which the hands were off, as their two fields show them; "" = not said."""
    shown = [f"{second:g}" for second in data.hands_off_s]
    return [*shown, *[""] * (len(HANDS_OFF) - len(shown))]


def _channel_as_typed(n: int, channel: Channel, typed: Mapping[str, str]) -> Channel:
    kind, unit, side = (typed.get(f"{name}-{n}", getattr(channel, name)) for name in ("kind", "unit", "side"))
    if kind not in CHANNEL_KINDS:
        raise FieldError(f"kind-{n}", f"{channel.name}: say what it is: {', '.join(NAMES.values())}.")
    if unit not in UNITS[kind]:
        raise FieldError(f"unit-{n}", f"{channel.name}: a {NAMES[kind]} is told in {', '.join(UNITS[kind])}.")
    if side not in ("", "left", "right"):
        raise FieldError(f"side-{n}", f"{channel.name}: left, right, or neither.")
    effort = f"{channel.name}, your strongest effort"
    zeroed = kind in ZEROED
    least = -1e9 if zeroed else 0  # a pad may be upside down
    maximum = maybe(f"maximum-{n}", effort, typed.get(f"maximum-{n}", ""), least, 1e9, unit)
    rest = maybe(f"rest-{n}", f"{channel.name}, at rest", typed.get(f"rest-{n}", ""), least, 1e9, unit)
    if maximum is not None and (maximum == rest if zeroed else maximum <= (rest or 0.0)):
        raise FieldError(f"maximum-{n}", f"{channel.name}: your strongest effort is more than what it shows at rest.")
    said = {"hands_off": rest} if zeroed else {"rest": rest or 0.0}
    return Channel(name=channel.name, kind=kind, unit=unit, side=side, maximum=maximum, **said)


def summary_of(values: np.ndarray, rate: float, channel: Channel, hands_off_s: Sequence[float] = ()) -> Summary | None:
    """Return what a channel showed (samples in its kind's own unit); None where a press cannot be told from rest.

    `hands_off_s`: seconds from which the hands were off. `MethodError` where nothing can be told.
    """
    zeros = _zeros(values, rate, channel, hands_off_s)
    if channel.kind in ZEROED and not zeros:
        return None
    upside_down = bool(zeros) and is_upside_down(values - zero_line(zeros, len(values), rate))
    strength, strongest = _strength(values, rate, channel, zeros, upside_down), _strongest(channel, zeros)
    if strongest is not None:
        rest = 0.0 if zeros else channel.rest * UNITS[channel.kind][channel.unit]
        pct = share_of_maximum(strength, strongest, rest)
        below = REST_PCT if channel.kind == "emg" else 2.0
    else:
        loud = float(np.nanpercentile(strength, 95))
        pct = 100 * strength / loud if loud > 0 else strength * 0
        below = OWN_REST_PCT
    first, last = played(rests(pct, rate, below).gaps, hands_off_s, len(pct) / rate)
    playing = pct[round(first * rate) : round(last * rate)]
    spread = apdf(playing[np.isfinite(playing)])
    gaps = rests(playing, rate, below)
    try:
        found = len(bursts(playing, rate))
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
        noticed=_noticed(values, rate, channel, zeros, float(np.nanpercentile(strength, 95)), upside_down),
        zeros=zeros,
    )


def _strength(
    values: np.ndarray,
    rate: float,
    channel: Channel,
    zeros: Sequence[tuple[float, float]],
    upside_down: bool,
    first: int = 0,
) -> np.ndarray:
    """How strong a channel is from sample `first` on, above its zeros, the right way up."""
    zero = zero_line(zeros, len(values), rate, first) if zeros else 0.0
    way = -1.0 if upside_down else 1.0
    return envelope(way * values, rate, channel.kind, way * zero)


def _strongest(channel: Channel, zeros: Sequence[tuple[float, float]]) -> float | None:
    """Her strongest effort in the kind's own unit, above the zero of a pad or scale; None = not given."""
    if channel.maximum is None:
        return None
    strongest = channel.maximum * UNITS[channel.kind][channel.unit]
    return abs(strongest - zeros[0][1]) if zeros else strongest


def _zeros(
    values: np.ndarray, rate: float, channel: Channel, hands_off_s: Sequence[float]
) -> list[tuple[float, float]]:
    """The zeros of a force pad or scale (second, value): as typed, else as read while the hands were off."""
    if channel.kind not in ZEROED:
        return []
    if channel.hands_off is not None:
        return [(0.0, channel.hands_off * UNITS[channel.kind][channel.unit])]
    return [(second, tare(values, rate, second)) for second in hands_off_s]


def _noticed(
    values: np.ndarray,
    rate: float,
    channel: Channel,
    zeros: Sequence[tuple[float, float]],
    loud: float,
    upside_down: bool,
) -> list[str]:
    """What was noticed of a channel, as codes."""
    noticed = ["upside_down"] if upside_down else []
    if is_clipped(-values if upside_down else values, rate):
        noticed.append("clipped")
    if len(zeros) > 1 and abs(zeros[-1][1] - zeros[0][1]) > DRIFT_SHARE * loud:
        noticed.append("drift")
    if channel.kind == "emg":
        whole = filled(values)
        already = is_envelope(whole, rate)
        noticed += ["envelope"] if already else [f"hum_{hum:g}" for hum in hums(whole, rate)]
    return noticed


def _values(data: Trace, hand: str) -> dict[str, float]:
    """What is kept of a trace: a muscle's amplitudes only against her strongest effort; by the channel's side."""
    values: dict[str, float] = {}
    for channel, found in zip(data.channels, data.summaries, strict=True):
        if found is None or (channel.side not in ("", hand) and hand):
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
    rows = tuple(_row(c, s) for c, s in _summed(data))
    heard = takes.named(context)
    sound = data.take if data.take in dict(heard) else ""
    start = max(0.0, min(data.seconds, from_s or 0.0))
    end = max(start + min(1.0, data.seconds), min(data.seconds, to_s or data.seconds))
    picture = None
    if found.done:
        lines = [(c.name, s.low, s.high) for c, s in _summed(data)]
        if len(lines) < len(data.channels) or from_s is not None or to_s is not None:
            lines = _closer(context, folder, found, start, end)
        picture = trace_picture(lines, start, end, data.marks, bool(sound))
    return TracePage(found, rows, picture, start, end, *_sentence(data), _uneven(data), _notes(data), sound, heard)


def _summed(data: Trace) -> list[tuple[Channel, Summary]]:
    """The channels of which something can be told."""
    return [(c, s) for c, s in zip(data.channels, data.summaries, strict=False) if s is not None]


def _row(channel: Channel, found: Summary) -> TraceRow:
    if channel.maximum is None:
        return TraceRow(channel, found, (), "% of its own loud part: compares with no other recording")
    if channel.kind != "emg":
        return TraceRow(channel, found, (), "% of your strongest")
    zones = Amplitudes(found.p10, found.p50, found.p90).zones
    return TraceRow(channel, found, tuple(ZONES[z] for z in zones), "% of your strongest effort")


def _closer(
    context: Context, folder: Path, found: Probe[Trace], start: float, end: float
) -> list[tuple[str, list[float], list[float]]]:
    """The envelope of a part, worked out again with a second before and after it; as it reads where a press cannot be
    told from rest, so that she sees when her hands were off."""
    data = found.data
    samples = trace.kept(probes.file_of(context, folder, found.uid)[0])
    a, b = max(0, int((start - 1) * data.rate_hz)), min(samples.shape[1], int((end + 1) * data.rate_hz))
    lines = []
    for n, (channel, summed) in enumerate(zip(data.channels, data.summaries, strict=True)):
        if summed is None:
            lines.append((channel.name, *_as_it_reads(samples[n], int(start * data.rate_hz), int(end * data.rate_hz))))
            continue
        values = np.asarray(samples[n, a:b], dtype=float) * UNITS[channel.kind][channel.unit]
        try:
            strength = _strength(values, data.rate_hz, channel, summed.zeros, "upside_down" in summed.noticed, a)
        except MethodError:
            strength = np.abs(np.nan_to_num(values))
        scale = _strongest(channel, summed.zeros) or float(np.nanpercentile(strength, 95)) or 1.0
        inside = strength[int(start * data.rate_hz) - a : int(end * data.rate_hz) - a]
        low, high = overview(np.nan_to_num(100 * inside / scale), OVERVIEW)
        lines.append((channel.name, list(low), list(high)))
    return lines


def _as_it_reads(samples: np.ndarray, first: int, last: int) -> tuple[list[float], list[float]]:
    """Readings from `first` to `last` as shares (%) of the way from the lowest to the highest of all."""
    least, most = float(np.nanmin(samples)), float(np.nanmax(samples))
    shares = 100 * (np.asarray(samples[first:last], dtype=float) - least) / (most - least or 1.0)
    low, high = overview(np.nan_to_num(shares), OVERVIEW)
    return list(low), list(high)


def _sentence(data: Trace) -> tuple[str, str]:
    if not data.summaries:
        return sentence("technique", "say_channels"), ""
    pairs = _summed(data)
    if not pairs:
        return sentence("technique", "no_zero"), sentence("technique", "no_zero_do")
    channel, found = max(pairs, key=lambda each: each[1].longest_s)
    seconds = f"{found.longest_s:.0f}"
    if not found.gaps_a_minute:
        let_go = sentence("technique", "never_lets_go", channel=channel.name, seconds=seconds)
    else:
        times = f"{found.gaps_a_minute:.1f}"
        let_go = sentence("technique", "lets_go", channel=channel.name, times=times, seconds=seconds)
    return let_go, sentence("technique", "lets_go_do")


def _uneven(data: Trace) -> str:
    sides = {c.side: s.p50 for c, s in _summed(data) if c.side}
    if len(sides) < 2 or any(c.maximum is None for c in data.channels if c.side):
        return ""
    less, more = sorted(sides.values())
    if more <= 0 or more < ALIKE * less:
        return sentence("technique", "sides_alike") if more > 0 else ""
    if less <= 0 or more > TIMES_MOST * less:
        times = f"{TIMES_MOST:g}"
        told = sentence("technique", "right_far_more", times=times), sentence("technique", "left_far_more", times=times)
    else:
        times = f"{more / less:.1f}"
        told = sentence("technique", "right_more", times=times), sentence("technique", "left_more", times=times)
    return told[0] if sides["right"] == more else told[1]


def _notes(data: Trace) -> tuple[str, ...]:
    notes = [words for channel, found in _summed(data) for words in _noticed_words(channel.name, found.noticed)]
    untold = [c.name for c, s in zip(data.channels, data.summaries, strict=False) if s is None]
    if untold:
        notes.append(sentence("technique", "drawn_as_it_reads", channels=" and ".join(untold)))
    if any(c.kind == "emg" and c.maximum is None for c in data.channels) and data.summaries:
        notes.append(sentence("technique", "no_strongest"))
    return tuple(notes)


def _noticed_words(name: str, noticed: Sequence[str]) -> Iterator[str]:
    """What was noticed of a channel, in sentences."""
    for code in noticed:
        match code:
            case "upside_down":
                yield sentence("technique", "upside_down", channel=name)
            case "clipped":
                yield sentence("technique", "clipped", channel=name)
            case "drift":
                yield sentence("technique", "drift", channel=name)
            case "envelope":
                yield sentence("technique", "is_envelope", channel=name)
            case _:
                yield sentence("technique", "hum", channel=name, hum=code.removeprefix("hum_"))


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
    done = [p for p in probes.of_kind(context, Trace, most=3) if _summed(p.data)]
    if not done:
        return never_done(
            Trace.kind,
            "Traces",
            sentence("technique", "what_traces_tell"),
            "Bring a trace",
            "technique.trace",
        )
    last = done[-1]
    summaries = [(p.day, [s for _, s in _summed(p.data)]) for p in done]
    longest = [(day, max(s.longest_s for s in found), found[0].gaps_a_minute) for day, found in summaries]
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
