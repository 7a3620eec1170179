"""A trial as its page shows it: the answer first, the picture, how sure, what cannot be told yet."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import Evidence
from chirotend.core.review.important_change import PAIN_POINTS, PAIN_SHARE_PCT, nrs_change
from chirotend.core.trial.answer import BETTER, RANDOMISATION_LEAST, WORSE, Answer
from chirotend.core.trial.designs import TrialDesign, trial_designs
from chirotend.core.trial.order import STRETCHES
from chirotend.drawing.designs import DrawnDesign, designs
from chirotend.drawing.measured import Picture
from chirotend.drawing.trial import TrialDay, all_pairs, trial_days
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.trial.measures import name_of, scale_of
from chirotend.services.trial.trials import Preview, Trial, all_trials, answer_of, can_grow, runs, trial
from chirotend.services.words import amount, date_words, sentence

#: a load of the days with it this far from that of the days without is named as the first other reason
LOAD_DIFFERS = 0.15
ORDER_WORDS = {
    "phases": "first without, then with it; the day of the change drawn by lot",
    "again": "without, with, without, with; the days of the changes drawn by lot",
    "pairs": "each two days in an order drawn by lot",
    "turn": "a day without, a day with it, in turn",
}
#: the same, short
DESIGN_NAMES = {
    "phases": "First without, then with it",
    "again": "Without, with, without, with",
    "pairs": "In pairs, drawn by lot",
    "turn": "In turn, a day each",
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
    #: its days are not over: nothing is compared yet, and who ends it now gets no answer
    goes_on: bool

    @property
    def ends_early(self) -> str:
        """What ending it now costs; "" = its days are over."""
        return sentence("trial", "ends_early", day=date_words(self.trial.last)) if self.goes_on else ""


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
    goes_on = not answer.is_over and not t.is_cut_short
    share = None if answer.few or goes_on else tuple(round(100 * v) for v in (answer.share, answer.low, answer.high))
    return TrialPage(
        t,
        name_of(t.data.measure),
        ORDER_WORDS[t.data.order],
        headline(t, answer),
        "" if goes_on else _middles(t, answer),
        trial_days(days, scale, middles, 1040.0, context.today),
        tuple(trial_days(days[n : n + 14], scale, middles, 354.0, context.today) for n in range(0, len(days), 14)),
        None if share is None else all_pairs(without, with_it, t.data.better),
        share,  # type: ignore[arg-type]
        tuple(_doubts(t, answer, days[: len(found)])),
        answer,
        sum(v is not None for v in found),
        len(found),
        t.letter(context.today) if t.ended is None and t.broken_on is None else "",
        detects_words(t.data.detects, len(t.data.letters)),
        can_grow(context, t),
        goes_on,
    )


def _load(e: Evidence, t: Trial, n: int) -> float | None:
    load = e.load.on(t.first + timedelta(days=n))[1]
    top = e.baseline_load.high if e.baseline_load else None
    return None if load != load or not top else load / top


def headline(t: Trial, a: Answer) -> str:
    """Return the answer in one sentence."""
    days = a.n_a + a.n_b
    if a.verdict == BETTER:
        return sentence("trial", "better", days=days)
    if a.verdict == WORSE:
        return sentence("trial", "worse", days=days)
    if t.is_cut_short:
        return sentence("trial", "ended_early")
    if not a.is_over:
        return sentence("trial", "goes_on", day=date_words(t.last))
    if a.few:
        return sentence("trial", "too_few")
    if a.more_days is not None:
        return sentence("trial", "more_days", days=a.more_days)
    return sentence("trial", "hardly")


def _middles(t: Trial, a: Answer) -> str:
    """The middle day of each kind; of one that is better, whether it is so by as much as usually matters."""
    if a.middle_a is None or a.middle_b is None:
        return ""
    said = sentence("trial", "middles", without=f"{a.middle_a:g}", with_it=f"{a.middle_b:g}")
    if a.verdict != BETTER or t.data.measure.kind != "mark" or not a.middle_a:
        return said
    points, share = f"{PAIN_POINTS:g}", f"{PAIN_SHARE_PCT:g}"
    if nrs_change(a.middle_a, a.middle_b).clear:
        return f"{said} {sentence('trial', 'matters', points=points, share=share)}"
    return f"{said} {sentence('trial', 'matters_not', points=points, share=share)}"


def _doubts(t: Trial, a: Answer, days: Sequence[TrialDay]) -> list[Doubt]:
    """What else could be behind it, or is not known."""
    found = []
    if t.broken_by:
        found.append(Doubt("Something else changed.", sentence("trial", "days_before", what=t.broken_by)))
    loads = [[d.load for d in days if d.letter == c and d.load is not None and d.value is not None] for c in "AB"]
    if all(len(each) >= 3 for each in loads):
        before, after = (median(each) for each in loads)
        if before > 0 and abs(after / before - 1) >= LOAD_DIFFERS:
            how = round(100 * abs(after / before - 1))
            rose, fell = sentence("trial", "load_rose", share=how), sentence("trial", "load_fell", share=how)
            found.append(Doubt("Whether it was the change.", rose if after > before else fell))
    if a.trend is not None and a.trend.S_A:
        tau = f"{a.trend.tau_u:.2f}"
        up, down = sentence("trial", "getting_better", tau=tau), sentence("trial", "getting_worse", tau=tau)
        found.append(Doubt("A trend.", up if a.trend.S_A > 0 else down))
    found.append(_chance(t, a))
    missing = sum(d.value is None for d in days)
    if missing:
        found.append(
            Doubt("Days not written.", sentence("trial", "stay_missing", days=amount(missing, "day").capitalize()))
        )
    if t.data.order in STRETCHES:
        found.append(Doubt("Getting better anyway.", sentence("trial", "recovering")))
    if t.data.order == "phases":
        found.append(Doubt("What came at that time.", sentence("trial", "same_time")))
    return found


def _chance(t: Trial, a: Answer) -> Doubt:
    if a.randomisation is None:
        why = sentence("trial", "not_drawn") if t.data.order == "turn" else sentence("trial", "few_days")
        return Doubt("Chance.", why)
    orders, share = a.randomisation.n_arr, f"{100 * a.randomisation.p:.0f} %"
    lowest = round(a.randomisation.p * orders) <= 1
    said = sentence("trial", "orders", orders=orders, share=share)
    if lowest:
        said = sentence("trial", "orders_lowest", orders=orders, share=share)
    if orders < RANDOMISATION_LEAST:
        said = f"{said} {sentence('trial', 'orders_few')}"
    return Doubt("Chance.", said)


def detects_words(detects: float | None, days: int) -> str:
    """Return what a trial of so many days can show."""
    if detects is None:
        return sentence("trial", "shows_nothing", days=days)
    return sentence("trial", "shows", days=days, change=f"{detects:g}")


@dataclass(frozen=True)
class TrialsPage:
    """Her trials, the one that runs with today's letter, and what each order of days can show, wide and narrow."""

    running: Trial | None
    letter: str
    trials: tuple[tuple[Trial, str], ...]
    designs_wide: Picture
    designs_phone: Picture
    designs_in_words: str


def listed_page(context: Context) -> TrialsPage:
    """Return her trials, each with its answer in a sentence."""
    now = runs(context)
    trials = tuple((t, headline(t, answer_of(context, t)[1])) for t in all_trials(context))
    drawn = [_drawn_design(design) for design in trial_designs()]
    letter = now.letter(context.today) if now else ""
    said = " ".join(_design_in_words(each) for each in drawn)
    return TrialsPage(now, letter, trials, designs(drawn, 1040.0, 2), designs(drawn, 354.0, 1), said)


def _design_in_words(design: DrawnDesign) -> str:
    """The picture of an order for who cannot see it."""
    return f"{design.name}: {', '.join(f'{said}, {share:.0f}' for said, share, _ in design.bars)}."


def _drawn_design(design: TrialDesign) -> DrawnDesign:
    bars = (
        (sentence("trial", "design_one"), design.one, False),
        (sentence("trial", "design_two"), design.two, False),
        (sentence("trial", "design_nothing"), design.nothing, True),
        (sentence("trial", "design_recovering"), design.recovering, True),
    )
    return DrawnDesign(DESIGN_NAMES[design.order], design.example, bars)


def todays_line(context: Context) -> str:
    """Return what today's day of a trial is; "" = none goes on."""
    t = runs(context)
    if t is None:
        return ""
    day = (context.today - t.first).days + 1
    of, what = len(t.data.letters), t.data.what
    if t.letter(context.today) == "B":
        return sentence("trial", "today_with", day=day, of=of, what=what)
    return sentence("trial", "today_without", day=day, of=of, what=what)


def preview_words(p: Preview) -> str:
    """Return what a trial could show, before it begins."""
    if not p.known:
        daily = sentence("trial", "measure_daily") if p.data.measure.kind == "measure" else ""
        return f"{sentence('trial', 'own_too_few')} {daily}".strip()
    return f"{detects_words(p.detects, len(p.data.letters))} {sentence('trial', 'simulated', days=p.known)}"
