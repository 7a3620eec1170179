"""A matched table, and a row of it: its cells by meaning, what it refuses, what it leaves to the note."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from chirotend.formats.cells import BadCell
from chirotend.formats.diary.match import LENGTHS, Column, Match
from chirotend.formats.diary.questions import Option, Question
from chirotend.formats.diary.scales import Scale, end_question, highest, likely_end, said_end
from chirotend.formats.diary.sheets import Sheet
from chirotend.formats.diary.words import NOTE, Words

#: the list of a column's words, where it is not called as the column
WORDS_OF = {"symptom_kind": "symptom"}
#: questions about what is met on the way: as it is asked of one and of several, the answers, the likeliest first
COUNTED = {
    "unsaid_side": (
        "complaint names no side",
        "complaints name no side",
        {"both": "both sides", "left": "left", "right": "right", NOTE: "only the note"},
    ),
    "unsaid_kind": (
        "complaint names no kind",
        "complaints name no kind",
        {"pain": "pain", "tension": "tightness", "stiffness": "stiffness", NOTE: "only the note"},
    ),
    "unsaid_place": (
        "strength names no place",
        "strengths name no place",
        {
            NOTE: "only the note",
            "wrist_back_mid": "the wrist",
            "thumb_base_joint": "the base of the thumb",
            "forearm_outer_high": "the forearm",
            "shoulder_top": "the shoulder",
            "neck_back": "the neck",
            "low_back_side": "the lower back",
            "jaw_joint": "the jaw",
        },
    ),
    "unsaid_strength": (
        "complaint has no number",
        "complaints have no number",
        {"3": "3, some", "2": "2, slight", "5": "5, medium", NOTE: "only the note"},
    ),
    "pairs": (
        "cell holds two numbers",
        "cells hold two numbers",
        {"middle": "the middle: 3–4 is 3.5", "out": "leave the row out"},
    ),
    "doubles": (
        "row is the same as another",
        "rows are the same as another",
        {"once": "one row, written twice", "both": "two, both count"},
    ),
}


@dataclass
class Table:
    """A sheet with the meaning of its columns, her answers and her words, and what is counted as it is read."""

    sheet: Sheet
    columns: Sequence[Column]
    match: Match
    words: Words
    #: how often each of `COUNTED` was met
    met: Counter[str] = field(default_factory=Counter)
    questions: list[Question] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.at: dict[str, int] = {}
        for n, column in enumerate(self.columns):
            self.at.setdefault(column.meaning, n)
        self.lengths_at = [self.at[meaning] for meaning in LENGTHS if meaning in self.at]

    def name(self, meaning: str) -> str:
        """Return what the column of a meaning is called; "" when there is none."""
        return self.sheet.label(self.at[meaning]) if meaning in self.at else ""

    def cells(self, *at: int) -> list[str]:
        """Return what stands in columns, one after another; empty cells are left out."""
        return [cells[n] for n in at for _, cells in self.sheet.rows if cells[n]]

    def scale(self, code: str, at: Sequence[int], ends: Sequence[int], asked: str) -> Scale:
        """Return the scale of the numbers in columns `at`, and ask for its end where that can be doubted."""
        cells, said = self.cells(*at), getattr(self.match, code)
        named = next((end for n in at if (end := said_end(self.sheet.header[n]))), 0)
        most = highest(cells)
        said, named = (end if end >= most else 0 for end in (said, named))
        likely, open_ = likely_end(cells, ends, exact=code == "effort_of")
        if open_ and not named:
            self.questions.append(end_question(code, asked, cells, ends, said or likely, bool(said)))
        return Scale(said or named or likely, self.match.pairs or "middle")

    def chosen(self, code: str) -> str:
        """Record that this question of `COUNTED` came up; return the player's answer, or the default."""
        self.met[code] += 1
        return getattr(self.match, code) or next(iter(COUNTED[code][2]))

    def counted_questions(self) -> list[Question]:
        """Return a question for each of `COUNTED` that was met."""
        asked = []
        for code, (one, several, options) in COUNTED.items():
            count, said = self.met[code], getattr(self.match, code)
            if count:
                offered = tuple(Option(value, name) for value, name in options.items())
                asked.append(Question(code, many(count, one, several), offered, said or offered[0].value, bool(said)))
        return asked


class DiaryRow:
    """A row of a table while it is read: it is taken whole, or not at all when it refuses a cell."""

    __slots__ = ("bad", "cells", "line", "notes", "table")

    def __init__(self, table: Table, line: int, cells: tuple[str, ...]) -> None:
        self.table, self.line, self.cells = table, line, cells
        self.notes: list[str] = []
        self.bad: list[BadCell] = []

    def cell(self, meaning: str) -> str:
        """Return what stands in the column of a meaning; "" when it is empty, or there is none."""
        at = self.table.at.get(meaning)
        return "" if at is None else self.cells[at]

    @property
    def length(self) -> str:
        """What is written of how long it was."""
        for at in self.table.lengths_at:
            if self.cells[at]:
                return self.cells[at]
        return ""

    def word(self, meaning: str, missing: str = "") -> str:
        """Return what the word in a column means; `missing` where there is none, or only the note can take it."""
        cell = self.cell(meaning)
        if not cell:
            return missing
        found = self.table.words.look(WORDS_OF.get(meaning, meaning), cell, NOTE)
        if found == NOTE:
            self.notes.append(f"{self.table.name(meaning)}: {cell}")
            return missing
        return found

    def refuse(self, column: str, value: str, expected: str) -> None:
        """Note a cell that cannot be taken, and what is expected instead."""
        self.bad.append(BadCell(self.table.sheet.file, self.line, column, value, expected))


def many(count: int, one: str, several: str) -> str:
    """Return a count with its words."""
    return f"{count} {one if count == 1 else several}"
