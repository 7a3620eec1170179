"""The diary as CSV: it reads what players keep, complains cell by cell, and comes back unchanged."""

import csv
import io
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chirotend.core.body.zones import zones
from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session, words
from chirotend.formats import csv_log
from chirotend.formats.cells import UnreadableFile, plain_text, safe_text
from chirotend.formats.csv_log import Draft, check_uid

HOME = ZoneInfo("Europe/Vienna")
TODAY = date(2026, 11, 12)


def read(kind: str, text: str | bytes) -> Draft:
    draft = Draft()
    csv_log.read_table(draft, kind, text if isinstance(text, bytes) else text.encode(), f"{kind}.csv", HOME, TODAY)
    return draft


texts = st.text(st.characters(exclude_categories=("Cs",), exclude_characters="\x00\r"), max_size=30).map(
    lambda t: t.replace("\n", " ")
)
days = st.dates(date(2026, 1, 1), TODAY)


@st.composite
def sessions(draw, day=None):
    day = day or draw(days)
    blocks = tuple(
        Block(
            draw(st.integers(1, 60)),
            draw(texts).strip(),
            draw(st.sampled_from(words.BLOCK_KINDS)),
            draw(st.none() | st.integers(0, 20).map(lambda n: n / 2)),
            draw(st.none() | st.sampled_from(words.DYNAMICS)),
            draw(st.none() | st.integers(40, 200)),
        )
        for _ in range(draw(st.integers(1, 3)))
    )
    said = [draw(texts) for _ in range(3)]
    uid = draw(st.text("abcdef0123456789=+-", min_size=1, max_size=12))
    return Session(uid, day, blocks, draw(st.none() | st.integers(0, 10)), None, None, *said)


@st.composite
def records(draw):
    found = draw(st.lists(sessions(), max_size=6, unique_by=lambda s: s.uid))
    checks = []
    for day, timing in draw(st.sets(st.tuples(days, st.sampled_from(words.TIMINGS)), max_size=5)):
        entries = tuple(
            Entry(
                z.id,
                draw(st.sampled_from(("left", "right"))) if z.sided else "none",
                draw(st.sampled_from(words.SYMPTOM_KINDS)),
                float(draw(st.integers(0, 10))),
                draw(st.none() | st.sampled_from(words.LASTING)),
                tuple(draw(st.sets(st.sampled_from(words.FLAGS)))),
            )
            for z in draw(st.lists(st.sampled_from(list(zones().values())), max_size=3))
        )
        flags = tuple(draw(st.sets(st.sampled_from(("fever", "chest_pain")))))
        checks.append(
            Check(
                check_uid(day, timing), day, timing, entries, flags, draw(st.none() | st.sampled_from(words.OTHER_USES))
            )
        )
    notes = [
        DayNote(d, draw(st.booleans()), None, draw(st.none() | st.sampled_from(words.HANDS)), draw(texts))
        for d in draw(st.sets(days, max_size=4))
    ]
    return Record(tuple(found), tuple(checks), tuple(notes))


@settings(suppress_health_check=[HealthCheck.too_slow])
@given(records())
def test_what_is_written_reads_back_the_same(record):
    draft = Draft()
    for name, text in csv_log.write_tables(record, HOME).items():
        csv_log.read_table(draft, name[:-4], text.encode(), name, HOME, TODAY)
    assert draft.bad == []
    assert {s.uid: s for s in draft.sessions} == {s.uid: s for s in record.sessions}
    assert draft.checks == {(c.day, c.timing): c for c in record.checks}
    written = {n.day: n for n in record.notes}
    assert {d: n for d, n in draft.notes.items() if n != DayNote(d)} == {
        d: n for d, n in written.items() if n != DayNote(d)
    }


@given(st.text(max_size=20) | st.sampled_from(["=1+1", "'=1", "''", "-3", "@x", "'", "\tx", "\n=1+1", "\r\n-2"]))
def test_no_cell_is_run_by_a_spreadsheet_and_every_one_comes_back(text):
    assert safe_text(text)[:1] not in tuple("=+-@\t\r\n") or not text
    assert plain_text(safe_text(text)) == text


def test_python_csv_and_pandas_read_what_we_write():
    """Python's csv module and pandas.read_csv as independent readers."""
    session = Session("s", TODAY, (Block(43.5, 'reed, "soft"', effort=4),), 4, went_well="low F\nspoke")
    text = csv_log.write_tables(Record((session,)), HOME)["sessions.csv"]
    row = next(csv.DictReader(io.StringIO(text, newline="")))
    frame = pd.read_csv(io.StringIO(text))
    assert row["instrument"] == frame["instrument"][0] == 'reed, "soft"'
    assert float(row["minutes"]) == frame["minutes"][0] == 43.5 and frame["went_well"][0] == "low F\nspoke"


def test_old_diaries_with_semicolons_decimal_commas_and_few_columns():
    draft = read("sessions", "\ufeffday;minutes;effort\n2026-11-01;43,5;4\n2026-11-01;43,5;4\n\n")
    assert [s.minutes for s in draft.sessions] == [43.5, 43.5] and draft.bad == []
    again = read("sessions", "day;minutes;effort\n2026-11-01;43,5;4\n2026-11-01;43,5;4\n")
    assert [s.uid for s in again.sessions] == [s.uid for s in draft.sessions]  # read twice, recognised


@pytest.mark.parametrize("stray", ['60,"old bassoon,4', '60,old "bassoon",4', '60,bassoon "old,4', '60,"a" b,4'])
def test_a_stray_quote_costs_its_own_row_at_most_and_never_the_rest(stray):
    rows = "".join(f'2026-10-{day:02d},60,"bassoon, ""old""",4\n' for day in range(1, 21))
    draft = read("sessions", f"day,minutes,instrument,effort\n2026-09-01,{stray}\n{rows}")
    assert len(draft.sessions) + len(draft.bad) == 21 and len(draft.sessions) >= 20
    assert all(bad.line == 2 for bad in draft.bad)


def test_a_quoted_cell_of_several_lines_is_one_cell():
    draft = read("sessions", 'day,minutes,went_well\n2026-11-01,30,"one\n\ntwo"\n2026-11-02,20,\n')
    assert [s.went_well for s in draft.sessions] == ["one\n\ntwo", ""] and draft.bad == []


def test_a_start_after_midnight_lies_in_the_night_after_its_day():
    draft = read("sessions", "day,start,end,minutes\n2026-10-01,00.30,,30\n2026-10-02,23:00,00:30,80\n")
    late, across = draft.sessions
    assert late.day == date(2026, 10, 1) and late.start_utc == datetime(2026, 10, 1, 22, 30, tzinfo=UTC)
    assert across.end_utc is not None and across.start_utc is not None
    assert across.end_utc - across.start_utc == timedelta(minutes=90)


def test_the_same_timed_row_twice_is_taken_once_and_the_second_is_told():
    row = "2026-10-01,10:30,60,bassoon\n"
    draft = read("sessions", f"day,start,minutes,instrument\n{row}{row}")
    assert [s.minutes for s in draft.sessions] == [60]
    assert (draft.bad[0].line, draft.bad[0].expected) == (3, "a row of its own; line 2 says the same")
    other = csv_log.Draft()
    for name in ("a.csv", "b.csv"):
        csv_log.read_table(other, "sessions", f"day,start,minutes,instrument\n{row}".encode(), name, HOME, TODAY)
    assert len(other.sessions) == 1 and (other.bad[0].file, other.bad[0].line) == ("b.csv", 2)


NAMED = (
    "2026-10-01,10:30,60,4,a,even",
    "2026-10-01,18:30,30,7,a,late",
    "2026-10-02,,20,,a,",
    "2026-10-01,10:30,15,4,a,tired",
)


@given(st.permutations(NAMED))
def test_rows_of_a_word_are_one_session_only_where_day_start_and_effort_agree_in_any_order(rows):
    draft = read("sessions", "day,start,minutes,effort,session,went_well\n" + "\n".join(rows))
    found = {s.uid: (s.day.day, s.minutes, s.effort, set(s.went_well.split("\n"))) for s in draft.sessions}
    assert draft.bad == [] and len(found) == 3
    assert found.pop("a") == (1, 75, 4, {"even", "tired"})
    assert sorted(found.values()) == [(1, 30, 7, {"late"}), (2, 20, None, {""})]


@pytest.mark.parametrize("word", ["10/11", "..", "a/b"])
def test_a_session_word_no_address_can_hold_gets_an_id_that_one_can(word):
    (session,) = read("sessions", f"day,session,minutes\n2026-10-01,{word},60\n2026-10-01,{word},30\n").sessions
    assert session.minutes == 90 and "/" not in session.uid and session.uid.strip(".")


def test_times_with_and_without_offset_and_late_nights():
    draft = read("sessions", "day,start,minutes\n,2026-11-01T00:30,30\n2026-11-01,19:00,90\n,2026-10-31T12:00Z,20\n")
    late, evening, noon = draft.sessions
    assert late.day == date(2026, 10, 31)  # after midnight: still the evening before
    assert evening.start_utc == datetime(
        2026, 11, 1, 18, tzinfo=UTC
    ) and evening.end_utc - evening.start_utc == timedelta(minutes=90)
    assert noon.start_utc == datetime(2026, 10, 31, 12, tzinfo=UTC)


def test_rows_of_one_session_are_its_blocks():
    draft = read(
        "sessions",
        "day,start,session,minutes,instrument\n2026-11-01,10:00,a,20,bassoon\n2026-11-01,,a,10,contrabassoon\n",
    )
    (session,) = draft.sessions
    assert [b.instrument for b in session.blocks] == ["bassoon", "contrabassoon"] and session.minutes == 30


@pytest.mark.parametrize(
    ("kind", "row", "column", "expected"),
    [
        ("sessions", "day,minutes\n2026-02-30,30", "day", "a day that exists"),
        ("sessions", "day,minutes\n2026-11-13,30", "day", "future"),
        ("sessions", "day,minutes\n2026-11-01,1620", "minutes", "0 to 1440"),  # 27 hours
        ("sessions", "day,minutes\n2026-11-01,-5", "minutes", "0 to 1440"),
        ("sessions", "day,minutes\n2026-11-01,", "minutes", "missing"),
        ("sessions", "day,minutes,effort\n2026-11-01,30,11", "effort", "0 to 10"),
        ("sessions", "day,minutes,kind\n2026-11-01,30,sleep", "kind", "one of warm-up"),
        ("sessions", "day,start,minutes\n2026-11-01,25:00,30", "start", "a time such as"),
        ("sessions", "day,start,end,minutes\n2026-11-01,10:00,09:00,30", "end", "after the start"),
        ("sessions", "day,start,minutes\n2026-11-01,10:00,60\n2026-11-01,10:30,60", "start", "overlap"),
        ("sessions", "day,minutes,instrument\n2026-11-01", "minutes", "breaks off"),
        ("sessions", "day,minutes\n2026-11-01,30,x", "", "2 cells"),
        ("sessions", 'day,minutes,question\n2026-11-01,30,"half', "", "quotes in pairs"),
        ("sessions", "day,minutes,question\n2026-11-01,30," + "x" * 1_000_000, "", "field larger"),
        ("sessions", "day,minutes,question\n2026-11-01,30," + "x" * 30_000, "question", "at most 20000"),
        (
            "symptoms",
            "day,timing,zone,side,kind,intensity\n2026-11-01,waking,left_ear,left,pain,3",
            "zone",
            "a zone of the list",
        ),
        (
            "symptoms",
            "day,timing,zone,side,kind,intensity\n2026-11-01,waking,thumb_ball,,pain,3",
            "side",
            "left or right",
        ),
        ("symptoms", "day,timing,zone,side,kind,intensity\n2026-11-01,noon,thumb_ball,left,pain,3", "timing", "waking"),
        (
            "symptoms",
            "day,timing,zone,side,kind,intensity\n2026-11-01,waking,thumb_ball,left,pain,",
            "intensity",
            "missing",
        ),
        (
            "symptoms",
            "day,timing,zone,side,kind,intensity,flags\n2026-11-01,after,thumb_ball,left,pain,2,hot",
            "flags",
            "words among",
        ),
        ("days", "day,off\n2026-11-01,maybe", "off", "one of yes"),
        ("days", "day,red_flags\n2026-11-01,waking:headache", "red_flags", "words among"),
        ("days", "day,off\n2026-11-01,yes\n2026-11-01,no", "day", "one row a day"),
    ],
)
def test_a_bad_cell_says_where_it_is_and_what_is_expected(kind, row, column, expected):
    draft = read(kind, row + "\n")
    (bad,) = draft.bad
    assert bad.column == column and expected in bad.expected and bad.line == row.count("\n") + 1
    assert len(str(bad)) < 400


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"PK\x03\x04\x00\x00", "not a text file"),
        (b"day,minutes\n\xff\xfe", "not UTF-8"),
        (b"", "is empty"),
        (b"day,heart_rate\n", "does not know the column"),
    ],
)
def test_a_file_that_is_no_log_is_refused_as_a_whole(data, sentence):
    with pytest.raises(UnreadableFile, match=sentence):
        read("sessions", data)


def test_days_carry_what_was_asked_and_the_urgent_list():
    draft = read(
        "days",
        "day,off,checks,sleep,hands,red_flags,other_uses\n2026-11-01,yes,waking after,short,cold,waking:fever,some\n",
    )
    assert draft.notes[date(2026, 11, 1)] == DayNote(date(2026, 11, 1), True, "short", "cold")
    assert {t for _, t in draft.checks} == {"waking", "after", "daily"}
    assert draft.checks[date(2026, 11, 1), "waking"].red_flags == ("fever",)
    assert draft.checks[date(2026, 11, 1), "daily"].other_uses == "some"


@pytest.mark.parametrize(("cell", "found"), [("90", 90), ("1h30", 90), ("1:30", 90), ("1,5 h", 90), ("1.5", 1.5)])
def test_minutes_are_read_as_people_write_them(cell, found):
    assert [s.minutes for s in read("sessions", f'day,minutes\n2026-11-01,"{cell}"\n').sessions] == [found]


def test_a_small_number_with_a_comma_could_be_hours_and_is_refused():
    (bad,) = read("sessions", "day;minutes\n2026-11-01;1,5\n").bad
    assert bad.column == "minutes" and "1h30 or 1,5 h" in bad.expected


def test_the_files_are_told_apart_by_their_first_line():
    assert csv_log.own_kind(b"day;minutes\n") == "sessions"
    assert csv_log.own_kind(b"day,timing,zone,side,kind,intensity\n") == "symptoms"
    assert csv_log.own_kind(b'"day","off"\n') == "days"
    for other in (b"hello\n", b"day,minutes,mood\n", b"Datum;Minuten\n", "day,minutes\n".encode("utf-16")):
        assert csv_log.own_kind(other) == ""
