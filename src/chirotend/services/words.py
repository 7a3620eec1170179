"""Sentences from findings: made when they are shown, never stored."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from chirotend.core.body.redflags import red_flag
from chirotend.core.body.zones import zone
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.rules import rules
from chirotend.core.record import Place
from chirotend.core.record.measures import measure_of
from chirotend.core.record.words import Eased, Flag, Kind, Lasting, OtherUses, SignAnswer, Timing
from chirotend.library.loader import dose_reasons, instrument_name, programmes, sentences, wordings

KIND_WORDS, TIMING_WORDS, LASTING_WORDS, FLAG_WORDS, EASED_WORDS, USES_WORDS = (
    {word.value: word.said for word in words} for words in (Kind, Timing, Lasting, Flag, Eased, OtherUses)
)
ANSWER_WORDS = {word.value: word.said for word in SignAnswer}
LOSS_WORDS = {
    "numb_constant": "numbness that is always there",
    "numb_longer": "numbness longer than ten minutes",
    "weakness": "weakness",
    "loss_of_control": "loss of control",
    "locked": "a locked finger",
    "swelling": "swelling",
}
CALL_WORDS = {
    "open": "Open",
    "muted_mp": "Muted",
    "muted_pp": "Muted",
    "tacet": "Tacet",
    "not_enough": "No call yet",
}
#: the plain half of each call: it stands beside the word wherever the word stands
CALL_PLAIN = {
    "open": "play as planned",
    "muted_mp": "shorter and softer today",
    "muted_pp": "much shorter and softer today",
    "tacet": "no playing today",
    "not_enough": "too little is written",
}
CALL_DYNAMICS = {"muted_mp": "mp", "muted_pp": "pp"}
BOOK_WORDS = {"now": "now", "today": "today", "week": "within a week", "two_weeks": "within two weeks", "": ""}
INTENSITY_WORDS = (
    "nothing",
    "just there",
    "there",
    "clearly there, playing unchanged",
    "in the way of some notes",
    "changes how you play",
    "hard to play with",
    "most notes hurt",
    "cannot go on",
    "very strong",
    "as strong as can be",
)
EFFORT_WORDS = {
    0: "nothing",
    1: "very easy",
    2: "easy",
    3: "moderate",
    4: "",
    5: "hard",
    6: "",
    7: "very hard",
    8: "",
    9: "",
    10: "all I have",
}
SHORT_REGIONS = {
    "neck & shoulder": "neck",
    "upper arm & elbow": "upper arm",
    "forearm": "forearm",
    "wrist & thumb": "wrist",
    "fingers": "fingers",
    "jaw & lips": "jaw",
    "back & seat": "back",
}


#: what is watched beside the places, and the unit of its values
SERIES_WORDS = {
    "waking_stiffness": ("stiffness on waking", "of 10"),
    "marks_an_hour": ("marks while playing", "an hour"),
    "effort": ("effort at equal load", "above days of like length"),
}
#: asked days from which a usual is spoken of
USUAL_KNOWN_DAYS = 7
#: how surely a lasting excess, from so many ln odds on
SURE = ((2.0, "very_likely"), (0.85, "likely"), (0.0, "rather"), (float("-inf"), "may_pass"))


@dataclass(frozen=True)
class Reason:
    """A finding in words: what was seen, the rule, what to do, where the rule comes from."""

    code: str
    row: int
    sentence: str
    rule: str
    do: str
    source: str
    days: tuple[date, ...]
    book: str
    #: the (region, side) whose page is behind it, or the series
    opens: tuple[str, str] | None = None
    series: str = ""


def sentence(subject: str, code: str, **values: object) -> str:
    """Return a sentence of `library/said/<subject>.toml` with its values filled in."""
    return sentences(subject)[code].format(**values)


def keyed_sentence(subject: str, key: str, **values: object) -> str:
    """Return the sentence for a key of the rules, as `sentence` does; "" for the key that says nothing."""
    return sentences(subject)[key].format(**values) if key else ""


def reason(finding: Finding) -> Reason:
    """Return `finding` in words."""
    w = wordings()[finding.code]
    values = _spoken(finding)
    return Reason(
        finding.code,
        finding.row,
        capital(w.sentence.format(**values)),
        w.rule.format(**values),
        w.do.format(**values),
        w.source,
        finding.days,
        BOOK_WORDS[finding.book],
        finding.place,
        str(finding.values.get("series", "")),
    )


def series_words(name: str) -> tuple[str, str]:
    """Return the name and unit of a series beside the places: one of a diary, or a measure by its key."""
    if name in SERIES_WORDS:
        return SERIES_WORDS[name]
    method, instrument, hand, what = (*name.split("|", 3), "")[:4]  # calls said before had no fourth part
    kind = measure_of(method)
    family = f"{kind.name}."  # an angle says of what
    which = method.removeprefix(family).replace("_", " ") if method.startswith(family) else kind.name
    parts = (which, instrument_name(instrument).lower(), hand, what)
    return ", ".join(p for p in parts if p), kind.unit


def call_words(call: str) -> str:
    """Return a call with its plain half: "Muted mp: shorter and softer today"."""
    name = " ".join(part for part in (CALL_WORDS[call], CALL_DYNAMICS.get(call, "")) if part)
    return f"{name}: {CALL_PLAIN[call]}"


def place_words(values: dict[str, Any]) -> str:
    if "zone" in values:
        return zone(str(values["zone"])).spoken(str(values["side"]))
    side = str(values.get("side", "none"))
    region = str(values.get("region", "")).replace("&", "and")
    return region if side == "none" else f"{side} {region}"


def place_name(place: Place) -> str:
    """Return a place as it is said: left wrist and thumb."""
    return place_words({"region": place[0], "side": place[1]})


def sure(odds: float) -> str:
    """Return in a sentence how surely a sign is lasting, from the log odds of a lasting excess."""
    return keyed_sentence("sure", next(key for least, key in SURE if odds >= least))


def _spoken(finding: Finding) -> dict[str, Any]:
    values: dict[str, Any] = {k: f"{v:g}" if isinstance(v, float) else v for k, v in finding.values.items()}
    values["place"] = place_words(finding.values)
    values["book"] = BOOK_WORDS[finding.book]
    if finding.days:
        values["day"] = day_words(finding.days[-1])
    if "sign" in values:
        values["sign"] = red_flag(str(values["sign"])).sentence
    if "kind" in values:
        values["kind"] = KIND_WORDS[str(values["kind"])]
    if "what" in values:
        values["what"] = LOSS_WORDS[str(values["what"])]
    if values.get("since"):
        values["since"] = day_words(date.fromisoformat(str(values["since"])))
    if finding.code == "beside":
        values["series"], values["unit"] = series_words(str(finding.values["series"]))
    if finding.code == "risen":
        values["sure"] = sure(float(finding.values["odds"]))
        values["before"] = _before_sentence(finding.values)
    if finding.code == "way_back":
        values["held_sentence"] = _way_back_sentence(finding.values)
        values["way_back_do"] = _way_back_do(finding.values)
    if finding.code == "programme":
        values["programme_name"] = programmes()[str(values["programme"])].name
        values["minutes"] = "nothing more" if finding.values["why"] == "stopped" else f"{values['dose_min']} minutes"
        values["why_sentence"] = dose_reason(str(finding.values["why"]), float(finding.values["number"]))
    if finding.code in ("morning_pain", "first_morning_pain"):
        values["usual_words"] = _usual_words(finding.values)
    if finding.code == "long_level":
        values["level_words"] = _level_words(str(finding.values["level"]))
        values["long_level_do"] = _long_level_do(bool(finding.book))
    if finding.code == "told_without":
        values["without_words"] = no_instruments(str(finding.values["without"]).split(","))
    if "happened" in finding.values:
        values["since_words"] = f" on {values['since']}" if values.get("since") else ""
        values["from_words"] = f" since {values['since']}" if values.get("since") else ""
    if finding.code == "not_enough":
        values["logged_sentence"] = _not_enough_sentence(finding.values)
    return values


def dose_reason(why: str, number: float) -> str:
    """Return why the dose of a programme is what it is today."""
    return dose_reasons()[why].format(number=f"{number:g}")


def _long_level_do(seen_by_someone: bool) -> str:
    """What to do of a level that stands long: at first, and when someone should see it."""
    return sentence("way_back", "long_see_someone") if seen_by_someone else sentence("way_back", "long_ask")


def _way_back_sentence(values: dict[str, Any]) -> str:
    if values["held"]:
        return sentence("way_back", "held")
    left = math.ceil(float(values["needed"]) - float(values["clear"]))
    step = sentence("way_back", "mornings_left", mornings=amount(left, "clear morning"))
    return f"{step} {keyed_sentence('still', values.get('still', ''), **values)}".strip()


def _way_back_do(values: dict[str, Any]) -> str:
    """What to do on the way back: of a day without playing nothing is said of playing."""
    if values["held"]:
        return sentence("way_back", "held_do")
    return sentence("way_back", "rest_do") if values["level"] == "tacet" else sentence("way_back", "limit_do")


def _usual_words(values: dict[str, Any]) -> str:
    """Her usual beside a morning; of a record too young to have one nothing is said."""
    if int(values.get("asked", USUAL_KNOWN_DAYS)) < USUAL_KNOWN_DAYS:
        return ""
    usual = float(values["usual"])
    return " " + (
        sentence("way_back", "usually_so_much", usual=f"{usual:g}") if usual else sentence("way_back", "usually_not")
    )


def _level_words(level: str) -> str:
    return " ".join(part for part in (CALL_WORDS[level], CALL_DYNAMICS.get(level, "")) if part)


def _before_sentence(values: dict[str, Any]) -> str:
    times, longest = int(values["passed"]), int(values["longest"])
    if not times:
        return sentence("way_back", "nothing_before")
    return sentence("way_back", "passed_before", times=times_words(times), days=amount(longest, "day"))


def times_words(count: int) -> str:
    """Once, 3 times."""
    return "once" if count == 1 else f"{count} times"


def _not_enough_sentence(values: dict[str, Any]) -> str:
    written, needed = int(values["logged"]), rules().enough_days
    if written >= needed:
        return sentence("way_back", "answer_today")
    if not written:
        return sentence("way_back", "nothing_written", days=amount(needed, "day"))
    return sentence("way_back", "too_few_written", written=amount(written, "day"), more=amount(needed - written, "day"))


def day_words(day: date) -> str:
    return f"{day:%A} {day.day} {day:%B}"


def date_words(day: date) -> str:
    """26 November."""
    return f"{day.day} {day:%B}"


def short_day_words(day: date) -> str:
    """Thu 26 November."""
    return f"{day:%a} {day.day} {day:%B}"


def long_time(minutes: float) -> str:
    """43 min, 3 h 15."""
    whole = round(minutes)
    return f"{whole} min" if whole < 120 else f"{whole // 60} h {whole % 60:02d}"


def listed(names: Iterable[str]) -> str:
    """A; a and b; a, b and c."""
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last


def no_instrument(instrument: str) -> str:
    """No contrabassoon."""
    return f"no {instrument_name(instrument).lower()}"


def no_instruments(instruments: Iterable[str]) -> str:
    """No bassoon and no contrabassoon."""
    return listed(map(no_instrument, instruments))


def amount(count: int, thing: str) -> str:
    """No performance, one performance, 3 performances."""
    return f"no {thing}" if not count else f"one {thing}" if count == 1 else f"{count} {thing}s"


def ordinal(number: object) -> str:
    """1st, 2nd, 3rd, 11th; what is no number stays as it is."""
    text = str(number)
    if not text.isdigit():
        return text
    last, teen = text[-1], text[-2:-1] == "1"
    return text + ("th" if teen else {"1": "st", "2": "nd", "3": "rd"}.get(last, "th"))


def capital(text: str) -> str:
    return text[:1].upper() + text[1:]
