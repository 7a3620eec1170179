"""The page of the proof: every figure is on it, and the thresholds are set before anything is proved."""

import pytest

from chirotend.services.prove import report, validation
from chirotend.services.prove.validation import BUDGETS, SCORES, Proof, Size


def test_the_page_shows_what_was_proved():
    size = Size(8, 1, 1, ("threshold",), 20)
    thresholds = {}
    for name in SCORES:
        thresholds |= validation.thresholds_of(name, size)
    assert all(thresholds[name, 0.25] >= thresholds[name, 4.0] for name in SCORES)
    outcomes = tuple(validation.outcome(kind, "threshold", size, thresholds) for kind in ("steady", "poor_logger"))
    gains = validation.gains("steady", "threshold", size) | validation.gains("stoic", "threshold", size)
    page = report.markdown(
        proof := Proof(size, thresholds, outcomes, gains, {("pairs", "recovers anyway", 0.0): (0.01, 0.025)})
    )
    found = outcomes[1].own["usual"]
    assert f"{found.share.value:.2f} [{found.share.low:.2f}–{found.share.high:.2f}]" in page
    assert "| steady | threshold |" in page and "| poor logger | threshold |" in page
    assert "| order of days | recovers anyway |" in page and "| pairs | 1.0% · 2.5% |" in page
    strength = next(line for line in page.splitlines() if line.startswith("| strength | 7 days |"))
    gained = gains["stoic", "threshold", "strength", 7]
    assert f"| 3.0 | {gained.found:.2f} | {gained.lead:.1f} d |" in strength and "| effort | 2 days | 0.0 |" in page
    assert all(f"| {name} |" in page for name in SCORES) and "invented" in page and "no clinician" in page
    assert sum(outcomes[1].misses.values()) == round((1 - found.share.value) * 8)
    assert sum(outcomes[1].called.led.values()) == pytest.approx(1) and "| nothing stood out |" in page
    drawn = report.picture(proof)
    assert sum(shape.tag == "path" and shape.attrs["stroke"] != "#ccc" for shape in drawn) == 2 * len(SCORES)
    assert {f"{b:g}" for b in BUDGETS} <= {shape.text for shape in drawn}
