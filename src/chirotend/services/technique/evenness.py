"""Evenness and dynamics of a recording: which finger comes early or loud, how even the whole is, where she lets go."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import IO

import numpy as np

from chirotend.core.errors import MethodError
from chirotend.core.measure.anchor import EDGE_S
from chirotend.core.measure.cycle import Cycle, Step, cycle
from chirotend.core.measure.loudness import SILENT_BELOW_DB, Played, played
from chirotend.core.measure.onsets import CLEAR_LEAST
from chirotend.core.measure.stretch import Stretch
from chirotend.core.measure.timing import Evenness as IoiEvenness
from chirotend.core.measure.timing import evenness_of
from chirotend.drawing.evenness import finger_lines, rounds_picture, small_rounds, whole_picture
from chirotend.drawing.measured import Picture
from chirotend.formats import sound
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import Evenness, StepFound
from chirotend.library.probes import Figure, figures
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.play import takes
from chirotend.services.record import measured
from chirotend.services.technique import probes
from chirotend.services.technique.hearing import Heard, hear_sandboxed
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.probes import BYTES_MAX, About, Brought, File, Probe
from chirotend.services.units import decimals
from chirotend.services.words import keyed_sentence, sentence

SPREAD, PAIRS, WORST, NOTES = "even.spread", "even.pairs", "even.worst", "even.notes"
ABOVE_P, LONGEST, MY_P = "sound.above_p", "sound.longest", "sound.my_p"
STEPS_MAX, LENGTHS = 16, (0.01, 100.0)
#: how well beginnings of notes are told, by family: spread on synthesised notes, ms (measured here, tests/core/measure)
ONSET_SPREAD_MS = {
    "sticks_mallets": 1,
    "marching": 1,
    "hand_drums": 1,
    "handbells": 2,
    "fretted": 2,
    "electric_bass": 2,
}
ONSET_SPREAD_MS |= {"harp": 2, "keyboard": 2}
ONSET_SPREAD_OTHER_MS = 6
#: a finger is named from so far off the beat, and so much louder than the others, on (ours, common practice)
OFF_MS, LOUD_DB = 8.0, 1.5
#: and only where chance alone would set a finger as far apart no more often than this
CHANCE_MOST = 0.05
ROUNDS_SHOWN = 3
#: recordings side by side on the bench
SHOWN = 5


@dataclass(frozen=True)
class Choice:
    """What the form offers: figures of an instrument of hers, takes that can be heard, what was measured last."""

    figures: tuple[Figure, ...]
    takes: tuple[tuple[str, str], ...]
    last: Probe[Evenness] | None
    instrument: str


@dataclass(frozen=True)
class EvennessPage:
    """A recording heard: pictures, numbers, one sentence and one thing to try; `problem` where it tells too little."""

    probe: Probe[Evenness]
    sentence: str
    next: str
    problem: str
    notes: tuple[str, ...]
    numbers: tuple[tuple[str, str], ...]
    whole: Picture | None
    rounds: Picture | None
    fingers: Picture | None
    fine: str
    my_p: bool
    first_round: int
    last_round: int
    total_rounds: int
    #: the steps the first note may have been, by number and name (none = its rhythm tells it); the one it was taken for
    firsts: tuple[tuple[int, str], ...]
    first: int | None
    counted_from: str


def choice(context: Context, instrument: str = "") -> Choice:
    """Return what can be measured on an instrument of hers (her first without one)."""
    chosen, fit, last = probes.offered(context, Evenness, instrument, figures())
    return Choice(fit, takes.named(context), last, chosen)


def figure_of(typed: Mapping[str, str]) -> Figure:
    """Return the figure that was chosen, or the one written out step by step ("down, up")."""
    named = typed.get("figure", "")
    if named in figures():
        return figures()[named]
    steps = [s.strip() for s in typed.get("steps", "").split(",") if s.strip()]
    if not 2 <= len(steps) <= STEPS_MAX or max(map(len, steps), default=99) > 60:
        raise FieldError("steps", f"Choose a figure, or write 2 to {STEPS_MAX} fingers with commas between: down, up.")
    return Figure(
        id="own",
        name="A figure of your own",
        families=("all",),
        steps=tuple(steps),
        lengths=_lengths(typed, len(steps)),
    )


def _lengths(typed: Mapping[str, str], count: int) -> tuple[float, ...]:
    found = decimals("lengths", typed.get("lengths", ""), LENGTHS[0], LENGTHS[1], "3 1")
    if found and len(found) != count:
        raise FieldError("lengths", f"Write {count} lengths with spaces between, such as 3 1; none = all equal.")
    return tuple(found)


def bring(
    context: Context, folder: Path, typed: Mapping[str, str], stream: IO[bytes] | None, file_name: str
) -> Brought:
    """Put a recording (brought, or one of her takes) into the folder; returns the probe it will be."""
    figure = figure_of(typed)
    about = replace(
        probes.about_of(context, typed),
        hand="",
        what=figure.name if figure.id != "own" else ", ".join(figure.steps)[:80],
    )
    take = typed.get("take", "")
    if stream is not None:
        name, size, head = probes.store(context, folder, "sound", stream, BYTES_MAX)
        source = file_name
    elif take:
        path, _ = takes.sound_of(context, folder, take)
        with path.open("rb") as sound_of_take:  # a copy: the take may be thrown away while it is heard
            name, size, head = probes.store(context, folder, "sound", sound_of_take, BYTES_MAX)
        source = takes.take_of(context, take).title or "a take"
    else:
        raise FieldError("sound", "Bring a recording, choose one of your takes, or record one now.")
    try:
        media = sound.kind_of(head)
    except UnreadableFile as error:
        probes.drop_file(context, folder, name)
        raise FieldError("sound", str(error)) from error
    data = Evenness(
        figure=figure.id,
        lengths=list(figure.parts),
        steps=list(figure.steps),
        source=source[:80],
        seconds=0,
        onsets=[],
        take=take,
        midi=media == "audio/midi",
    )
    return Brought(about, data, File(name, size, media))


def listen(
    _context: Context, folder: Path, file: File, seconds: int, step: Callable[[float], None] | None = None
) -> Heard:
    """Hear a recording; nothing is changed. `UnreadableFile` says what is wrong with it."""
    return hear_sandboxed(folder / file.name, file.media, seconds, step)


def keep_heard(context: Context, uid: str, heard: Heard) -> None:
    """Keep what was heard in the recording of a probe, with the values it gives."""
    found = probes.probe(context, uid, Evenness)
    my_p = my_p_db(context, found.about)
    update = {
        "seconds": heard.seconds,
        "onsets": heard.onsets,
        "levels": heard.levels,
        "envelope": heard.envelope,
        "step_s": heard.step_s,
        "midi": heard.midi,
        "breaks_off": heard.breaks_off,
        "chords": heard.chords,
        "clear": heard.clear,
        "my_p_db": None if heard.midi else my_p,
    }
    _keep_result(context, uid, found.data.model_copy(update=update))


def _keep_result(context: Context, uid: str, data: Evenness) -> None:
    result = _evenness_result(data)
    steps = [StepFound(**asdict(step)) for step in result.rounds.steps] if result.rounds else []
    data = data.model_copy(update={"found": steps, "spread": result.even.cv if result.even else None})
    probes.finish(context, uid, data, _values(data, result))


def say_first(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Keep with which finger the first note was played, and work the recording out anew. `FieldError` where it cannot
    be."""
    data = probes.probe(context, uid, Evenness).data
    rounds = _cycle(data)[0]
    said = typed.get("first", "")
    if rounds is None or said not in {str(n) for n in rounds.anchor.firsts}:
        raise FieldError("first", "Choose the finger that played the first note of the figure.")
    _keep_result(context, uid, data.model_copy(update={"first": int(said)}))


def my_p_db(context: Context, about: About) -> float | None:
    """Return the loudness of her p on an instrument with this microphone (`kit`), dB of full scale; None = not set."""
    rows = [r for r in measured.kept(context, MY_P, instrument=about.instrument) if r.what == about.kit]
    return rows[-1].value if rows else None


def set_my_p(context: Context, uid: str) -> None:
    """Take the middle loudness of a recording as her p on this instrument, with this microphone at its place."""
    found = probes.probe(context, uid, Evenness)
    level = _middle_level(found.data)
    if level is None:
        raise FieldError("my_p", "Nothing is heard in it that could be your p.")
    measured.keep(context, MY_P, level, instrument=found.about.instrument, what=found.about.kit, probe="")
    data = found.data.model_copy(update={"my_p_db": level})
    probes.finish(context, uid, data, _values(data, _evenness_result(data)))


@dataclass(frozen=True)
class EvennessResult:
    """What a recording tells: its rounds, or why there are none; how even the whole is; what of it was played."""

    rounds: Cycle | None
    problem: str
    even: IoiEvenness | None
    playing: Played | None


def _evenness_result(data: Evenness) -> EvennessResult:
    rounds, problem = _cycle(data)
    return EvennessResult(rounds, problem, _even(data, rounds), _playing(data))


def _playing(data: Evenness) -> Played | None:
    if not data.envelope:
        return None
    rms = 10 ** (np.array(data.envelope) / 20)
    try:
        return played(rms, data.step_s)
    except MethodError:
        return None


def _sounding(data: Evenness) -> np.ndarray:
    level = np.array(data.envelope)
    return level[level > np.percentile(level, 95) - SILENT_BELOW_DB] if len(level) else level


def _middle_level(data: Evenness) -> float | None:
    heard = _sounding(data)
    return float(np.median(heard)) if len(heard) else None


def _above_p(data: Evenness) -> float | None:
    """How much of the playing is more than 3 dB louder than her p (%); None = her p is not set."""
    heard = _sounding(data)
    if data.my_p_db is None or not len(heard):
        return None
    return float(100 * (heard > data.my_p_db + 3).mean())


def _is_blurred(data: Evenness) -> bool:
    """Whether its notes begin too unclearly to be timed."""
    return data.clear is not None and data.clear < CLEAR_LEAST


def _cycle(data: Evenness) -> tuple[Cycle | None, str]:
    if _is_blurred(data):
        return None, sentence("technique", "blurred")
    try:
        edge = 0.0 if data.midi else EDGE_S
        return cycle(data.onsets, data.lengths, data.levels, data.first, edge), ""
    except MethodError as error:
        return None, str(error).partition(": ")[2]


def _even(data: Evenness, rounds: Cycle | None) -> IoiEvenness | None:
    """The spread from each note to the next one of the figure; only notes that are meant equal compare so."""
    if rounds is None or len(set(data.lengths)) > 1:
        return None
    try:
        return evenness_of(rounds.runs_s)
    except MethodError:
        return None


def _off(steps: Sequence[Step | StepFound]) -> tuple[int, float]:
    """The step furthest from its beat and how far (ms, − = early)."""
    worst = max(range(len(steps)), key=lambda n: abs(steps[n].middle_ms))
    return worst, steps[worst].middle_ms


def _values(data: Evenness, result: EvennessResult) -> dict[str, float]:
    values: dict[str, float] = {}
    if result.rounds is not None:
        values[WORST] = abs(_off(result.rounds.steps)[1])
    if result.even is not None:
        values[SPREAD], values[PAIRS] = min(300.0, 100 * result.even.cv), result.even.npvi
    seconds = sum(s.seconds for s in result.playing.stretches) if result.playing else data.seconds
    if not _is_blurred(data) and seconds > 0 and (a_minute := 60 * len(data.onsets) / seconds) >= 1:
        values[NOTES] = min(3000.0, a_minute)
    if result.playing is not None:
        values[LONGEST] = result.playing.longest.seconds
    if (above := _above_p(data)) is not None:
        values[ABOVE_P] = above
    return values


def evenness_page(context: Context, uid: str, round_from: int | None = None) -> EvennessPage:
    """Return a recording as it was heard; `round_from` = the first of the rounds drawn large (None = the worst)."""
    found = probes.probe(context, uid, Evenness)
    data, result = found.data, _evenness_result(found.data)
    rounds = result.rounds
    first = _first_round(rounds, round_from) if rounds else 0
    sentence, following = _evenness_in_words(data, rounds, result.problem)
    names = data.steps if rounds and rounds.anchor.is_told else [f"note {n + 1}" for n in range(len(data.steps))]
    firsts = rounds.anchor.firsts if rounds and len(rounds.anchor.firsts) > 1 else ()
    return EvennessPage(
        found,
        sentence,
        following,
        result.problem,
        _notes(data, rounds),
        _numbers(data, result),
        whole_picture(data.envelope, data.step_s, data.my_p_db, result.playing, _span(rounds, first))
        if data.envelope
        else None,
        rounds_picture(rounds, names, data.lengths, first, ROUNDS_SHOWN, _named(rounds)) if rounds else None,
        finger_lines(rounds, names, _named(rounds)) if rounds else None,
        _fine(context, found),
        data.my_p_db is not None,
        first + 1,
        min(first + ROUNDS_SHOWN, rounds.rounds) if rounds else 0,
        rounds.rounds if rounds else 0,
        tuple((n, data.steps[n]) for n in firsts),
        rounds.anchor.first if rounds and rounds.anchor.is_told else None,
        _counted_from(data, rounds),
    )


def _counted_from(data: Evenness, rounds: Cycle | None) -> str:
    """How the first note of the figure was taken."""
    if rounds is None or not rounds.anchor.is_told:
        return sentence("technique", "first_unknown")
    if data.first == rounds.anchor.first:
        return sentence("technique", "first_said")
    return sentence("technique", "first_as_figure")


def _first_round(found: Cycle, asked: int | None) -> int:
    last = max(0, found.rounds - ROUNDS_SHOWN)
    if asked is not None:
        return max(0, min(last, asked - 1))
    worst, off = _off(found.steps)
    way = 1 if off >= 0 else -1
    best = max((n for n in found.notes if n.step == worst), key=lambda n: way * n.off_ms)
    return max(0, min(last, best.round - 1))


def _span(found: Cycle | None, first: int) -> Stretch | None:
    """The seconds of the rounds that are drawn large."""
    if found is None:
        return None
    times = [n.at_s for n in found.notes if first <= n.round < first + ROUNDS_SHOWN]
    return Stretch(min(times), max(times)) if times else None


def _named(found: Cycle | None) -> int | None:
    """The step that is named: the furthest off when it is far enough and no chance, else none."""
    return None if found is None or not found.anchor.is_told else _standing_out(found)


def _standing_out(found: Cycle) -> int | None:
    """The step furthest off when it is far enough and no chance, whichever finger it is."""
    worst, off = _off(found.steps)
    return worst if abs(off) >= OFF_MS and found.chance_late <= CHANCE_MOST else None


def _louder(found: Cycle) -> int | None:
    """The loudest step when it is loud enough and no chance, else none."""
    if found.chance_loud is None or found.chance_loud > CHANCE_MOST:
        return None
    most = max(range(len(found.steps)), key=lambda n: found.steps[n].level_db or 0.0)
    return most if (found.steps[most].level_db or 0.0) >= LOUD_DB else None


def _evenness_in_words(data: Evenness, rounds: Cycle | None, problem: str) -> tuple[str, str]:
    if _is_blurred(data):
        return sentence("technique", "blurred"), sentence("technique", "blurred_do")
    if rounds is None:
        return (
            sentence("technique", "too_little", problem=problem),
            sentence("technique", "too_little_do"),
        )
    if not rounds.anchor.is_told and (_standing_out(rounds) is not None or _louder(rounds) is not None):
        return sentence("technique", "which_first"), sentence("technique", "which_first_do")
    worst, most = _named(rounds), _louder(rounds)
    if worst is None and most is not None:
        return (
            sentence("technique", "louder", finger=data.steps[most], db=f"{rounds.steps[most].level_db:.0f}"),
            sentence("technique", "finger_do", finger=data.steps[most]),
        )
    if worst is None:
        return sentence("technique", "on_time"), sentence("technique", "on_time_do")
    step, name = rounds.steps[worst], data.steps[worst]
    off, loud = step.middle_ms, worst == most
    key = ("early" if off < 0 else "late") + ("_loud" if loud else "")
    found = keyed_sentence("finger", key, finger=name, ms=f"{abs(off):.0f}", rounds=step.same_way, of=step.rounds)
    return found, sentence("technique", "finger_do", finger=name)


def _numbers(data: Evenness, result: EvennessResult) -> tuple[tuple[str, str], ...]:
    values = _values(data, result)
    rows = []
    if NOTES in values:
        rows.append(("notes a minute", f"{values[NOTES]:.0f}"))
    if SPREAD in values:
        rows.append(("unevenness", f"{values[SPREAD]:.0f} %"))
    if PAIRS in values:
        rows.append(("from note to note", f"{values[PAIRS]:.0f} nPVI"))
    if ABOVE_P in values:
        rows.append(("above your p", f"{values[ABOVE_P]:.0f} %"))
    if LONGEST in values:
        rows.append(("longest without a let-go", f"{values[LONGEST]:.0f} s"))
    if result.playing is not None:
        rows.append(("played", f"{result.playing.share_pct:.0f} %"))
    if result.rounds is not None and len(data.steps) == 2:
        rows.append((f"{data.steps[0]} against {data.steps[1]}", _two_strokes(*result.rounds.steps)))
    if result.rounds is not None and result.rounds.drift_pct_min is not None:
        drift = result.rounds.drift_pct_min
        rows.append(
            (
                "tempo",
                "steady" if abs(drift) < 1 else f"{abs(drift):.0f} % {'faster' if drift > 0 else 'slower'} a minute",
            )
        )
    return tuple(rows)


def _two_strokes(one: Step, other: Step) -> str:
    """How the first of two strokes lies to the other: how far off its beat, and how much louder."""
    off = one.middle_ms - other.middle_ms
    said = f"{abs(off):.0f} ms {'later' if off > 0 else 'earlier'}" if abs(off) >= 1 else "on time alike"
    if one.level_db is None or other.level_db is None:
        return said
    louder = one.level_db - other.level_db
    return f"{said}, {abs(louder):.1f} dB {'louder' if louder > 0 else 'softer'}"


def _notes(data: Evenness, rounds: Cycle | None) -> tuple[str, ...]:
    notes = []
    if _is_blurred(data):
        notes.append(sentence("technique", "blurred_why"))
    if data.breaks_off:
        notes.append(sentence("technique", "breaks_off", seconds=f"{data.seconds:.1f}"))
    if rounds is not None and (rounds.anchor.missed or rounds.anchor.extra):
        missed, extra = rounds.anchor.missed, rounds.anchor.extra
        notes.append(sentence("technique", "missed_notes", missed=missed, extra=extra))
    if rounds is not None and rounds.anchor.aside:
        notes.append(sentence("technique", "set_aside", sounds=rounds.anchor.aside))
    if data.chords:
        notes.append(sentence("technique", "chords", chords=data.chords))
    if data.my_p_db is None and not data.midi and data.envelope:
        notes.append(sentence("technique", "p_not_set"))
    if len(set(data.lengths)) > 1:
        notes.append(sentence("technique", "unequal_notes"))
    return tuple(notes)


def _fine(context: Context, found: Probe[Evenness]) -> str:
    if found.data.midi:
        return sentence("technique", "from_midi")
    if _is_blurred(found.data):
        return sentence("technique", "no_sound_level")
    known = own_library.instruments(context).get(found.about.instrument)
    spread = ONSET_SPREAD_MS.get(known.family, ONSET_SPREAD_OTHER_MS) if known else ONSET_SPREAD_OTHER_MS
    return f"{sentence('technique', 'onset_spread', ms=spread)} {sentence('technique', 'no_sound_level')}"


def line(context: Context) -> ProbeLine:
    """Return the evenness line of the bench."""
    heard = [p for p in probes.of_kind(context, Evenness, most=SHOWN) if p.data.found]
    if not heard:
        return never_done(
            Evenness.kind,
            "Evenness",
            "Half a minute of one figure, recorded here: which finger comes early?",
            "Record",
            "technique.evenness",
        )
    last = heard[-1]
    rounds, problem = _cycle(last.data)
    worst, off = _off(last.data.found)
    alike = [p for p in heard if p.about == last.about]
    trend = _trend(alike)
    return ProbeLine(
        Evenness.kind,
        "Evenness",
        last.day,
        f"{abs(off):.0f} ms",
        f"{last.data.steps[worst]}, {'early' if off < 0 else 'late'}",
        small_rounds([(p.day, [s.middle_ms for s in p.data.found]) for p in alike], worst),
        f"{trend}{_evenness_in_words(last.data, rounds, problem)[0]}",
        "Record",
        "technique.evenness",
    )


def _trend(alike: list[Probe[Evenness]]) -> str:
    spreads = [p.data.spread for p in alike if p.data.spread is not None]
    if len(spreads) < 2 or abs(spreads[-1] - spreads[0]) < 0.01:
        return ""
    way = "evener" if spreads[-1] < spreads[0] else "less even"
    return f"The rounds are {way} than in {alike[0].day:%B}. "
