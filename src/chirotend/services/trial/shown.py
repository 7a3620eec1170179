"""A trial as its page shows it: the answer first, the picture, how sure, what cannot be told yet."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import Evidence
from chirotend.core.trial.answer import BETTER, RANDOMISATION_LEAST, WORSE, Answer
from chirotend.drawing.measured import Picture
from chirotend.drawing.trial import TrialDay, all_pairs, trial_days
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.trial.measures import name_of, scale_of
from chirotend.services.trial.trials import Preview, Trial, all_trials, answer_of, can_grow, runs, trial
from chirotend.services.words import amount

#: a load of the days with it this far from that of the days without is named as the first other reason
LOAD_DIFFERS = 0.15
ORDER_WORDS = {
    "phases": "first without, then with it; the day of the change drawn by lot",
    "again": "without, with, without, with; the days of the changes drawn by lot",
    "pairs": "each two days in an order drawn by lot",
    "turn": "a day without, a day with it, in turn",
}


@dataclass(frozen=True)
class Doubt:
    lead: str
    rest: str


@dataclass(frozen=True)
class TrialPage:
    """What the page of a trial shows; `share` of 100 with its edges, None while there is nothing to compare."""

    trial: Trial
    measure: str
    order: str
    headline: str
    middles: str
    wide: Picture
    narrow: tuple[Picture, ...]
    pairs: Picture | None
    share: tuple[int, int, int] | None
    doubts: tuple[Doubt, ...]
    answer: Answer
    written: int
    days: int
    today_letter: str
    detects: str
    growable: bool


def trials_page(context: Context, uid: str) -> TrialPage:
    """Return the page of a trial; `NotThere` when she has none of that id."""
    t = trial(context, uid)
    found, answer = answer_of(context, t)
    evidence = todays_call(context).evidence
    padded = [*found, *[None] * (len(t.data.letters) - len(found))]
    days = [
        TrialDay(t.first + timedelta(days=n), t.data.letters[n], value, _load(evidence, t, n))
        for n, value in enumerate(padded)
    ]
    scale, middles = scale_of(t.data.measure, found), (answer.middle_a, answer.middle_b)
    without, with_it = ([d.value for d in days if d.letter == c and d.value is not None] for c in "AB")
    share = None if answer.few else tuple(round(100 * v) for v in (answer.share, answer.low, answer.high))
    return TrialPage(
        t,
        name_of(t.data.measure),
        ORDER_WORDS[t.data.order],
        headline(t, answer),
        _middles(answer),
        trial_days(days, scale, middles, 1040.0, context.today),
        tuple(trial_days(days[n : n + 14], scale, middles, 354.0, context.today) for n in range(0, len(days), 14)),
        None if answer.few else all_pairs(without, with_it, t.data.better),
        share,  # type: ignore[arg-type]
        tuple(_doubts(t, answer, days[: len(found)])),
        answer,
        sum(v is not None for v in found),
        len(found),
        t.letter(context.today) if t.ended is None and t.broken_on is None else "",
        detects_words(t.data.detects, len(t.data.letters)),
        can_grow(context, t),
    )


def _load(e: Evidence, t: Trial, n: int) -> float | None:
    load = e.load.on(t.first + timedelta(days=n))[1]
    top = e.baseline_load.high if e.baseline_load else None
    return None if load != load or not top else load / top


def headline(t: Trial, a: Answer) -> str:
    """Return the answer in one sentence."""
    days = a.n_a + a.n_b
    if a.verdict == BETTER:
        return f"Better with it, as far as {days} days can tell."
    if a.verdict == WORSE:
        return f"Worse with it, as far as {days} days can tell."
    if t.broken_on is not None:
        return "It ended before it could tell."
    if a.few:
        return "Cannot tell yet: three days of each are the least."
    if a.more_days is not None:
        return f"Cannot tell yet: about {a.more_days} more days."
    return "Cannot tell, and four weeks more would hardly change that."


def _middles(a: Answer) -> str:
    if a.middle_a is None or a.middle_b is None:
        return ""
    return f"On the middle day without it {a.middle_a:g}, with it {a.middle_b:g}."


def _doubts(t: Trial, a: Answer, days: Sequence[TrialDay]) -> list[Doubt]:
    """What else could be behind it, or is not known."""
    found = []
    if t.broken_by:
        found.append(Doubt("Something else changed.", f"{t.broken_by} The days before it are compared, and no others."))
    loads = [[d.load for d in days if d.letter == c and d.load is not None and d.value is not None] for c in "AB"]
    if all(len(each) >= 3 for each in loads):
        before, after = (median(each) for each in loads)
        if before > 0 and abs(after / before - 1) >= LOAD_DIFFERS:
            way = "rose" if after > before else "fell"
            how = round(100 * abs(after / before - 1))
            found.append(Doubt("Whether it was the change.", f"Your load {way} by {how} % too, and that counts."))
    if a.trend is not None and a.trend.S_A:
        way = "getting better" if a.trend.S_A > 0 else "getting worse"
        left = f"corrected for it: Tau-U {a.trend.tau_u:.2f}"
        found.append(Doubt("A trend.", f"The days without were {way} already ({left})."))
    found.append(_chance(t, a))
    missing = sum(d.value is None for d in days)
    if missing:
        found.append(
            Doubt("Days not written.", f"{amount(missing, 'day').capitalize()} stay missing: none was filled in.")
        )
    if t.data.order == "phases":
        found.append(Doubt("What came at that time.", "Anything else that began near that day looks the same."))
    return found


def _chance(t: Trial, a: Answer) -> Doubt:
    if a.randomisation is None:
        why = "Nothing was drawn by lot, so only the pairs speak." if t.data.order == "turn" else "Too few days yet."
        return Doubt("Chance.", why)
    lowest = ", the lowest it can be here" if round(a.randomisation.p * a.randomisation.n_arr) <= 1 else ""
    orders, p = a.randomisation.n_arr, a.randomisation.p
    sentence = f"The lot had {orders} orders; {p:.0%} of them show such a gap: p {p:.2f}{lowest}."
    if a.randomisation.n_arr < RANDOMISATION_LEAST:
        sentence += " So few can show nothing by themselves."
    return Doubt("Chance.", sentence)


def detects_words(detects: float | None, days: int) -> str:
    """Return what a trial of so many days can show."""
    if detects is None:
        return f"{days} days like these would hardly show any change for sure: take more, or pairs by lot."
    return f"In {days} days a change of {detects:g} would be seen four times in five; a smaller one may be missed."


@dataclass(frozen=True)
class TrialsPage:
    running: Trial | None
    letter: str
    trials: tuple[tuple[Trial, str], ...]


def listed_page(context: Context) -> TrialsPage:
    """Return her trials, each with its answer in a sentence."""
    now = runs(context)
    trials = tuple((t, headline(t, answer_of(context, t)[1])) for t in all_trials(context))
    return TrialsPage(now, now.letter(context.today) if now else "", trials)


def todays_line(context: Context) -> str:
    """Return what today's day of a trial is; "" = none goes on."""
    t = runs(context)
    if t is None:
        return ""
    day = (context.today - t.first).days + 1
    way = "with it (B)" if t.letter(context.today) == "B" else "without it (A)"
    return f"Trial, day {day} of {len(t.data.letters)}: today {way}: {t.data.what}."


def preview_words(p: Preview) -> str:
    """Return what a trial could show, before it begins."""
    if not p.known:
        daily = " Measure it on each of its days." if p.data.measure.kind == "measure" else ""
        return f"Too few of your own days are written to say what it could show. It can begin all the same.{daily}"
    return f"{detects_words(p.detects, len(p.data.letters))} Simulated from {p.known} of your own last 42 days."
