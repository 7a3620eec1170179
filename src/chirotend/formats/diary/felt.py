"""What a row says was felt: by columns of places, by columns of words, or by a row for each complaint."""

from collections import Counter
from dataclasses import dataclass

from chirotend.core.body.zones import zone
from chirotend.formats.diary.complaints import Felt, complaints, is_nothing, kind_in, kind_said
from chirotend.formats.diary.match import Column
from chirotend.formats.diary.scales import Scale
from chirotend.formats.diary.table import DiaryRow, Table
from chirotend.formats.diary.words import NOTE, NOTHING
from chirotend.formats.spelled import SpelledNumber, number_of

STRENGTH_ENDS = (3, 5, 10, 100)
Place = tuple[str, str, str]  # zone, side, kind


@dataclass(frozen=True)
class Answered:
    """One answer of a row: when it was felt, where (None = asked, nothing there), how strong out of 10."""

    timing: str
    place: Place | None = None
    strength: float = 0.0


class Body:
    """Reads the complaints of a table."""

    def __init__(self, table: Table) -> None:
        self.table = table
        self.places = [(n, c) for n, c in enumerate(table.columns) if c.meaning == "place" and c.zone]
        self.symptoms = [n for n, c in enumerate(table.columns) if c.meaning == "symptom"]
        at = [n for n, _ in self.places] + ([table.at["intensity"]] if "intensity" in table.at else [])
        self.scale: Scale = table.scale("strength_of", at, STRENGTH_ENDS, "How strong a complaint was, out of")
        #: the kind that the names of the columns, or the sheet, say of every complaint; "" = none
        self.named_kind = self._named_kind()
        #: what cells of complaints say, with the words that were looked up in them
        self._said: dict[str, tuple[list[Felt] | None, Counter[tuple[str, str]]]] = {}

    def answers(self, row: DiaryRow, unsaid: str) -> list[Answered]:
        """Return what a row says was felt; `unsaid` is the timing where none is said."""
        found: list[Answered] = []
        timing = row.word("timing")
        for n, column in self.places:
            if row.cells[n]:
                found += self._at_place(row, n, column, timing or column.timing or unsaid)
        for n in self.symptoms:
            if row.cells[n]:
                found += self._in_words(row, n, timing, unsaid)
        if not self.places and not any(row.cells[n] for n in self.symptoms):
            found += self._without_place(row, timing or unsaid)
        return found

    def _named_kind(self) -> str:
        """The kind in the name of a column of complaints or their strength, else in the title of the sheet."""
        at = [*self.symptoms, *(self.table.at[m] for m in ("intensity", "symptom_kind") if m in self.table.at)]
        named = [*(self.table.sheet.label(n) for n in at), self.table.sheet.name]
        return next((kind for name in named if (kind := kind_said(name))), "")

    def _kind(self, *said: str) -> str:
        """The first kind that is said, else the one the columns or the sheet name, else what she answers."""
        known = (kind for kind in (*said, self.named_kind) if kind not in ("", NOTE, NOTHING))
        return next(known, "") or self.table.chosen("unsaid_kind")

    def _without_place(self, row: DiaryRow, timing: str) -> list[Answered]:
        """A strength alone: where it was is asked once; until then it stands in the note, as it was written."""
        cell, name = row.cell("intensity"), self.table.name("intensity")
        number = number_of(cell) if cell else None
        if number is None:
            if cell:
                row.notes.append(f"{name}: {cell}")
            return []
        strength = self._number(row, name, cell, number)
        if not strength:
            return [Answered(timing)] if strength == 0 else []
        where = self.table.chosen("unsaid_place")
        if where == NOTE:
            row.notes.append(f"{name}: {cell}")
            return []
        return self._placed(row, timing, where, row.word("side"), self._kind(row.word("symptom_kind")), strength)

    def _at_place(self, row: DiaryRow, n: int, column: Column, timing: str) -> list[Answered]:
        """What the cell of a place says: a number, a word for a kind or a strength, or nothing there."""
        cell, name, words = row.cells[n], self.table.sheet.label(n), self.table.words
        kind = column.kind
        if (number := number_of(cell)) is not None:
            strength = self._number(row, name, cell, number)
        elif is_nothing(cell, words):
            strength = 0.0
        elif words.known("strength", cell) is not None:
            strength = self._word(cell)
        elif named := kind_in(cell, words):
            kind, strength = named, self._unsaid_strength()
        else:
            found = complaints(f"{name} {cell}", words) or []
            kind = next((felt.kind for felt in found if felt.kind), kind)
            strength = next((s for felt in found if (s := self._ten(felt.strength)) is not None), None)
            if strength is None and any(felt.kind for felt in found):
                strength = self._unsaid_strength()
            if any(felt.rest for felt in found):
                row.notes.append(f"{name}: {cell}")
        if strength is None:
            row.notes.append(f"{name}: {cell}")
            return []
        if strength == 0:
            return [Answered(timing)]
        return self._placed(row, timing, column.zone, column.side, self._kind(kind), strength)

    def _in_words(self, row: DiaryRow, n: int, row_timing: str, unsaid: str) -> list[Answered]:
        """What a cell of complaints says; what it says besides, and what cannot be understood, is for the note."""
        cell = row.cells[n]
        found = self._complaints(cell)
        if found is None or any(felt.rest for felt in found):
            row.notes.append(f"{self.table.sheet.label(n)}: {cell}")
        if found is None:
            return []
        if not found:
            return [Answered(row_timing or unsaid)]
        return [answer for felt in found for answer in self._symptom(row, felt, felt.timing or row_timing or unsaid)]

    def _complaints(self, cell: str) -> list[Felt] | None:
        """The complaints of a cell; for a repeated cell the counts of its words increase, and it is not read again."""
        words = self.table.words
        if cell not in self._said:
            met, words.met = words.met, Counter()
            self._said[cell] = complaints(cell, words), words.met
            words.met = met
        found, looked_up = self._said[cell]
        words.met.update(looked_up)
        return found

    def _symptom(self, row: DiaryRow, felt: Felt, timing: str) -> list[Answered]:
        """A complaint with what other columns of its row say of it."""
        kind = felt.kind or row.word("symptom_kind")
        strength = self._ten(felt.strength)
        cell = row.cell("intensity")
        if strength is None and cell:
            number = number_of(cell)
            name = self.table.name("intensity")
            strength = self._word(cell) if number is None else self._number(row, name, cell, number)
        if strength is None:
            strength = self._unsaid_strength()
        if strength is None:
            row.notes.append("; ".join(row.cells[n] for n in self.symptoms))
            return []
        if strength == 0:
            return [Answered(timing)]
        return self._placed(row, timing, felt.zone, felt.side or row.word("side"), self._kind(kind), strength)

    def _number(self, row: DiaryRow, name: str, cell: str, number: SpelledNumber) -> float | None:
        if number.high is not None:
            self.table.chosen("pairs")
        strength = self.scale.ten(number)
        if strength is None:
            row.refuse(name, cell, f"a strength from {self.scale.said}")
        return strength

    def _word(self, cell: str) -> float | None:
        said = self.table.words.look("strength", cell, NOTE)
        return None if said == NOTE else float(said)

    def _ten(self, strength: float | SpelledNumber | None) -> float | None:
        return self.scale.ten(strength) if isinstance(strength, SpelledNumber) else strength

    def _unsaid_strength(self) -> float | None:
        said = self.table.chosen("unsaid_strength")
        return None if said == NOTE else float(said)

    def _placed(self, row: DiaryRow, timing: str, where: str, side: str, kind: str, strength: float) -> list[Answered]:
        """The answer at a place, or at both sides of it."""
        if kind == NOTE:
            row.notes.append(f"{zone(where).name}: {strength:g}")
            return [Answered(timing)]
        if not zone(where).sided:
            return [Answered(timing, (where, "none", kind), strength)]
        if side not in ("left", "right", "both"):
            side = self.table.chosen("unsaid_side")
            if side == NOTE:
                row.notes.append(f"{zone(where).name}: {strength:g}")
                return [Answered(timing)]
        sides = ("left", "right") if side == "both" else (side,)
        return [Answered(timing, (where, each, kind), strength) for each in sides]
