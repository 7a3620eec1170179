"""The grip and hold book: holds drawn, what each is good for and costs, minutes in each, the fault check."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.body.zones import zone
from chirotend.drawing.holds import hold_picture
from chirotend.drawing.looks import last_looks
from chirotend.drawing.measured import Picture
from chirotend.drawing.minutes_in import MinutesRow, minutes_strip
from chirotend.formats.probe_data import Faults
from chirotend.library.probes import FaultLook, fault_looks
from chirotend.library.schema import USES, Grip
from chirotend.services.body.condition import condition
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import demands, holds, own_library
from chirotend.services.technique import probes
from chirotend.services.words import listed, place_name, sentence

DAYS = 7
LOOKS = 6
ANSWERS = ("yes", "no", "unsure")


@dataclass(frozen=True)
class Shown:
    """A hold as the book shows it: drawn where it is drawn, its four words, what it costs, whether it is hers."""

    grip: Grip
    picture: Picture | None
    uses: tuple[tuple[str, bool], ...]
    costs: str
    relieves: str
    usual: bool


@dataclass(frozen=True)
class Asked:
    """A fault as it is asked for: today's answer ("" = none yet), the last looks as a picture."""

    look: FaultLook
    today: str
    seen: Picture | None


@dataclass(frozen=True)
class GripBookPage:
    """The book of one instrument."""

    instrument: str
    hers: tuple[Shown, ...]
    others: tuple[Shown, ...]
    strip: Picture | None
    phone: Picture | None
    next: str
    turns: tuple[holds.Turn, ...]
    choices: tuple[tuple[str, str], ...]
    faults: tuple[Asked, ...]


def grip_book_page(context: Context, instrument: str = "") -> GripBookPage:
    """Return the book of an instrument of hers (her first without one)."""
    chosen = probes.instrument_of(context, instrument)
    usual = holds.usual(context, chosen)
    mine = {g.id for g in (*usual.grips[:3], *usual.postures[:2])}
    shown = [_shown_grip(g, g.id in mine) for g in holds.fitting(context, chosen)]
    order = {g.id: n for n, g in enumerate((*usual.grips, *usual.postures))}
    hers = sorted((s for s in shown if s.usual), key=lambda s: order[s.grip.id])
    first = context.today - timedelta(days=DAYS - 1)
    minutes = holds.minutes_in(context, chosen, first, context.today)
    rows = _strip_rows(context, minutes, first)
    played = _played(context, chosen, first)
    return GripBookPage(
        chosen,
        tuple(hers),
        tuple(s for s in shown if not s.usual),
        minutes_strip(rows, first, DAYS, context.today, played) if rows else None,
        minutes_strip(rows, first, DAYS, context.today, played, 350.0) if rows else None,
        _next(context, minutes, usual),
        holds.alternation(context, chosen),
        tuple((g.id, g.name) for g in (*usual.grips, *usual.postures)),
        tuple(_asked(context, chosen)),
    )


def _shown_grip(grip: Grip, usual: bool) -> Shown:
    return Shown(
        grip,
        hold_picture(grip.id),
        tuple((use, use in grip.uses) for use in USES),
        ", ".join(zone(z).name for z in grip.costs),
        ", ".join(zone(z).name for z in grip.relieves),
        usual,
    )


def _strip_rows(context: Context, minutes: Mapping[tuple[str, date], float], first: date) -> list[MinutesRow]:
    by_hold: dict[str, dict[date, float]] = {}
    for (hold, day), value in minutes.items():
        by_hold.setdefault(hold, {})[day] = value
    known = own_library.grips(context)
    found = [MinutesRow(known[h].name if h in known else h, days) for h, days in by_hold.items()]
    return sorted(found, key=lambda row: -sum(row.minutes.values()))


def _played(context: Context, instrument: str, first: date) -> frozenset[date]:
    return frozenset(
        s.day for s in context.store.sessions(first, context.today) if any(b.instrument == instrument for b in s.blocks)
    )


def _next(context: Context, minutes: Mapping[tuple[str, date], float], usual: holds.Usual) -> str:
    """One hold to try: one that relieves what is marked now, else the usual one that was held least this week."""
    marked = {(zone(z).region, side) for z, side in condition(context, todays_call(context), None).marked}
    total = {g.id: sum(v for (h, _), v in minutes.items() if h == g.id) for g in usual.grips}
    relief = [g for g in usual.grips if marked & demands.relieved_by(g) and not marked & demands.of_grip(g)]
    if relief:
        spared = listed(sorted(map(place_name, marked & demands.relieved_by(relief[0]))))
        return sentence("technique", "easing_hold", hold=relief[0].name, places=spared)
    if len(usual.grips) > 1:
        least = min(usual.grips, key=lambda g: total[g.id])
        return sentence("technique", "least_used_hold", hold=least.name)
    return sentence("technique", "change_holds")


def _asked(context: Context, instrument: str) -> list[Asked]:
    known = own_library.instruments(context).get(instrument)
    fit = [f for f in fault_looks().values() if known and f.fits(known.family)]
    own = [f for f in fit if "all" not in f.families] + [f for f in fit if "all" in f.families]
    rounds = [p for p in probes.of_kind(context, Faults) if p.about.instrument == instrument]
    found = []
    for look in own:
        said = [(p.day, p.data.answers[look.id]) for p in rounds if look.id in p.data.answers]
        seen = [None if a == "unsure" else a == "no" for _, a in said]
        today = said[-1][1] if said and said[-1][0] == context.today else ""
        found.append(Asked(look, today, last_looks(seen, LOOKS) if seen else None))
    return found


def answer(context: Context, instrument: str, typed: Mapping[str, str]) -> None:
    """Keep today's answers of the fault check; what was not answered stays not looked at."""
    if instrument not in own_library.instruments(context):
        raise NotThere(instrument)
    said = {key: typed[key] for key in fault_looks() if typed.get(key)}
    for key, value in said.items():
        if value not in ANSWERS:
            raise FieldError(key, "Say yes, no, or not sure.")
    if not said:
        raise FieldError("faults", "Look at one thing at least: yes, no, or not sure.")
    today = [p for p in probes.of_kind(context, Faults, context.today) if p.about.instrument == instrument]
    before = today[-1].data.answers if today else {}
    data = Faults.model_validate({"answers": {**before, **said}})
    uid = today[-1].uid if today else probes.begin(context, probes.About(instrument), data)
    probes.finish(context, uid, data, {})
