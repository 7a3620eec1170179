"""Speed of programmes, trials, parts and reports over a full record: part of `make bench`. It asserts nothing."""

import time
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from functools import partial

from flask.testing import FlaskClient

from chirotend.formats.kept_rows import TrialData, TrialMeasure
from chirotend.services.context import Context
from chirotend.services.plan import parts
from chirotend.services.plan.programmes import begin
from chirotend.services.record import corrections
from chirotend.services.report import reports

BARS = 400
RETURN = {"why": "layoff", "start_min": "10", "aim_min": "60"}
Compared = Callable[[Callable[[], object]], tuple[float, float, float]]


def a_part() -> bytes:
    """A part of 400 bars, every third of sixteenths: some 2,700 notes."""

    def notes(bar: int) -> str:
        length, count = (1, 16) if bar % 3 == 0 else (8, 2)
        pitch = f"<pitch><step>{'CDEFGAB'[bar % 7]}</step><octave>3</octave></pitch>"
        return f"<note>{pitch}<duration>{length}</duration></note>" * count

    head = "<attributes><divisions>4</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>"
    bars = "".join(f'<measure number="{n + 1}">{head if n == 0 else ""}{notes(n)}</measure>' for n in range(BARS))
    listed = '<part-list><score-part id="P1"><part-name>Bassoon</part-name></score-part></part-list>'
    return f'<score-partwise version="4.0">{listed}<part id="P1">{bars}</part></score-partwise>'.encode()


def a_trial(context: Context) -> None:
    """Four weeks of pairs that are over; kept as it is, for the record's calls need not let one begin."""
    letters = "ABBA" * 7
    data = TrialData(
        change="rest",
        what="the hand rest out",
        measure=TrialMeasure(kind="effort"),
        better="lower",
        order="pairs",
        least=5,
        letters=letters,
        lot_days=len(letters),
    )
    first = context.today - timedelta(days=35)
    row = {"uid": "tried", "title": "Did it help?", "first": first, "last": first + timedelta(days=27), "ended": None}
    corrections.put_row(context, "trial", {**row, "outcome": "", "data": data.model_dump(mode="json")})


def begun(context: Context) -> dict[str, str]:
    """Begin one of each a while ago; returns the pages by name."""
    a_trial(context)
    begin.begin(replace(context, now=context.now - timedelta(days=21)), "return", RETURN)
    report = reports.make(context, {"audience": "clinician", "why": "My left thumb."})
    typed = {"instrument": "bassoon", "title": "Night music"}
    parts.keep(context, parts.read_part("part.musicxml", a_part()), typed)
    start = time.perf_counter()
    part = parts.keep(context, parts.read_part("part.musicxml", a_part()), typed)
    print(f"a part of {BARS} bars read {time.perf_counter() - start:.2f} s, its reader loaded")
    context.db.commit()
    return {
        "Today, on a return": "/",
        "B Plan, on a return": "/plan/",
        "Programmes": "/plan/programmes/",
        "Trials": "/score/trials/",
        "a trial": "/score/trials/tried",
        "Reports": "/record/reports/",
        "a report": f"/record/reports/{report}",
        "Parts": "/plan/parts/",
        "a part": f"/plan/parts/{part}",
        "a report as PDF": f"/record/reports/{report}/page.pdf",
        "a part as PNG": f"/drawings/part/{part}.png",
    }


def pages(context: Context, client: FlaskClient, compared: Compared) -> None:
    for name, path in begun(context).items():
        assert client.get(path).status_code == 200, path
        p50, p95, ratio = compared(partial(client.get, path))
        print(f"{name:21} p50 {p50:6.1f} ms  p95 {p95:6.1f} ms  {ratio:5.1f} x the bare read")
