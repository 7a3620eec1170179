"""The knowledge files: whole, consistent, and within what may be said (clinical rules: "never say")."""

import re
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest

import chirotend
from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import regions, zones
from chirotend.core.judge.evidence import Ceiling
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.happened import Happening
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP
from chirotend.core.record.words import FLAGS, LASTING, SYMPTOM_KINDS, TIMINGS
from chirotend.core.tables import numbers
from chirotend.library import loader
from chirotend.services import words
from tests.core.diary import TODAY, Diary, mark

ROOT = Path(chirotend.__file__).parent
SHOWN = [
    *ROOT.glob("web/templates/**/*.html"),
    *ROOT.glob("library/**/*.toml"),
    *(file for file in ROOT.glob("services/**/*.py") if file.parent.name != "server"),  # a damaged file is one
    *ROOT.glob("web/pages/**/*.py"),
    ROOT / "core/tables/red_flags.csv",
]
NEVER = (
    "you are safe",
    "cleared to",
    "play through",
    "just tension",
    "damage",
    "bad posture",
    "complian",
    "risk of",
    "injury risk",
    "% risk",
    "streak",
    "score out of",
    "crush",
    "warning!",
    "patient",
    "diagnosed",
    "goal",
)


@pytest.mark.parametrize("file", SHOWN, ids=lambda p: p.name)
def test_nothing_shown_says_what_may_never_be_said(file):
    text = re.sub(r"\{#.*?#\}|\{%.*?%\}", " ", file.read_text(encoding="utf-8"), flags=re.S).lower()
    assert [phrase for phrase in NEVER if phrase in text] == []


def test_cautions_are_short_sourced_and_none_claims_a_review():
    for caution in loader.cautions():
        assert len(re.findall(r"[.!?](?:\s|$)", caution.text)) <= 3 and caution.source
        assert not caution.reviewed_by_clinician
    for screen in ("stop", "report", "help"):
        assert "general" in [c.id for c in loader.cautions_for([screen])]
    assert loader.cautions_for(["today"])[0].tone == "urgent"


def test_instruments_belong_to_families_and_unknown_ones_keep_their_word():
    assert len(loader.instruments()) >= 24 and {i.family for i in loader.instruments().values()} <= set(
        loader.families()
    )
    assert (
        loader.instrument_name("contrabassoon") == "Contrabassoon"
        and loader.instrument_name("nose flute") == "nose flute"
    )


def test_an_unknown_field_in_a_knowledge_file_is_refused():
    with pytest.raises(ValueError, match="extra"):
        loader.Instrument.model_validate({"id": "a", "name": "A", "family": "b", "colour": "red"})


def every_finding() -> dict[str, Finding]:
    """Diaries that between them bring every finding there is."""
    steady = Diary().steady().checks_in(0, "waking")
    diaries = [
        Diary(),
        Diary().steady().checks_in(0, "waking", flags=list(red_flags())),
        Diary().steady().checks_in(0, "waking", flags=["fever"]),
        Diary().steady(until=9).off(8).checks_in(0, "waking"),
        Diary().steady().plays(1, 200, 9).off(0, sleep="broken", hands="cold").checks_in(0, "waking"),
    ]
    for entry in (
        mark("weakness", 2),
        mark("numbness", 2, lasting="constant"),
        mark("numbness", 2, lasting="longer"),
        mark("numbness", 2),
        mark("pain", 2, flags=["swelling"]),
        mark("pain", 2, flags=["locked"]),
        mark("pain", 2, flags=["loss_of_control"]),
        mark("pain", 6),
        mark("pain", 3),
        mark("tingling", 1),
        mark("tingling", 1, lasting="longer"),
    ):
        diaries.append(Diary().steady().checks_in(0, "waking").checks_in(1, "after", entry))
    nights = (
        Diary()
        .steady()
        .checks_in(0, "waking", mark("tingling", 2), mark("pain", 3))
        .checks_in(2, "night", mark("tingling", 1))
    )
    for back in range(1, 5):
        nights.checks_in(back, "playing", mark("tingling", 1), mark("pain", 2))
    tight, pushed = Diary().steady(), Diary().steady().plays(1, 200, 9)
    for back in range(6):
        tight.checks_in(back, "waking", mark("tension", 4))
        pushed.checks_in(back, "waking", mark("tension", 4))
    slow = Diary().steady(until=25)
    for back in range(24, -1, -1):
        slow.plays(back, 70).checks_in(back, "waking", mark("tension", 2))
    found = {f.code: f for f in steady.call(ceilings=(Ceiling("return", 10.0, "start"),)).findings}
    for diary in (*diaries, steady, nights, tight, pushed, slow):
        call = diary.call()
        held = diary.call(0, call.recovery) if call.recovery.level else call
        for finding in (*call.findings, *held.findings):
            found[finding.code] = finding
    found |= {f.code: f for f in in_other_ways()}
    found["way_back"] = Diary().steady().checks_in(0, "waking").call(0, Recovery(MUTED_PP)).findings[0]
    return found


def in_other_ways() -> list[Finding]:
    """The findings that rest on more than a diary: what happened, what was answered, how long a level has stood."""
    day, place = TODAY - timedelta(days=3), ("wrist & thumb", "left")
    told = {"answer": "minutes", "allowed_min": 10, "allowed_from": day}
    happened = [Happening(kind, kind, day, answer="not_yet", place=place) for kind in ("operation", "cast")]
    happened += [Happening("without", "limit", day, **told, not_on=("contrabassoon",))]
    happened += [Happening("limit", "limit", day, **told), Happening("fall", "fall", day, answer="not_sure")]
    happened += [
        Happening("fever", "fever", day),
        Happening("over", "fever", day, day),
        Happening("just over", "fever", day, TODAY),
        Happening("m", "medicine", day),
    ]
    steady = Diary().steady().checks_in(0, "waking", flags=["night_tingling"])
    found = [f for h in happened for f in steady.call(happened=(h,)).findings]
    slow, often = Diary().steady(until=25), Diary().steady(until=1)
    for back in range(24, -1, -1):
        slow.plays(back, 70).checks_in(back, "waking", mark("tension", 2))
        often.checks_in(back, "waking", mark("tension", 4))
    quiet, heavy = Diary().steady(days=160, until=70), Diary().steady(days=80, until=7)
    for back in range(69, -1, -1):
        quiet.plays(back, 70).checks_in(back, "waking", *([mark("pain", 4)] if back > 6 else []))
    for back in range(6, -1, -1):
        heavy.plays(back, 200, 9).checks_in(back, "waking", mark("tension", 2), mark("pain", 1))
    first, second = (Diary().steady().checks_in(0, "waking", mark("pain", strength)) for strength in (2, 4))
    well = Diary().steady().checks_in(0, "waking")
    long_level = Recovery(MUTED_MP, nerve=True, since=TODAY - timedelta(days=20))
    calls = [slow.call(watched=(place,)), often.call(), quiet.call(), heavy.call(), first.call(), second.call()]
    calls += [steady.call(), well.call(0, long_level)]
    return [*found, *(f for call in calls for f in call.findings)]


def test_every_finding_can_be_said_with_its_rule_and_source():
    found = every_finding()
    spoken = {code: f for code, f in found.items() if code != "faint"}  # only a ring in the score
    spoken["sign"] = replace(found["risen"], code="sign")  # said until version 2 of the rules
    assert set(spoken) == set(loader.wordings()), set(loader.wordings()) ^ set(spoken)
    for finding in spoken.values():
        reason = words.reason(finding)
        assert reason.sentence and reason.rule and reason.source
        assert not re.search(r"[{}]|None|nan", " ".join((reason.sentence, reason.rule, reason.do)))


def test_every_reason_of_a_dose_can_be_said():
    """Each code that a walk, or a week, gives as its reason has its sentence, and no sentence has no code."""
    codes = set(re.findall(r'"([a-z_]+)"', (ROOT / "core/plan/programmes/walk.py").read_text(encoding="utf-8")))
    said = set(loader.dose_reasons())
    assert said - {"stopped", "week", "season"} == codes & said
    assert {"felt", "sign", "morning", "gap", "quiet", "first_day", "held", "over", "ask"} <= said


@pytest.mark.parametrize("code", sorted(red_flags()))
def test_each_urgent_sign_says_what_she_wrote_and_how_soon(code):
    call = Diary().steady().checks_in(0, "waking", flags=[code]).call()
    (reason,) = [words.reason(f) for f in call.findings if f.values.get("sign") == code]
    flag = red_flags()[code]
    assert flag.sentence in reason.sentence or code == "fever"
    wanted = {"emergency": "now", "same_day": "today", "prompt": "within a week", "routine": "within two weeks"}
    assert reason.book == wanted[flag.tier]


def test_every_word_of_the_record_has_a_word_on_the_screen():
    assert set(words.KIND_WORDS) == set(SYMPTOM_KINDS) and set(words.TIMING_WORDS) == set(TIMINGS)
    assert set(words.LASTING_WORDS) == set(LASTING) and set(words.FLAG_WORDS) == set(FLAGS)
    assert set(words.SHORT_REGIONS) == set(regions()) and len(words.INTENSITY_WORDS) == 11
    assert set(words.EFFORT_WORDS) == set(range(11))


def test_the_rules_are_those_of_the_paper():
    """The numbers of clinical.md, looked up there; common practice, no source."""
    paper = {
        "tacet_pain": 5,
        "mp_pain": 3,
        "mp_tightness": 3,
        "mp_tightness_rise": 2,
        "mp_days_with_load": 3,
        "mp_days_without_load": 5,
        "enough_days": 3,
        "mp_share": 70,
        "mp_most_min": 0,
        "pp_share": 40,
        "pp_most_min": 45,
        "mp_tempo": 80,
        "pp_tempo": 60,
        "clear_wakings": 2,
        "clear_wakings_nerve": 5,
        "baseline_days": 28,
        "off_days_half": 7,
        "off_days_quarter": 28,
    }
    assert {k: v for k, v in numbers("call_rules").items() if k in paper} == paper
    assert TODAY.year == 2026 and len(zones()) == 84


@pytest.mark.parametrize("page", sorted((ROOT.parent.parent / "docs").glob("*.md")), ids=lambda p: p.name)
def test_every_file_that_the_docs_name_is_there(page):
    named = re.findall(r"`((?:tests|core|services|web|store|formats|library|drawing)/[\w/.]+\.\w+)`", page.read_text())
    root = ROOT.parent.parent
    assert [name for name in named if not (root / name).exists() and not (ROOT / name).exists()] == []


def test_every_decision_that_the_code_names_is_written_down():
    written = set(re.findall(r"^(\d+)\. \*\*", (ROOT.parent.parent / "docs/decisions.md").read_text(), flags=re.M))
    named = re.compile(r"[Dd]ecisions? (\d+)(?: and (\d+))?")
    cited = {n for p in ROOT.rglob("*.py") for pair in named.findall(p.read_text()) for n in pair if n}
    assert cited and cited <= written
