"""The proof as a page of docs: tables, what is assumed, what is not reached and why."""

from collections.abc import Iterable

from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import WATCHES
from chirotend.core.judge.signs.own_threshold import watch_threshold
from chirotend.core.prove.outcomes import MISSES, Found, Share
from chirotend.core.prove.trials import DAYS as DAYS_OF_TRIAL
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.measures import measures
from chirotend.drawing.curves import Panel, curves
from chirotend.drawing.shapes import Shape
from chirotend.library.loader import wordings
from chirotend.services.prove.validation import (
    BUDGET,
    BUDGETS,
    DAYS,
    MEASURED_EVERY,
    SCORES,
    TUNED_ON,
    Outcome,
    Proof,
    mean_found,
    mean_of,
    troubled,
    untroubled,
)
from chirotend.services.words import amount

AIM_FALSE, AIM_TINGLER, AIM_FOUND, AIM_LEAD, AIM_MUTED, AIM_BUSY = 1.0, 1.5, 0.80, 0.85, 0.03, 0.10
#: of kinds that are hard to find: the share found, and days of lead where one is aimed at
TINGLERS = ("tingler", "tingles_at_times")
AIMS_OF = {"nerve": (0.94, 15.0), "poor_logger": (0.77, None), "stoic": (0.50, None)}
NAMES = {
    "cold_hands": "cold hands",
    "poor_logger": "poor logger",
    "double_booked": "double-booked",
    "steady_60": "steady, answers 60 %",
    "steady_40": "steady, answers 40 %",
    "early_grower": "early grower",
    "early_nerve": "early nerve",
    "two_places": "two places of one hand",
    "second_instrument": "a second instrument",
    "tingles_at_times": "tingles at times",
    "sixty": "sixty, good and bad weeks",
}
HEAD = """# Early signs and the call, proved on invented players

Made by `chirotend validate`; do not edit by hand. **All players here are invented** (`core/simulate`): what holds for
them may not hold for people. No real diary was at hand, no clinician has reviewed the rules.

Thresholds are set on players of one mechanics ({tuned}); every figure here is of players of others, with seeds of their
own, and no number of the judgement was ever chosen by looking at *queue*. *False*: episodes
of signs a player-year ({days}-day diaries) of players with whom nothing is the matter. *Found*: the troubled place rose
over the threshold from the day its trouble began and before the day she would have had to stop (three days at an
excess of 5). *Lead*: mean days from that to the stop, of those found. Square brackets: 95 % intervals (exact; false
signs of one player resemble each other, so theirs are somewhat narrow). {players} players a cohort; the oracle reads
{oracle} of them, {called} live with the whole call and keep to six Muted days of ten.
"""
ASSUMED = """
## What is assumed, and what is not known

- Four mechanics: irritation by load above what a place carries, on which the thresholds are set; wear and its repair;
  a level that wanders, hardly moved by load; small injuries that wait for a crew to mend them. Directions are known,
  every number is assumed. A trouble weakens a place over days or weeks until a stop.
- A bad week of the player of sixty is real soreness at several places, and a second instrument is more load at two of
  them: signs there are true of the weeks, and counted as false because nothing is the matter that grows.
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


MEASURING = """Here signs also read a measure, against the player’s own values of three weeks ago and before. Found and
lead are means of growers, nerves and stoics of all mechanics, false signs those of steady players. How much a trouble
shows in each measure, how it drifts and what it costs in touches is assumed (`simulated_measures.csv`). The reader
takes one size for all. It is no part of the call.
"""


TRIALS = """{count} trials of {days} days each. The first figure is how often *better* is said on the planned last day,
the second on that day or after ten more: no other day has a verdict. One in twenty is the aim where the change does
nothing. In stretches (*phases*, *again*) a recovery looks like the change; the page of a trial says so.
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
                "Muted mornings",
                "most",
            ),
            (
                (
                    _name(o.kind),
                    o.mechanics,
                    *(_cell(o.own[w]) for w in WATCHES),
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
        "## The call, row by row\n",
        "Named: the troubled place was named in time by a row of symptoms or an early sign. Rows: the share of "
        "mornings that each row decided (0 = the way back).\n",
        _table(("kind", "mechanics", "Muted", "named", "rows"), (_row_of_call(o) for o in proof.outcomes)),
        "## What Today leads with\n",
        "The share of mornings that each reason led. Means over all kinds and mechanics.\n",
        _table(("reason", "nothing the matter", "a trouble", "what to do"), _led(proof)),
        "## Against the budget\n\n![Found and lead against the budget](validation.svg)\n",
        "Means over all kinds with a trouble; found, and mean lead in days.\n",
        _table(
            ("watched", *(f"{b:g} a year" for b in BUDGETS)),
            ((s, *("{:.2f}, {:.1f} d".format(*mean_found(proof, s, b)) for b in BUDGETS)) for s in SCORES),
        ),
        "## Why some were missed (signs, usual watch)\n",
        _table(("kind", "mechanics", *MISSES), (_missed_row(o) for o in troubled(proof))),
        "\n".join(f"- *{key}*: {text}." for key, text in MISSES.items()) + "\n",
        "## What measuring would add\n",
        MEASURING,
        _table(
            (
                "measure",
                "every",
                "touches a week",
                "found",
                "lead, missed as 0",
                "days gained a touch a week",
                "false a year",
            ),
            _measuring(proof),
        ),
        trials_section(proof.trials, size.trials),
        "## Aims\n",
        _table(("aim", "reached", "the oracle"), _aims(proof)),
        ASSUMED,
    ]
    return "\n".join(parts)


def trials_section(trials: dict[tuple[str, str, float], tuple[float, float]], count: int) -> str:
    """Return how often each order of days calls a change better that does nothing, and one that does something."""
    words = {0.0: "{}", 1.0: "a change of one spread", 2.0: "of two spreads"}
    tried = list(dict.fromkeys((player, gain) for _, player, gain in trials))
    rows = (
        (order, *("{:.1%} · {:.1%}".format(*trials[order, player, gain]) for player, gain in tried))
        for order in dict.fromkeys(order for order, _, _ in trials)
    )
    head = ("order of days", *(words[gain].format(player) for player, gain in tried))
    return "\n".join(
        ("## Trials: better of nothing\n", TRIALS.format(count=count, days=DAYS_OF_TRIAL), _table(head, rows))
    )


def _found_row(o: Outcome) -> list[str]:
    named = _found(o.called.named) if o.called.named else "–"
    cells = [_cell(v) for v in (o.own["usual"], o.own["earlier"], o.by_budget["oracle", BUDGET])]
    return [_name(o.kind), o.mechanics, *cells, named, f"{o.called.muted.value:.0%}"]


def _row_of_call(o: Outcome) -> list[str]:
    named = _found(o.called.named) if o.called.named else "–"
    rows = ", ".join(f"{row}: {part:.1%}" for row, part in o.called.rows.items()) or "–"
    return [_name(o.kind), o.mechanics, f"{o.called.muted.value:.1%}", named, rows]


def _led(proof: Proof) -> list[list[str]]:
    """The reasons by how often they led, then how often someone was to be seen."""
    columns = [[o.called for o in untroubled(proof)], [o.called for o in troubled(proof)]]
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


def _measuring(proof: Proof) -> list[list[str]]:
    alone = _fares(proof, "", 0)
    rows = [["the diary alone", "–", "–", f"{alone[0]:.2f}", f"{alone[1]:.1f} d", "–", f"{alone[2]:.2f}"]]
    for every in MEASURED_EVERY:
        for measure in measures().values():
            found, lead, false = _fares(proof, measure.name, every)
            touches = 7 * measure.touches / every
            each = f"{(lead - alone[1]) / touches:.2f}" if touches else "asked anyhow"
            name = measure.name.replace("_", " ")
            rows.append(
                [name, amount(every, "day"), f"{touches:.1f}", f"{found:.2f}", f"{lead:.1f} d", each, f"{false:.2f}"]
            )
    return rows


def _fares(proof: Proof, measure: str, every: int) -> tuple[float, float, float]:
    """Mean share found, mean lead of those with a trouble, mean false signs a year of the others."""
    here = {key: g for key, g in proof.gains.items() if key[2:] == (measure, every)}
    ill = [g for (kind, *_), g in here.items() if kinds()[kind].troubled]
    well = [g.false for (kind, *_), g in here.items() if not kinds()[kind].troubled]
    return _mean(g.found for g in ill), _mean(g.lead for g in ill), _mean(well)


def _aims(proof: Proof) -> list[list[str]]:
    calm = [o for o in untroubled(proof) if o.kind not in ("season", *TINGLERS)]
    tinglers = [o for o in untroubled(proof) if o.kind in TINGLERS]
    with_trouble = list(troubled(proof))
    found, best = _usual_and_oracle(with_trouble)
    return [
        [f"at most {AIM_FALSE:g} false sign a year with nothing the matter", _worst_false(calm), "set to the same"],
        [f"at most {AIM_TINGLER:g} for who tingles", _worst_false(tinglers), "set to the same"],
        [f"found {AIM_FOUND:.2f}, mean of kinds", f"{found[0]:.2f}", f"{best[0]:.2f}"],
        [f"lead {AIM_LEAD:.0%} of the oracle’s", f"{found[1] / best[1]:.0%} ({found[1]:.1f} d)", f"{best[1]:.1f} d"],
        *(_aim_of_kind(proof, kind, *aims) for kind, aims in AIMS_OF.items() if kind in {o.kind for o in with_trouble}),
        [f"steady players Muted at most {AIM_MUTED:.0%}", _mean_and_worst(proof, "steady"), "–"],
        [f"a busy season at most {AIM_BUSY:.0%}", _mean_and_worst(proof, "season"), "–"],
        [f"high markers at most {AIM_BUSY:.0%}", _mean_and_worst(proof, "exaggerator"), "–"],
    ]


def _worst_false(outcomes: list[Outcome]) -> str:
    """The cohort with the most false signs at the usual watch, beside the median of cohorts."""
    rates = [(f.value, o) for o in outcomes if isinstance(f := o.own["usual"], Share)]
    if not rates:
        return "–"
    most, worst = max(rates, key=lambda r: r[0])
    return f"median {median([r for r, _ in rates]):.2f}, worst {most:.2f} ({_name(worst.kind)}, {worst.mechanics})"


def _usual_and_oracle(outcomes: Iterable[Outcome]) -> tuple[tuple[float, float], tuple[float, float]]:
    """The mean share and lead of signs at the usual watch, and of the oracle at its budget."""
    here = list(outcomes)
    return mean_of(o.own["usual"] for o in here), mean_of(o.by_budget["oracle", BUDGET] for o in here)


def _aim_of_kind(proof: Proof, kind: str, share: float, lead: float | None) -> list[str]:
    found, best = _usual_and_oracle(o for o in troubled(proof) if o.kind == kind)
    aim = f"{_name(kind)} {share:.2f}" + (f", {lead:g} d" if lead is not None else "")
    return [aim, *(f"{shared:.2f}, {days:.1f} d" for shared, days in (found, best))]


def _mean_and_worst(proof: Proof, kind: str) -> str:
    muted = [o.called.muted.value for o in untroubled(proof) if o.kind == kind] or [0.0]
    return f"{_mean(muted):.1%}, worst {max(muted):.1%}"


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
