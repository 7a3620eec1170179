"""The ratio of short to long average load as a table for those who ask for it, with the published case against it."""

import csv
import io
from collections.abc import Iterable
from datetime import date

from chirotend.core.load.averages import ShortToLong

COLUMNS = ("ending_on", "acute_au", "ratio_coupled", "ratio_uncoupled")
CRITICISM = """\
load_ratio.csv: the load of seven days against that of four weeks, for every day whose 28 days are all known.

It is here for those who ask for it. This application never scores it, and shows no zones of it:
- the seven days are part of the four weeks, which alone makes the two resemble each other (Lolli et al. 2019, Br J
  Sports Med 53:921-922);
- no cause was shown, the windows are arbitrary, a ratio hides how much was played at all, and the zones that were
  published have no support (Impellizzeri et al. 2020, Int J Sports Physiol Perform 15:907-913; 2021, Sports Med
  51:581-592);
- it was made on athletes, hardly on musicians.
Sources: Gabbett 2016, Br J Sports Med 50:273-280; Windt & Gabbett 2019, 53:988. All from memory.

acute_au: effort x minutes of the seven days that end with that day. ratio_coupled: over a mean week of all 28 days.
ratio_uncoupled: over a mean week of the 21 days before. A day that is not written leaves out the four weeks after it.
"""


def write_load_ratio(days: Iterable[tuple[date, ShortToLong]]) -> dict[str, str]:
    """Return the table and what is said against it, as text by file name."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for day, found in days:
        writer.writerow([day.isoformat(), f"{found.acute:g}", f"{found.coupled:.4f}", f"{found.uncoupled:.4f}"])
    return {"load_ratio.csv": out.getvalue(), "load_ratio.txt": CRITICISM}
