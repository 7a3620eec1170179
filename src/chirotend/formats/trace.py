"""Traces of sensors: CSV (a column a channel, one of them may be the time) and EDF, read into equal steps.

A trace is kept as float32, channels by samples, in numpy's own file: a part of it is read without the rest.
"""

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from chirotend.formats import sandbox
from chirotend.formats.cells import UnreadableFile

CHANNELS_MAX, LEAST_SAMPLES, LONGEST_S = 16, 64, 12 * 3600.0
RATES_HZ = (5.0, 50_000.0)
TIME_NAMES = (
    *("time", "t", "seconds", "sec", "s", "ms", "millis", "milliseconds", "time_s", "time_ms", "us", "µs", "micros"),
    *("microseconds", "time_us", "timestamp", "timestamp_ms", "timestamp_us", "zeit", "zeitstempel", "temps", "tiempo"),
)
#: what a unit of time is called as a word of a column’s name, and its length in seconds
TIME_UNITS = (
    (("s", "sec", "second", "seconds"), 1.0),
    (("ms", "milli", "millis", "milliseconds"), 1e-3),
    (("us", "µs", "micro", "micros", "microseconds"), 1e-6),
)
#: steps that differ by more than this share are no equal steps
UNEVEN_SHARE = 0.02
#: lines of the column of time that are read at once
TIME_LINES = 1_000_000


@dataclass(frozen=True)
class TraceFile:
    """A trace as it was read: channel names, the unit each says it has ("" = none), samples (channels × samples)."""

    names: tuple[str, ...]
    units: tuple[str, ...]
    samples: np.ndarray
    #: None = the file does not say: there is no column of time
    rate_hz: float | None


@dataclass(frozen=True)
class WrittenTrace:
    """A trace whose samples were written as they are kept: its channels' names and units, how many samples each has,
    samples a second (None = not said)."""

    names: tuple[str, ...]
    units: tuple[str, ...]
    count: int
    rate_hz: float | None


def read_sandboxed(path: Path, to: Path, seconds: int, step: Callable[[float], None] | None = None) -> WrittenTrace:
    """Read a trace in a process of its own that takes at most `seconds` of CPU time, and write its samples to `to`."""
    request = {"path": str(path), "to": str(to)}
    found = sandbox.read_file(__name__, "This trace", request, seconds=seconds, step=step)
    return WrittenTrace(tuple(found["names"]), tuple(found["units"]), found["count"], found["rate_hz"])


def answered(request: dict[str, Any], _data: bytes, step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `read_sandboxed` asks for, as JSON holds it."""
    step(0.05)
    found = read_trace_file(Path(request["path"]))
    step(0.8)
    written = written_to(Path(request["to"]), found)
    return {"names": written.names, "units": written.units, "count": written.count, "rate_hz": written.rate_hz}


def written_to(path: Path, found: TraceFile) -> WrittenTrace:
    """Write the samples of a trace as they are kept."""
    write_samples(path, found.samples)
    return WrittenTrace(found.names, found.units, found.samples.shape[1], found.rate_hz)


def read_trace_file(path: Path) -> TraceFile:
    """Return the trace in a file; what it is is told from how it begins. `UnreadableFile` says what is wrong."""
    with path.open("rb") as file:
        head = file.read(256)
    if not head.strip():
        raise UnreadableFile("This file is empty.")
    found = _edf(path) if head[:8].strip() == b"0" and len(head) == 256 else _csv(path, head)
    if not 1 <= len(found.names) <= CHANNELS_MAX:
        raise UnreadableFile(f"{len(found.names)} channels: 1 to {CHANNELS_MAX} can be read.")
    if found.samples.shape[1] < LEAST_SAMPLES:
        raise UnreadableFile(f"{found.samples.shape[1]} samples: {LEAST_SAMPLES} are needed.")
    return found


def _csv(path: Path, head: bytes) -> TraceFile:
    import pandas as pd  # half a second to import: only where a table is read

    if b"\0" in head:
        raise UnreadableFile("This is no trace that can be read here: a table (CSV) or EDF.")
    skipped, line = _first_line(path)
    split = max((b",", b";", b"\t"), key=line.count)
    decimal = "," if split == b";" and re.search(rb"\d,\d", head) else "."
    layout: dict[str, Any] = {"sep": split.decode(), "decimal": decimal, "skiprows": skipped}
    layout["header"] = None if _all_numbers(line, split, decimal) else 0
    try:
        names = [str(name).strip() for name in pd.read_csv(path, nrows=1, **layout).columns]
        time = next((n for n, name in enumerate(names) if _plain(name) in TIME_NAMES), None)
        kept = [n for n in range(len(names)) if n != time]
        samples = pd.read_csv(path, usecols=kept, dtype=np.float32, **layout).to_numpy().T
        rate = None
        if time is not None:  # read again where it begins: float32 holds no hour of milliseconds
            with pd.read_csv(path, usecols=[time], chunksize=TIME_LINES, dtype=np.float64, **layout) as parts:
                rate = _rate((part.iloc[:, 0].to_numpy() for part in parts), names[time])
    except (ValueError, UnicodeDecodeError, pd.errors.ParserError) as error:
        if isinstance(error, UnreadableFile):
            raise
        raise UnreadableFile(_why(str(error))) from error
    if any(np.isinf(channel).any() for channel in samples):
        raise UnreadableFile("A value is infinite: write nothing where the sensor gave none.")
    return _trace([names[n] for n in kept], samples, rate)


def _first_line(path: Path) -> tuple[int, bytes]:
    """How many lines of remarks (#) a table begins with, and the first line after them."""
    with path.open("rb") as file:
        for number, line in enumerate(file):
            if not line.startswith(b"#") and line.strip():
                return number, line.strip()
    raise UnreadableFile("This table holds remarks only.")


def _all_numbers(line: bytes, split: bytes, decimal: str) -> bool:
    cells = [c.strip().replace(decimal.encode(), b".") for c in line.split(split)]
    try:
        return all(c == b"" or float(c) is not None for c in cells)
    except ValueError:
        return False


def _why(error: str) -> str:
    wrong = re.search(r"could not convert string to float: '?([^']{1,40})", error)
    if wrong:
        return f"“{wrong[1]}” is no number: each column holds numbers below its name."
    line = re.search(r"line (\d+)", error)
    return f"The table breaks off or changes its columns{f' in line {line[1]}' if line else ''}."


def _plain(name: str) -> str:
    return re.sub(r"[^a-zµ_]", "", re.sub(r"[\[(].*", "", name.lower().replace("μ", "µ")))


def _rate(parts: Iterable[np.ndarray], name: str) -> float:
    """Samples a second, from the column of time in its own unit, all of it; `UnreadableFile` where it does not rise
    evenly."""
    step, before, lines, whole = 0.0, np.zeros(0), 0, 0.0
    for part in parts:
        time = np.concatenate((before, part[~np.isnan(part)]))
        steps = np.diff(time)
        if not len(steps):
            continue  # no time is written in this part
        if (steps <= 0).any():
            raise UnreadableFile(f"The times in “{name}” do not rise from line to line.")
        step = step or float(np.median(steps))
        off = np.flatnonzero(np.abs(steps - step) > step / 2)
        if len(off):
            raise UnreadableFile(
                f"The times in “{name}” are not equal steps: they jump after value {lines + int(off[0]) + 1}. "
                "Export the trace at a steady rate, without a gap."
            )
        before, lines, whole = time[-1:], lines + len(steps), whole + float(steps.sum())
    if not lines:
        raise UnreadableFile(f"The times in “{name}” do not rise from line to line.")
    if abs(whole / lines - step) > step * UNEVEN_SHARE:
        raise UnreadableFile(f"The times in “{name}” are not equal steps. Export the trace at a steady rate.")
    return 1 / (step * _second_of(name, step))


def _second_of(name: str, step: float) -> float:
    """How long a unit of a column of time is, s: by its name, else seconds where that is a rate a sensor has, else the
    unit that is one."""
    low = name.lower().replace("μ", "µ")
    inside = re.search(r"[\[(]\s*(\w+)", low)
    words = [inside[1]] if inside else re.split(r"[^a-zµ]+", low)
    for called, seconds in TIME_UNITS:
        if any(word in called for word in words):
            return seconds
    fitting = [s for _, s in TIME_UNITS if RATES_HZ[0] <= 1 / (step * s) <= RATES_HZ[1]]
    return fitting[0] if fitting else 1.0


def _trace(names: list[str], samples: np.ndarray, rate_hz: float | None) -> TraceFile:
    labels, units = [], []
    for n, name in enumerate(names):
        found = re.match(r"^(.*?)\s*[\[(]([^\])]{1,12})[\])]\s*$", name)
        labels.append((found[1] if found else name).strip()[:80] or f"channel {n + 1}")
        units.append(found[2].strip() if found else "")
    if rate_hz is not None:
        _check_rate(rate_hz)
    return TraceFile(tuple(labels), tuple(units), samples, rate_hz)


def _check_rate(rate_hz: float) -> None:
    if not RATES_HZ[0] <= rate_hz <= RATES_HZ[1]:
        raise UnreadableFile(f"{rate_hz:g} samples a second cannot be read here: 5 to 50,000.")


def _edf(path: Path) -> TraceFile:
    import pyedflib  # only where one is read

    try:
        with pyedflib.EdfReader(str(path)) as file:
            rates = [float(file.getSampleFrequency(n)) for n in range(file.signals_in_file)]
            most = max(rates, default=0.0)
            _check_rate(most)
            signals = [file.readSignal(n) for n in range(len(rates))]
            count = max((len(s) for s, rate in zip(signals, rates, strict=True) if rate == most), default=0)
            at = np.arange(count) / most
            samples = np.array(
                [
                    np.interp(at, np.arange(len(signal)) / rate, signal).astype(np.float32)
                    for signal, rate in zip(signals, rates, strict=True)
                ]
            )
            names = tuple(file.getLabel(n).strip()[:80] or f"channel {n + 1}" for n in range(len(rates)))
            units = tuple(file.getPhysicalDimension(n).strip()[:12] for n in range(len(rates)))
    except (OSError, ValueError, IndexError) as error:
        raise UnreadableFile("This EDF file is broken. Export it again.") from error
    return TraceFile(names, units, samples, most)


def write_samples(path: Path, samples: np.ndarray) -> None:
    """Write samples (channels × samples) as they are kept."""
    with path.open("wb") as file:
        np.save(file, np.ascontiguousarray(samples, np.float32), allow_pickle=False)


def kept(path: Path) -> np.ndarray:
    """Return kept samples without reading them all: channels × samples."""
    found: np.ndarray = np.load(path, mmap_mode="r", allow_pickle=False)
    return found
