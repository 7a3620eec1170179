"""The readers of files that a server loads when it starts, in the process that reads them."""

import threading

from chirotend.formats import apart, calendar_reader, part_reader, picture, trace
from chirotend.formats.diary import workbooks
from chirotend.services.technique import hearing

MODULES = (
    *(calendar_reader.__name__, workbooks.__name__, picture.__name__),
    *(hearing.__name__, trace.__name__, part_reader.READER),
)


def load_in_background() -> None:
    """Load the readers beside the server, so that nobody who brings a file waits for that."""
    threading.Thread(target=apart.load, args=(MODULES,), name="readers", daemon=True).start()
