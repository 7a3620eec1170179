"""The guided search for the least pressure: begun, answered by pedal or touch, stopped at any time, read back."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.errors import TooFew
from chirotend.core.measure.least_pressure import Answer, LeastPressure, Search, about_left, least_pressure, search
from chirotend.core.memos import by_value
from chirotend.drawing.measured import Picture
from chirotend.drawing.search import RUN_NAMES, search_picture, wasted_picture
from chirotend.formats.probe_data import Pressure, Tried
from chirotend.library.probes import PressureTask, pressure_tasks
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.technique import probes
from chirotend.services.technique.probes import About, Probe
from chirotend.services.units import maybe
from chirotend.services.words import day_words, sentence

WASTED, LEAST_N = "pressure.wasted.", "pressure.least."
#: from so much that is not needed on, light notes go into the warm-up (ours, common practice)
HIGH_PCT = 20.0
#: how long a search counts for that
LIGHT_FOR = timedelta(days=28)
#: how many searches are looked at for the newest of each thing
LATEST = 12
#: earlier searches that are drawn
SHOWN = 6


@dataclass(frozen=True)
class Choice:
    """What the form offers: the tasks of her instruments, and what was searched for last."""

    tasks: tuple[PressureTask, ...]
    last: Probe[Pressure] | None
    task: PressureTask
    instrument: str
    #: what is chosen until she chooses: the last part, or one of a hand that is not spared today
    part: str


@dataclass(frozen=True)
class LeastPressurePage:
    """A search on the screen: the level asked for, the sentence, the runs as a picture, or the result."""

    probe: Probe[Pressure]
    task: PressureTask
    ask: tuple[str, ...]
    how: str
    search: Search
    run: str
    left: int
    picture: Picture
    phone: Picture
    result: LeastPressure | None
    too_few: str
    sentence: str
    next: str
    trend: str
    history: Picture | None
    pad: str


def choice(context: Context, instrument: str = "", task: str = "") -> Choice:
    """Return what can be searched for on an instrument of hers (her first without one)."""
    chosen, tasks, last = probes.offered(context, Pressure, instrument, pressure_tasks())
    wanted = task or (last.data.task if last else "")
    found = next((t for t in tasks if t.id == wanted), tasks[0])
    before = last.about.what.rpartition(", ")[2] if last and last.data.task == found.id else ""
    return Choice(tasks, last, found, chosen, _part(context, found, before))


def _part(context: Context, task: PressureTask, before: str) -> str:
    """The part that is chosen beforehand."""
    spared = probes.spared_today(context)
    wanted = before if before in task.parts else task.parts[0]
    return next((p for p in (wanted, *task.parts) if hand_of(p) not in spared), wanted)


def begin(context: Context, typed: Mapping[str, str], pads: Sequence[str] = ()) -> str:
    """Begin a search from a form, with one of the `pads` that are plugged in or none; returns its id."""
    task = pressure_tasks().get(typed.get("task", ""))
    if task is None:
        raise FieldError("task", "Say what presses: choose one of the list.")
    part = typed.get("part", "")
    if part not in task.parts:
        raise FieldError("part", f"Say which part presses: {', '.join(task.parts)}.")
    what = typed.get("what", "").strip() or task.what
    about = probes.about_of(context, {**typed, "hand": hand_of(part), "what": f"{what}, {part}"})
    probes.check_spared(context, "part", hand_of(part))
    usual = _newtons("usual_N", typed.get("usual_N", ""))
    pad = typed.get("pad", "")
    if pad and pad not in pads:
        raise FieldError("pad", "This pad is not plugged in. Plug it in and reload the page, or go on without.")
    return probes.begin(context, about, Pressure(task=task.id, usual_N=usual, pad=pad))


def hand_of(part: str) -> str:
    """Return the hand a part belongs to, by its first word; "" for neither."""
    first = part.split()[0] if part else ""
    return first if first in ("left", "right") else ""


def _newtons(field: str, text: str) -> float | None:
    return maybe(field, "On the pad", text, 0, 500, "newtons")


def least_pressure_page(context: Context, uid: str) -> LeastPressurePage:
    """Return a search as it stands, or its result when it is done."""
    found = probes.probe(context, uid, Pressure)
    task, answers = pressure_tasks()[found.data.task], _answers(found.data)
    here = search(answers)
    what, part = _named(found)
    result, too_few = _result(answers)
    sentence, trend = _pressure_in_words(context, found, result, too_few)
    values = history(context, found) if found.done else []
    return LeastPressurePage(
        found,
        task,
        tuple(_fill(task.ask if answers else "{what},\nas hard as you usually do.", what, part).split("\n")),
        _fill(task.how, what, part),
        here,
        RUN_NAMES[here.number - 1],
        about_left(here),
        search_picture(here, 1200.0),
        search_picture(here, 350.0),
        result,
        too_few,
        sentence,
        task.high if result and result.wasted >= HIGH_PCT else task.next,
        trend,
        wasted_picture(values, None) if values else None,
        _pad(found.data),
    )


def _pad(data: Pressure) -> str:
    """What a pad that is plugged in did at the last try; "" = there is none."""
    if not data.pad:
        return ""
    if not data.answers:
        return sentence("technique", "hold_still")
    newton = data.answers[-1].newton
    if newton is None:
        return sentence("technique", "pad_silent")
    return sentence("technique", "newtons_now", newtons=f"{newton:.1f}")


def _named(found: Probe[Pressure]) -> tuple[str, str]:
    what, _, part = found.about.what.rpartition(", ")
    return what, part


def _fill(text: str, what: str, part: str) -> str:
    short = part.removeprefix("left ").removeprefix("right ")
    filled = text.format(what=what, part=short)
    return filled[:1].upper() + filled[1:]


def _answers(data: Pressure) -> list[Answer]:
    return [Answer(t.level, t.spoke) for t in data.answers]


def _result(answers: list[Answer]) -> tuple[LeastPressure | None, str]:
    return _told(tuple(answers))


@by_value(256)
def _told(answers: tuple[Answer, ...]) -> tuple[LeastPressure | None, str]:
    try:
        return least_pressure(answers), ""
    except TooFew as error:
        return None, str(error).partition(": ")[2]


def answer(context: Context, uid: str, number: int, spoke: bool, newton: str = "") -> None:
    """Write the answer to try `number` (from 0); one that is written already, or comes too early, changes nothing.

    The last one ends the search and keeps its values.
    """
    found = probes.probe(context, uid, Pressure)
    here = search(_answers(found.data))
    if found.done or here.asked is None or number != len(found.data.answers):
        return
    tried = Tried(level=here.asked, spoke=spoke, newton=_newtons("newton", newton))
    data = found.data.model_copy(update={"answers": [*found.data.answers, tried]})
    if search(_answers(data)).asked is None:
        _finish(context, uid, data)
    else:
        probes.change(context, uid, data)


def back(context: Context, uid: str) -> None:
    """Take the last answer back."""
    found = probes.probe(context, uid, Pressure)
    if not found.done and found.data.answers:
        probes.change(context, uid, found.data.model_copy(update={"answers": found.data.answers[:-1]}))


def stop(context: Context, uid: str) -> bool:
    """End a search with what it has; returns False when nothing was answered: then it goes."""
    found = probes.probe(context, uid, Pressure)
    if not found.done and not found.data.answers:
        probes.delete(context, uid)
        return False
    if not found.done:
        _finish(context, uid, found.data)
    return True


def _finish(context: Context, uid: str, data: Pressure) -> None:
    result, _ = _result(_answers(data))
    values = {}
    if result is not None:
        values[WASTED + data.task] = min(100.0, result.wasted)
        if (least := _least_newtons(data, result)) is not None:
            values[LEAST_N + data.task] = least
    probes.finish(context, uid, data, values)


def _least_newtons(data: Pressure, result: LeastPressure) -> float | None:
    """The least force on the pad: the middle of what it showed on the lightest tries that spoke near the threshold."""
    near = [t.newton for t in data.answers if t.newton is not None and t.spoke and t.level <= result.least + 10]
    if near:
        return sorted(near)[len(near) // 2]
    return data.usual_N * result.least / 100 if data.usual_N is not None else None


def _pressure_in_words(
    context: Context, found: Probe[Pressure], result: LeastPressure | None, too_few: str
) -> tuple[str, str]:
    """The result in one sentence, and how it lies to the last one that compares."""
    if result is None:
        return sentence("technique", "too_few_tries", why=too_few), ""
    found_words = sentence("technique", "not_needed", wasted=f"{result.wasted:.0f}")
    if (least := _least_newtons(found.data, result)) is not None:
        found_words += " " + sentence("technique", "least_newtons", newtons=f"{least:.1f}")
    earlier = [each for each in _alike(context, found) if each[0].at_utc < found.at_utc]
    if not earlier:
        return found_words, sentence("technique", "first_search")
    before, last = earlier[-1]
    day = before.day
    change = result.wasted - last.wasted
    least_told = max(result.smallest_change, last.smallest_change)
    if abs(change) < least_told:
        return found_words, sentence(
            "technique", "too_near", day=day_words(day), wasted=f"{last.wasted:.0f}", least=f"{least_told:.0f}"
        )
    by, when, chance = f"{abs(change):.0f}", day_words(day), f"{least_told:.0f}"
    if change < 0:
        return found_words, sentence("technique", "less_than", change=by, day=when, least=chance)
    return found_words, sentence("technique", "more_than", change=by, day=when, least=chance)


def latest(context: Context) -> list[tuple[Probe[Pressure], LeastPressure]]:
    """Return the newest result of each thing searched for, newest first."""
    return context.per_request("searches", lambda: _latest(context))


def _latest(context: Context) -> list[tuple[Probe[Pressure], LeastPressure]]:
    newest: dict[tuple[str, About], tuple[Probe[Pressure], LeastPressure]] = {}
    for each in probes.of_kind(context, Pressure, most=LATEST):
        if result := _result(_answers(each.data))[0]:
            newest[each.data.task, each.about] = (each, result)
    return sorted(newest.values(), key=lambda found: found[0].day, reverse=True)


def history(context: Context, wanted: Probe[Pressure]) -> list[tuple[date, float]]:
    """Return what was not needed (%) in the latest searches that compare with `wanted`, oldest first."""
    return [(p.day, r.wasted) for p, r in _alike(context, wanted)]


def _alike(context: Context, wanted: Probe[Pressure]) -> list[tuple[Probe[Pressure], LeastPressure]]:
    return [(p, r) for p in probes.alike(context, wanted, SHOWN) if (r := _result(_answers(p.data))[0])]


def answered(context: Context) -> tuple[str, ...]:
    """Return what the week does about a press that is harder than it need be, a sentence an instrument."""
    found = []
    for instrument in context.player.instruments:
        hard = still_high(context, instrument, context.today - LIGHT_FOR)
        if hard is not None:
            name = own_library.name_of(context, instrument).lower()
            found.append(
                sentence(
                    "technique", "light_notes", wasted=f"{hard.wasted:.0f}", instrument=name, high=f"{HIGH_PCT:.0f}"
                )
            )
    return tuple(found)


def still_high(context: Context, instrument: str, first: date) -> LeastPressure | None:
    """Return the newest search on an instrument since `first` while it is at or above what asks for light notes."""
    for each, result in latest(context):
        if each.about.instrument == instrument and each.day >= first:
            return result if result.wasted >= HIGH_PCT else None
    return None
