"""Devices that are plugged in: local sockets in the data folder that send a reading a line; read for some seconds."""

import socket
import time
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path

import numpy as np

from chirotend.core.errors import MethodError
from chirotend.core.measure.readings import Reading, reading_of, sorted_out
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import Pressure, Trace
from chirotend.formats.trace import TraceFile, written_to
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes, traces
from chirotend.services.units import decimal
from chirotend.store import jobs

END, FOLDER = ".sock", "devices"
SECONDS_LOW, SECONDS_HIGH, USUAL_S = 2.0, 600.0, 30.0
#: a device that says nothing for so long has been pulled out
SILENT_S = 5.0
#: a press is read for so long, and a pad that is silent as long as this is given up
PRESS_S, PRESS_SILENT_S = 0.5, 1.5
READINGS_MAX, LINE_MAX = 4_000_000, 200


def folder_of(blobs: Path) -> Path:
    """Return where devices plug in: beside the files, in the data folder."""
    return blobs.parent / FOLDER


def names(blobs: Path) -> tuple[str, ...]:
    """Return the devices that are plugged in now."""
    found = folder_of(blobs)
    return tuple(sorted(p.stem for p in found.glob("*" + END) if p.is_socket())) if found.exists() else ()


def begin(context: Context, blobs: Path, typed: Mapping[str, str]) -> str:
    """Queue the reading of a device for some seconds; returns the job's id."""
    name = typed.get("device", "")
    if name not in names(blobs):
        raise FieldError("device", "This device is not plugged in. Plug it in, and reload the page.")
    seconds = decimal("seconds", "Seconds to read", typed.get("seconds", ""), SECONDS_LOW, SECONDS_HIGH)
    about = probes.about_of(context, typed)
    about = replace(about, what=about.what or name[:80])
    uid = probes.begin(context, about, Trace(source=name[:80], seconds=seconds))
    return jobs.queue(context.db, context.player.id, jobs.DEVICE, {"probe": uid}, context.now)


def read_device(context: Context, blobs: Path, uid: str, step: Callable[[float], None]) -> None:
    """Read the device of a probe for its seconds and keep the trace; `UnreadableFile` says what went wrong."""
    data = probes.probe(context, uid, Trace).data
    path = folder_of(blobs) / (data.source + END)
    try:
        found = sorted_out(_readings(path, data.seconds, SILENT_S, step))
    except OSError as error:
        raise UnreadableFile("The device was pulled out, or does not answer. Plug it in and read again.") from error
    except MethodError as error:
        raise UnreadableFile(f"The device sent what cannot be read: {str(error).partition(': ')[2]}.") from error
    samples = np.array(list(found.values.values()), np.float32)
    trace = TraceFile(tuple(found.values), tuple(found.units.values()), samples, found.rate_hz)
    traces.keep_samples(context, uid, traces.samples_by(context, blobs, lambda part: written_to(part, trace)))


def pressed(context: Context, blobs: Path, uid: str) -> str:
    """Return what the pad of a search shows now, as it would be typed: the middle of half a second, N.

    "" = it has none, or it did not answer: then the search goes on without, as a hand on the instrument mends no plug.
    """
    pad = probes.probe(context, uid, Pressure).data.pad
    if not pad:
        return ""
    try:
        found = sorted_out(_readings(folder_of(blobs) / (pad + END), PRESS_S, PRESS_SILENT_S, lambda share: None))
    except (OSError, MethodError):
        return ""
    force = traces.UNITS["force"]
    for channel, unit in found.units.items():
        known = np.array(found.values[channel])[np.isfinite(found.values[channel])]
        if unit in force and len(known):
            return f"{max(0.0, float(np.median(known)) * force[unit]):.3f}"
    return ""


def _readings(path: Path, seconds: float, silent_s: float, step: Callable[[float], None]) -> Iterator[Reading]:
    """Yield what a device sends for so long by its own clock."""
    plug = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    with plug:
        plug.settimeout(silent_s)
        plug.connect(str(path))
        left, count, told = b"", 0, time.monotonic()
        while True:
            heard = plug.recv(1 << 16)
            *lines, left = (left + heard).split(b"\n")
            for line in lines if heard else [*lines, left]:
                reading = reading_of(line[:LINE_MAX].decode("utf-8", "replace"))
                if reading is None:
                    continue
                if reading.at_ms > 1000 * seconds or count >= READINGS_MAX:
                    return
                count += 1
                yield reading
                if time.monotonic() - told > 0.3:
                    told = time.monotonic()
                    step(min(1.0, reading.at_ms / 1000 / seconds))
            if not heard:
                return
