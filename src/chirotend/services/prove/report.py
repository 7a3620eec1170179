"""The proof as a page of docs: tables, what is assumed, what is not reached and why."""

from collections.abc import Iterable

from chirotend.core.judge.evidence import WATCHES
from chirotend.core.judge.signs.own_threshold import watch_threshold
from chirotend.core.prove.outcomes import MISSES, Found, Share
from chirotend.drawing.curves import Panel, curves
from chirotend.drawing.shapes import Shape
from chirotend.library.loader import wordings
from chirotend.services.prove.validation import (
    BUDGET,
    BUDGETS,
    DAYS,
    SCORES,
    TUNED_ON,
    Outcome,
    Proof,
    mean_found,
    mean_of,
    troubled,
    untroubled,
)

AIM_FALSE, AIM_FOUND, AIM_LEAD, AIM_POOR, AIM_MUTED, AIM_BUSY = 1.0, 0.82, 0.9, 0.75, 0.03, 0.10
NAMES = {
    "cold_hands": "cold hands",
    "poor_logger": "poor logger",
    "double_booked": "double-booked",
    "steady_60": "steady, answers 60 %",
    "steady_40": "steady, answers 40 %",
    "early_grower": "early grower",
    "early_nerve": "early nerve",
}
HEAD = """# Early signs and the call, proved on invented players

Made by `chirotend validate`; do not edit by hand. **All players here are invented** (`core/simulate`): what holds for
them may not hold for people. No real diary was at hand, no clinician has reviewed the rules.

Thresholds are set on players of one mechanics ({tuned}), with seeds of their own, and shown on all. *False*: episodes
of signs a player-year ({days}-day diaries) of players with whom nothing is the matter. *Found*: the troubled place rose
over the threshold from the day its trouble began and before the day she would have had to stop (three days at an
excess of 5). *Lead*: mean days from that to the stop, of those found. Square brackets: 95 % intervals (exact; false
signs of one player resemble each other, so theirs are somewhat narrow). {players} players a cohort; the oracle reads
{oracle} of them, {called} live with the whole call and keep to six Muted days of ten.
"""
ASSUMED = """
## What is assumed, and what is not known

- Three mechanics: irritation by load above what a place carries; wear and its repair; a level that wanders, hardly
  moved by load. Directions are known, every number is assumed. A trouble weakens one place over days or weeks until
  a stop.
- What is told: noise with 40–90 % zeros, SD 0.7–1.2, likeness 0.2–0.5 from day to day (clinical rules); a share kept
  silent; passing soreness at a place about every 300 days, for a quarter of players every 60, three times as often
  after heavy days.
- Thresholds hang on the noise assumed: on diaries with more likeness the same threshold speaks more often falsely.
- The oracle knows mechanics, load, habits and which places can tingle: its lead is a ceiling no reader of a diary
  reaches. In a season too many it rightly blames the load and not a trouble, and so finds fewer.
- “The whole call” counts every row that names the place (tingling without one), also rows that single marks of strong
  or lasting symptoms bring; its Muted mornings are the price. A stop is later, or never comes, for who keeps to it.
- Where soreness passes most often (repair) steady players and a busy season still miss their aim: several places are
  sore in a week, and each holds the way back.
- Not known: how often real players report a passing ache, how their troubles grow, whether a sign changes what they do.
"""


def _name(kind: str) -> str:
    return NAMES.get(kind, kind)


def _share(s: Share) -> str:
    return f"{s.value:.2f} [{s.low:.2f}–{s.high:.2f}]"


def _found(f: Found) -> str:
    return f"{_share(f.share)}, {f.lead_mean:.1f} d"


def _table(head: Iterable[str], rows: Iterable[Iterable[str]]) -> str:
    head = list(head)
    lines = [head, ["---"] * len(head), *map(list, rows)]
    return "\n".join("| " + " | ".join(line) + " |" for line in lines) + "\n"


def _cell(value: Share | Found) -> str:
    return _found(value) if isinstance(value, Found) else _share(value)


def markdown(proof: Proof) -> str:
    """Return the page."""
    size = proof.size
    parts = [
        HEAD.format(tuned=TUNED_ON, days=DAYS, players=size.players, oracle=size.oracle, called=size.called),
        "## False signs a year of players with whom nothing is the matter\n",
        _table(
            (
                "kind",
                "mechanics",
                *(f"{w}, {watch_threshold(w).above_record:g} above the record" for w in WATCHES),
                "Muted mornings, rules 6",
                "rules 8",
                "most",
            ),
            (
                (
                    _name(o.kind),
                    o.mechanics,
                    *(_cell(o.own[w]) for w in WATCHES),
                    f"{o.called_before.muted.value:.1%}",
                    f"{o.called.muted.value:.1%}",
                    f"{o.called.most:.0%}",
                )
                for o in untroubled(proof)
            ),
        ),
        f"## Found in time, and days of lead; the oracle at {BUDGET:g} false sign a year\n",
        _table(
            ("kind", "mechanics", "signs, usual watch", "signs, earlier", "oracle", "the whole call", "Muted mornings"),
            (_found_row(o) for o in troubled(proof)),
        ),
        "## The call by its rules, version 6 and 8, on the same lives\n",
        "Named: the troubled place was named in time by a row of symptoms or an early sign. Rows: the share of "
        "mornings that each row decided (0 = the way back).\n",
        _table(
            ("kind", "mechanics", "Muted, 6", "Muted, 8", "named, 6", "named, 8", "rows, 6", "rows, 8"),
            (_version_row(o) for o in proof.outcomes),
        ),
        "## What Today leads with\n",
        "The share of mornings that each reason led, by the rules of version 6 and 8. Means over all kinds and "
        "mechanics.\n",
        _table(("reason", "nothing the matter, 6", "8", "a trouble, 6", "8", "what to do"), _led(proof)),
        "## Against the budget\n\n![Found and lead against the budget](validation.svg)\n",
        "Means over all kinds with a trouble; found, and mean lead in days.\n",
        _table(
            ("watched", *(f"{b:g} a year" for b in BUDGETS)),
            ((s, *("{:.2f}, {:.1f} d".format(*mean_found(proof, s, b)) for b in BUDGETS)) for s in SCORES),
        ),
        "## Why some were missed (signs, usual watch)\n",
        _table(("kind", "mechanics", *MISSES), (_missed_row(o) for o in troubled(proof))),
        "\n".join(f"- *{key}*: {text}." for key, text in MISSES.items()) + "\n",
        "## Aims\n",
        _table(("aim", "reached", "the oracle"), _aims(proof)),
        ASSUMED,
    ]
    return "\n".join(parts)


def _found_row(o: Outcome) -> list[str]:
    named = _found(o.called.named) if o.called.named else "–"
    cells = [_cell(v) for v in (o.own["usual"], o.own["earlier"], o.by_budget["oracle", BUDGET])]
    return [_name(o.kind), o.mechanics, *cells, named, f"{o.called.muted.value:.0%}"]


def _version_row(o: Outcome) -> list[str]:
    both = (o.called_before, o.called)
    named = [_found(c.named) if c.named else "–" for c in both]
    rows = [", ".join(f"{row}: {part:.1%}" for row, part in c.rows.items()) or "–" for c in both]
    return [_name(o.kind), o.mechanics, *(f"{c.muted.value:.1%}" for c in both), *named, *rows]


def _led(proof: Proof) -> list[list[str]]:
    """The reasons by how often they led, then how often someone was to be seen."""
    well, ill = list(untroubled(proof)), list(troubled(proof))
    columns = [calls for part in (well, ill) for calls in ([o.called_before for o in part], [o.called for o in part])]
    shares = {
        code: [_mean(c.led.get(code, 0.0) for c in column) for column in columns]
        for code in {code for column in columns for c in column for code in c.led}
    }
    ordered = sorted(shares.items(), key=lambda entry: -sum(entry[1]))
    rows = [[_reason(code), *(f"{s:.1%}" for s in found), _do(code)] for code, found in ordered]
    return [
        *rows,
        ["someone is to be seen", *(f"{_mean(c.visit_advised for c in column):.1%}" for column in columns), ""],
    ]


def _reason(code: str) -> str:
    return code.replace("_", " ") or "nothing stood out"


def _do(code: str) -> str:
    """What Today says to do; "" where it depends on the day."""
    said = wordings()[code].do if code in wordings() else ""
    return "" if "{" in said else said


def _mean(values: Iterable[float]) -> float:
    found = list(values)
    return sum(found) / len(found) if found else 0.0


def _missed_row(o: Outcome) -> list[str]:
    return [_name(o.kind), o.mechanics, *(str(o.misses.get(reason, 0)) for reason in MISSES)]


def _aims(proof: Proof) -> list[list[str]]:
    calm = [o for o in untroubled(proof) if o.kind != "season"]
    worst = max((f.value for o in calm if isinstance(f := o.own["usual"], Share)), default=0.0)
    proved = [o for o in troubled(proof) if o.mechanics != TUNED_ON] or list(troubled(proof))
    own, oracle = ([o.own["usual"] for o in proved], [o.by_budget["oracle", BUDGET] for o in proved])
    found, best = mean_of(own), mean_of(oracle)
    poor = [o for o in proved if o.kind == "poor_logger"]
    muted = [o.called.muted.value for o in calm if o.kind == "steady"] or [0.0]
    loud = [o.called.muted.value for o in calm if o.kind == "exaggerator"] or [0.0]
    busy = [o.called.muted.value for o in untroubled(proof) if o.kind == "season"] or [0.0]
    return [
        [f"at most {AIM_FALSE:g} false sign a year, every steady cohort", f"worst {worst:.2f}", "set to the same"],
        [f"found {AIM_FOUND:.2f}", f"{found[0]:.2f} (mean of kinds, mechanics it was not set on)", f"{best[0]:.2f}"],
        [f"lead {AIM_LEAD:.0%} of the oracle’s", f"{found[1] / best[1]:.0%} ({found[1]:.1f} d)", f"{best[1]:.1f} d"],
        [
            f"poor logger {AIM_POOR:.2f}",
            f"{mean_of([o.own['usual'] for o in poor])[0]:.2f}",
            f"{mean_of([o.by_budget['oracle', BUDGET] for o in poor])[0]:.2f}",
        ],
        [
            f"steady players Muted at most {AIM_MUTED:.0%}",
            f"{_mean(muted):.1%}, worst {max(muted):.1%}",
            "–",
        ],
        [f"a busy season at most {AIM_BUSY:.0%}", f"{_mean(busy):.1%}, worst {max(busy):.1%}", "–"],
        [f"high markers at most {AIM_BUSY:.0%}", f"{_mean(loud):.1%}, worst {max(loud):.1%}", "–"],
    ]


def picture(proof: Proof) -> list[Shape]:
    """Return the curves against the budget: found, and mean lead."""
    told = {s: [mean_found(proof, s, b) for b in BUDGETS] for s in SCORES}
    return curves(
        BUDGETS,
        [
            Panel("found in time", 1.0, (0, 0.2, 0.4, 0.6, 0.8, 1), {s: [f for f, _ in t] for s, t in told.items()}),
            Panel("mean lead, days", 30, (0, 10, 20, 30), {s: [d for _, d in t] for s, t in told.items()}),
        ],
    )
