"""Tables and EDF of sensors: the unit of time by name or by range, gaps anywhere, channels of two rates."""

from pathlib import Path

import numpy as np
import pyedflib
import pytest

from chirotend.formats import trace
from chirotend.formats.cells import UnreadableFile


def table(tmp_path: Path, name: str, times: np.ndarray) -> Path:
    path = tmp_path / "pad.csv"
    path.write_text(f"{name},pad (N)\n" + "".join(f"{t:.6f},{n % 7}\n" for n, t in enumerate(times)))
    return path


@pytest.mark.parametrize(
    ("name", "step"),
    [
        ("time (s)", 0.002),
        ("t [ms]", 2),
        ("time_us", 2000),
        ("t (µs)", 2000),
        ("t (μs)", 2000),  # the Greek letter, not the sign of micro
        ("Timestamp", 0.002),
        ("Timestamp", 2),
        ("timestamp", 2000),
        ("Zeit (ms)", 2),
        ("Zeit", 2),
    ],
)
def test_the_unit_of_time_is_told_by_its_name_or_by_what_a_sensor_can(tmp_path: Path, name: str, step: float):
    """Truth: 500 samples a second, and no channel is made of the times."""
    found = trace.read_trace_file(table(tmp_path, name, 1_764_000_000 + np.arange(200) * step))
    assert found.rate_hz == pytest.approx(500, rel=1e-3) and found.names == ("pad",)


@pytest.mark.parametrize("after", [30, 25_000])
def test_a_gap_is_found_wherever_it_is(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, after: int):
    monkeypatch.setattr(trace, "TIME_LINES", 8_000)  # read in parts, as hours are
    times = np.arange(30_000) * 0.002
    assert trace.read_trace_file(table(tmp_path, "time (s)", times)).rate_hz == pytest.approx(500)
    times[after:] += 3.0
    with pytest.raises(UnreadableFile, match=f"jump after value {after}[.]"):
        trace.read_trace_file(table(tmp_path, "time (s)", times))
    times[after:] -= 4.0 if after > 1000 else 3.05
    with pytest.raises(UnreadableFile, match="do not rise"):
        trace.read_trace_file(table(tmp_path, "time (s)", times))


def test_channels_of_two_rates_are_brought_to_the_faster_one(tmp_path: Path):
    path = tmp_path / "two.edf"
    slow, fast = np.sin(np.arange(1000) / 50), np.sin(np.arange(10_000) / 500)
    with pyedflib.EdfWriter(str(path), 2) as out:
        out.setSignalHeader(0, pyedflib.highlevel.make_signal_header("pad", "N", 100, -2, 2))
        out.setSignalHeader(1, pyedflib.highlevel.make_signal_header("band", "mV", 1000, -2, 2))
        out.writeSamples([slow, fast])
    found = trace.read_trace_file(path)
    assert (found.names, found.units, found.rate_hz) == (("pad", "band"), ("N", "mV"), 1000)
    assert found.samples.shape == (2, 10_000)
    assert np.abs(found.samples[0][:9900] - found.samples[1][:9900]).max() < 0.01
