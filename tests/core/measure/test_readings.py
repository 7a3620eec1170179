"""The line protocol of sensors: what is written is read, and what is no reading is refused."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Inconsistent, TooFew
from chirotend.core.measure.readings import Reading, line_of, reading_of, sorted_out

words = st.from_regex(r"[A-Za-z0-9_\-µ²/]{1,12}", fullmatch=True)


@given(st.floats(0, 1e8), words, st.floats(-1e6, 1e6) | st.just(math.nan), words)
def test_a_reading_is_read_as_it_was_written(at_ms, channel, value, unit):
    found = reading_of(line_of(Reading(at_ms, channel, value, unit)) + "\r\n")
    assert found.channel == channel and found.unit == unit
    assert found.at_ms == pytest.approx(at_ms, abs=1e-3)
    assert found.value == pytest.approx(value, rel=1e-5, abs=1e-9, nan_ok=True)


@pytest.mark.parametrize(
    "line", ["3 pad", "soon pad 3 N", "1 pad three N", "-1 pad 3 N", "1 pad 3 N more", "1 pad inf N", "1 pad 1e999 N"]
)
def test_what_is_no_reading(line):
    with pytest.raises(Inconsistent, match="is no reading"):
        reading_of(line)
    assert reading_of("# pad of the house") is None and reading_of("  ") is None


def test_channels_take_turns_and_keep_their_unit_and_time():
    made = [Reading(10.0 * n, name, n, "N") for n in range(5) for name in ("left", "right")]
    found = sorted_out([*made, Reading(60, "left", 9, "N")])
    assert found.rate_hz == pytest.approx(100, rel=0.2)
    assert {k: len(v) for k, v in found.values.items()} == {"left": 5, "right": 5}
    with pytest.raises(Inconsistent, match="changes its unit"):
        sorted_out([*made, Reading(70, "left", 1, "kg")])
    with pytest.raises(Inconsistent, match="runs back"):
        sorted_out([*made, Reading(5, "left", 1, "N")])
    with pytest.raises(TooFew):
        sorted_out(made[:3])
