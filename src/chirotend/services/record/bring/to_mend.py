"""The rows of a diary that cannot be read, as a file of their own: mended there, it can be brought again."""

import csv
import io

from chirotend.formats.cells import safe_text
from chirotend.services.record.bring.read import Read

WHY = "why it was left out"


def rows_to_mend(found: Read) -> str:
    """Return the rows that cannot be read as CSV text: as they were written, with why beside them."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    why: dict[tuple[str, int], str] = {}
    for b in found.bad:
        said = f"{b.column}: {b.expected}" if b.column else b.expected
        why[b.file, b.line] = "; ".join(part for part in (why.get((b.file, b.line)), said) if part)
    told: set[tuple[str, int]] = set()
    for table in found.tables:
        sheet = table.diary.sheet
        rows = [(line, cells) for line, cells in sheet.rows if (sheet.file, line) in why]
        if rows:
            writer.writerow([*(sheet.label(n) for n in range(len(sheet.header))), WHY])
        for line, cells in rows:
            told.add((sheet.file, line))
            writer.writerow([*(safe_text(cell) for cell in cells), why[sheet.file, line]])
    others = [b for b in found.bad if (b.file, b.line) not in told]
    if others:
        writer.writerow(["file", "line", "cell", WHY])
        writer.writerows([safe_text(b.file), b.line, safe_text(b.value), b.expected] for b in others)
    return out.getvalue()
