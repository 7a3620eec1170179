"""All probes: what each is made of, its line on the bench, and how a file of it is read."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from chirotend.formats.probe_data import (
    Activities,
    Awareness,
    Evenness,
    Faults,
    Posture,
    Pressure,
    ProbeData,
    Range,
    Strokes,
    Trace,
    WristClip,
)
from chirotend.services.context import Context
from chirotend.services.technique import activities, awareness_line, evenness, posture, ranges, strokes, traces
from chirotend.services.technique.lines import ProbeLine
from chirotend.services.technique.probes import Brought, File


@dataclass(frozen=True)
class Reader:
    """How the files of a probe are brought, read and kept, and the field of the form they come by."""

    field: str
    bring: Callable[[Context, Path, Mapping[str, str], IO[bytes] | None, str], Brought]
    read: Callable[[Context, Path, File, int, Callable[[float], None] | None], Any]
    keep: Callable[[Context, str, Any], None]


@dataclass(frozen=True)
class RegisteredProbe:
    """One probe. `line` None = it has none on the bench; `reader` None = it brings no file that is read first."""

    data: type[ProbeData]
    line: Callable[[Context], ProbeLine] | None = None
    reader: Reader | None = None


#: in the order of the bench; the least pressure is the measure of today, wrists of a clip are reached from Posture, and
#: the faults have the grip book
PROBES = (
    RegisteredProbe(Posture, posture.line),
    RegisteredProbe(Evenness, evenness.line, Reader("sound", evenness.bring, evenness.listen, evenness.keep_heard)),
    RegisteredProbe(Strokes, strokes.line),
    RegisteredProbe(Trace, traces.line, Reader("trace", traces.bring, traces.read_trace, traces.keep_samples)),
    RegisteredProbe(Range, ranges.line),
    RegisteredProbe(Awareness, awareness_line.line),
    RegisteredProbe(Activities, activities.line),
    RegisteredProbe(WristClip),
    RegisteredProbe(Pressure),
    RegisteredProbe(Faults),
)
LINES = tuple(probe.line for probe in PROBES if probe.line is not None)
READERS = {probe.data.kind: probe.reader for probe in PROBES if probe.reader is not None}
