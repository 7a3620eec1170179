"""Spreadsheets, days and lengths against general libraries: openpyxl and odfpy write, pandas reads; dateutil, pandas.

Sources: openpyxl 3.1, odfpy 1.4, pandas 3.1 (`read_excel`, `Timedelta`), python-dateutil 2.9 (`parser.parse`).
"""

import io
import random
import zipfile
from datetime import date, datetime, time, timedelta

import pandas
import pytest
from dateutil import parser
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P
from openpyxl import Workbook

from chirotend.formats.diary.sheets import sheets
from chirotend.formats.spelled import day_of, length_of

HEADER = ["Date", "Start", "Length", "Minutes", "Words"]


def rows(seed: int) -> list[tuple[date, time, timedelta, float, str]]:
    chance = random.Random(seed)
    return [
        (
            date(2024, 1, 1) + timedelta(days=chance.randint(0, 900)),
            time(chance.randint(5, 23), chance.randint(0, 59)),
            timedelta(minutes=chance.randint(1, 600)),
            chance.choice([chance.randint(1, 300), round(chance.uniform(0, 9), 2)]),
            chance.choice(["thirds", "Übung, leise", "côté gauche", 'a"b', "3/4"]),
        )
        for _ in range(60)
    ]


def xlsx(found: list[tuple[date, time, timedelta, float, str]]) -> bytes:
    book = Workbook()
    book.active.append(HEADER)
    for row in found:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def ods(found: list[tuple[date, time, timedelta, float, str]]) -> bytes:
    document = OpenDocumentSpreadsheet()
    table = Table(name="Diary")
    for cells in [HEADER, *found]:
        line = TableRow()
        for cell in cells:
            line.addElement(_ods_cell(cell))
        table.addElement(line)
    document.spreadsheet.addElement(table)
    out = io.BytesIO()
    document.write(out)
    return out.getvalue()


def _ods_cell(value: object) -> TableCell:
    if isinstance(value, date):
        cell = TableCell(valuetype="date", datevalue=value.isoformat())
    elif isinstance(value, time):
        cell = TableCell(valuetype="time", timevalue=f"PT{value.hour:02}H{value.minute:02}M00S")
    elif isinstance(value, timedelta):
        minutes = round(value.total_seconds() / 60)
        cell = TableCell(valuetype="time", timevalue=f"PT{minutes // 60:02}H{minutes % 60:02}M00S")
    elif isinstance(value, int | float):
        cell = TableCell(valuetype="float", value=str(value))
    else:
        cell = TableCell(valuetype="string")
    cell.addElement(P(text=str(value)))
    return cell


def minutes_of(value: object) -> float:
    """What pandas makes of a time or a length: a time of day, or a length."""
    if isinstance(value, time):
        return value.hour * 60 + value.minute
    if isinstance(value, datetime):  # a length of a day and more, counted from the beginning of its calendar
        return (value - datetime(1899, 12, 31)).total_seconds() / 60
    return pandas.Timedelta(value).total_seconds() / 60


@pytest.mark.parametrize(("write", "engine"), [(xlsx, "openpyxl"), (ods, "odf")])
def test_a_spreadsheet_reads_to_the_values_that_pandas_reads(write, engine):
    data = write(rows(1))
    frame = pandas.read_excel(io.BytesIO(data), engine=engine)
    (sheet,) = sheets(data, "diary")
    assert list(sheet.header) == list(frame.columns)
    assert len(sheet.rows) == len(frame)
    for (_, cells), (_, theirs) in zip(sheet.rows, frame.iterrows(), strict=True):
        assert day_of(cells[0]).as_date(True, 2026) == pandas.Timestamp(theirs["Date"]).date()
        assert length_of(cells[1]).number == minutes_of(theirs["Start"])
        assert length_of(cells[2]).number == pytest.approx(minutes_of(theirs["Length"]))
        assert float(cells[3]) == theirs["Minutes"]
        assert cells[4] == theirs["Words"]


def test_a_workbook_with_macros_is_read_as_one_without():
    """An xlsm is an xlsx that says it carries macros and holds a file of them: they are left where they are."""
    plain = xlsx(rows(4))
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(plain)) as source, zipfile.ZipFile(out, "w") as made:
        for name in source.namelist():
            said = source.read(name).replace(b"spreadsheetml.sheet.main", b"ms-excel.sheet.macroEnabled.main")
            made.writestr(name, said)
        made.writestr("xl/vbaProject.bin", b"\xd0\xcf\x11\xe0" + bytes(512))
    (expected,) = sheets(plain, "diary.xlsx")
    (found,) = sheets(out.getvalue(), "diary.xlsm")
    assert found.header == expected.header
    assert found.rows == expected.rows


DAYS = ["%Y-%m-%d", "%d/%m/%Y", "%d.%m.%Y", "%d-%m-%y", "%d %B %Y", "%d %b %y", "%B %d, %Y", "%a %d %b %Y", "%Y/%m/%d"]


def test_days_in_five_hundred_spellings_are_those_that_dateutil_reads():
    chance = random.Random(2)
    for _ in range(500):
        day = date(1995, 1, 1) + timedelta(days=chance.randint(0, 14_000))
        text = day.strftime(chance.choice(DAYS))
        found = day_of(text)
        assert found is not None, text
        assert found.as_date(True, 2026) == parser.parse(text, dayfirst=not text[:4].isdigit()).date() == day, text


LENGTHS = ["{h} h {m} min", "{h}h {m}m", "{h}:{m:02}:00", "{total} min", "{total} minutes", "{hours:.2f} hours"]


def test_lengths_in_five_hundred_spellings_are_those_that_pandas_reads():
    chance = random.Random(3)
    for _ in range(500):
        total = chance.randint(1, 900)
        text = chance.choice(LENGTHS).format(h=total // 60, m=total % 60, total=total, hours=total / 60)
        found = length_of(text)
        assert found is not None and found.said, text
        assert found.number == pytest.approx(pandas.Timedelta(text).total_seconds() / 60), text
