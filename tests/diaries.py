"""Twelve diaries as players keep them, made up: `python -m tests.diaries` writes them anew into tests/data/diaries.

Each keeps to the habits of one invented player for eight weeks or so: a title above, totals below, days in any order
and spelling, lengths and places in her own words. What each should come to is said in tests/formats/test_diaries.py.
"""

import csv
import io
import json
import random
from collections.abc import Iterator
from datetime import date, datetime, time, timedelta
from pathlib import Path

import xlwt
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P
from openpyxl import Workbook

FOLDER = Path(__file__).parent / "data" / "diaries"
FIRST = date(2026, 9, 14)
DAYS = 56
PIECES = ["thirds", "Act II", "long notes", "the fugue", "Vesper in D", "low notes", "the storm"]


def days(seed: int, played: float = 0.8) -> Iterator[tuple[date, int, int, random.Random]]:
    """Yield (day, minutes, effort, chance) of the days played, the same ones every time."""
    chance = random.Random(seed)
    for n in range(DAYS):
        minutes, effort = chance.choice([30, 45, 60, 75, 90, 120]), chance.randint(2, 8)
        if chance.random() < played:
            yield FIRST + timedelta(days=n), minutes, effort, chance


def thumb(day: date) -> int:
    """A thumb that grows worse from the fifth week on."""
    return max(0, min(8, (day - FIRST).days // 7 - 2))


def delimited(rows: list[list[str]], delimiter: str = ",", encoding: str = "utf-8", end: str = "\n") -> bytes:
    out = io.StringIO(newline="")
    csv.writer(out, delimiter=delimiter, lineterminator=end).writerows(rows)
    return out.getvalue().encode(encoding)


def sheet_with_title() -> bytes:
    """English, xlsx: a title, the header in line 4, typed days and lengths, merged days, a line of totals."""
    book = Workbook()
    sheet = book.active
    sheet.title = "Practice"
    sheet["A1"], sheet["A2"] = "My practice diary", "autumn season"
    sheet.append([])
    sheet.append(["Date", "What", "Inst", "Length", "Effort", "left thumb", "Words", None])
    total = 0
    for day, minutes, effort, chance in days(1):
        total += minutes
        sheet.append(
            [
                datetime.combine(day, time()),
                chance.choice(PIECES),
                "cbsn" if chance.random() < 0.3 else "bsn",
                time(minutes // 60, minutes % 60),
                effort,
                thumb(day),
                "tired" if chance.random() < 0.1 else None,
            ]
        )
        if chance.random() < 0.2:
            total += 30
            sheet.append([None, "reeds only", "bsn", time(0, 30), 2, None, None])
            sheet.merge_cells(start_row=sheet.max_row - 1, end_row=sheet.max_row, start_column=1, end_column=1)
    sheet.append(["Total", None, None, timedelta(minutes=total)])
    return _saved(book)


def german_semicolons() -> bytes:
    """German, cp1252: hours as 1,5, days as 12.10.26, effort out of 5, complaints in words."""
    rows = [["Datum", "Was", "Art", "Instr.", "Dauer (Std)", "Anstrengung", "Beschwerden", "Bemerkung"]]
    for day, minutes, effort, chance in days(2):
        felt = f"li Daumen {thumb(day)}, Nacken 2" if thumb(day) else chance.choice(["keine", "–", ""])
        rows.append(
            [
                f"{day:%d.%m.%y}",
                chance.choice(["Tonleitern", "Übungen für die Höhe", "Fuge"]),
                chance.choice(["Üben", "Probe", "Vorstellung", "Probe"]),
                chance.choice(["Fg", "Fg", "KFg"]),
                f"{minutes / 60:.2f}".rstrip("0").rstrip(".").replace(".", ","),
                str(1 + effort // 2),
                felt,
                "müde" if chance.random() < 0.1 else "",
            ]
        )
    return delimited(rows, ";", "cp1252", "\r\n")


def french_tabs() -> bytes:
    """French, UTF-16 with tabs: days as "14 sept.", lengths as 1h30, one column for the left thumb."""
    months = {9: "sept.", 10: "oct.", 11: "nov."}
    rows = [["Jour", "Activité", "Instrument", "Durée", "Effort", "Pouce gauche", "Remarques"]]
    for day, minutes, effort, chance in days(3):
        length = f"{minutes // 60}h{minutes % 60:02}" if minutes >= 60 else f"{minutes} min"
        rows.append(
            [
                f"{day.day} {months[day.month]}",
                chance.choice(["Travail personnel", "Répétition générale", "Concert", "Répétition"]),
                chance.choice(["basson", "contrebasson"]),
                length,
                str(effort),
                str(thumb(day)) if thumb(day) else "rien",
                "anches neuves" if chance.random() < 0.2 else "",
            ]
        )
    return delimited(rows, "\t", "utf-16")


def italian_sheet() -> bytes:
    """Italian, ods: a wide sheet with one column a place, sleep, and days as text."""
    rows = [
        ["Data", "Minuti", "Strumento", "Sforzo", "Polso destro", "Spalla sx", "Collo al risveglio", "Sonno", "Umore"]
    ]
    for day, minutes, effort, chance in days(4):
        rows.append(
            [
                f"{day:%d/%m/%Y}",
                str(minutes),
                "fagotto",
                str(effort),
                str(chance.choice([0, 0, 1, 2])),
                str(thumb(day)),
                chance.choice(["0", "2", "un po", ""]),
                chance.choice(["bene", "poco", "male"]),
                chance.choice(["sereno", "stanco"]),
            ]
        )
    document = OpenDocumentSpreadsheet()
    table = Table(name="Diario")
    for row in rows:
        line = TableRow()
        for cell in row:
            found = TableCell(valuetype="float", value=cell) if cell.isdigit() else TableCell(valuetype="string")
            found.addElement(P(text=cell))
            line.addElement(found)
        table.addElement(line)
    document.spreadsheet.addElement(table)
    out = io.BytesIO()
    document.write(out)
    return out.getvalue()


def spanish_mac() -> bytes:
    """Spanish, Mac Roman: 14/9/26, 45', and pain in words."""
    rows = [["Fecha", "Inicio", "Duración", "Instrumento", "Cansancio", "Dolor", "Observaciones"]]
    for day, minutes, effort, chance in days(5):
        felt = f"pulgar izq {thumb(day)}" if thumb(day) else "ninguno"
        rows.append(
            [
                f"{day.day}/{day.month}/{day:%y}",
                f"{chance.randint(9, 18)}.30",
                f"{minutes}'",
                "fagot",
                str(effort),
                felt,
                chance.choice(["cañas nuevas", "lección con Iñaqui", "después del ensayo"]),
            ]
        )
    return delimited(rows, ",", "mac_roman", "\r")


def month_first() -> bytes:
    """English, months first, times with AM and PM, effort from 6 to 20."""
    rows = [["date", "time", "min", "instrument", "RPE", "what went well", "what was hard"]]
    for day, minutes, effort, chance in days(6):
        begun = datetime.combine(day, time(9, 30))
        ended = begun + timedelta(minutes=minutes)
        rows.append(
            [
                f"{day.month}/{day.day}/{day.year}",
                f"{begun:%-I:%M %p} - {ended:%-I:%M %p}",
                str(minutes),
                "bassoon",
                str(8 + effort),
                chance.choice(PIECES),
                chance.choice(PIECES),
            ]
        )
    return delimited(rows)


def two_sheets() -> bytes:
    """English, xlsx: practice on one sheet, complaints row by row on another, and one that is no diary."""
    book = Workbook()
    practice = book.active
    practice.title = "Practice"
    practice.append(["Day", "Hours", "Instrument", "Kind"])
    body = book.create_sheet("Body")
    body.append(["Day", "Where", "Side", "Feels like", "Strength", "When felt"])
    for day, minutes, _, chance in days(7):
        practice.append([day, minutes / 60, "Bassoon", chance.choice(["practice", "rehearsal", "show"])])
        if thumb(day):
            body.append([day, "thumb", "L", "tight", thumb(day), "after playing"])
        if chance.random() < 0.2:
            body.append([day, "neck", None, "stiff", 2, "morning"])
    other = book.create_sheet("Reeds")
    other.append(["Reed", "Shape"])
    other.append(["no. 4", "narrow"])
    return _saved(book)


def old_sheet() -> bytes:
    """English, xls: typed days, minutes, an effort in words, both kinds of wrist."""
    book = xlwt.Workbook()
    sheet = book.add_sheet("Sheet1")
    as_day = xlwt.easyxf(num_format_str="DD/MM/YYYY")
    for n, name in enumerate(["Date", "Minutes", "How hard", "L wrist", "R wrist", "Notes"]):
        sheet.write(0, n, name)
    for line, (day, minutes, effort, chance) in enumerate(days(8), start=1):
        sheet.write(line, 0, datetime.combine(day, time()), as_day)
        sheet.write(line, 1, minutes)
        sheet.write(line, 2, "easy" if effort < 4 else "medium" if effort < 7 else "very hard")
        sheet.write(line, 3, chance.choice(["-", "tight", "a bit", "ok"]))
        sheet.write(line, 4, chance.choice(["-", "ok", "x"]))
        sheet.write(line, 5, chance.choice(PIECES))
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def flat_objects() -> bytes:
    """English, a JSON list of flat objects, as small programs write it."""
    rows = [
        {
            "date": day.isoformat(),
            "start": f"{day.isoformat()}T{chance.randint(9, 17):02}:00:00",
            "duration": minutes,
            "instrument": "Contrabassoon" if chance.random() < 0.3 else "Bassoon",
            "rpe": effort,
            "neck": thumb(day),
        }
        for day, minutes, effort, chance in days(9)
    ]
    return json.dumps(rows, indent=1).encode()


def without_names() -> bytes:
    """No line of names and no years; a day off in words."""
    rows = []
    for day, minutes, _, chance in days(10):
        rows.append([f"{day.day}.{day.month}.", f"{minutes} min", "bsn", chance.choice(PIECES)])
        if chance.random() < 0.2:
            rows.append(
                [f"{day.day}.{day.month}.", "off" if chance.random() < 0.1 else "20 min", "contra", "slow notes"]
            )
    return delimited(rows, ";")


def worst() -> bytes:
    """sep=, a stray quote, doubles, two numbers, days that do not exist, hours and minutes mixed, a column of moods."""
    lines = ["sep=;", "Dat;h;what;inst;thumb;neck a.m.;mood"]
    marks = ["0", "1", "2", "–"]
    for day, minutes, _, chance in days(11, played=0.6):
        if day.day > 12:
            continue
        length = str(minutes) if minutes > 90 else f"{minutes / 60:g}".replace(".", ",")
        lines.append(
            f"{day:%d/%m};{length};{chance.choice(PIECES)};{chance.choice(['Fg', 'KFg'])};"
            f"{min(5, thumb(day))};{chance.choice(marks)};{chance.choice(['ok', 'meh'])}"
        )
    lines += [
        "31/04;2;Act II;Fg;1;0;ok",
        "01/11;~;long notes;Fg;5;0;meh",
        '02/11;1;"the storm;Fg;2;1;ok',
        "03/11;3-4;Vesper in D;KFg;3;1;ok",
        "03/11;3-4;Vesper in D;KFg;3;1;ok",
    ]
    return "\n".join(lines).encode()


def nights() -> bytes:
    """German, tabs: times past midnight, 24:00, days off, two sessions at once, a day of eleven hours."""
    rows = [["Tag", "von", "bis", "Dienst", "Anstr.", "Daumen li", "Notiz"]]
    for day, _, effort, chance in days(12, played=0.5):
        rows.append([f"{day:%Y-%m-%d}", "19:30", "23:00", "Vorstellung", str(effort), str(thumb(day)), ""])
        if chance.random() < 0.2:
            rows.append([f"{day:%Y-%m-%d}", "23:15", "00:30", "Üben", "3", "", "nachts"])
    rows += [
        ["2026-11-09", "10:00", "12:00", "Probe", "5", "2", ""],
        ["2026-11-09", "11:30", "13:00", "Probe", "5", "", ""],
        ["2026-11-10", "08:00", "19:30", "Probe", "9", "3", "Endproben"],
        ["2026-11-11", "", "", "frei", "", "", ""],
        ["2026-11-11", "22:00", "24:00", "Üben", "2", "", ""],
        ["1926-11-11", "10:00", "11:00", "Üben", "2", "", ""],
    ]
    return delimited(rows, "\t")


def _saved(book: Workbook) -> bytes:
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


WRITTEN = {
    "sheet-with-title.xlsx": sheet_with_title,
    "german-semicolons.csv": german_semicolons,
    "french-tabs.txt": french_tabs,
    "italian-sheet.ods": italian_sheet,
    "spanish-mac.csv": spanish_mac,
    "month-first.csv": month_first,
    "two-sheets.xlsx": two_sheets,
    "old-sheet.xls": old_sheet,
    "flat-objects.json": flat_objects,
    "without-names.csv": without_names,
    "worst.csv": worst,
    "nights.tsv": nights,
}

if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for name, made in WRITTEN.items():
        (FOLDER / name).write_bytes(made())
