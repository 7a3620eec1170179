"""The readers of files that a server loads when it starts, in the process that reads them."""

import logging
import threading

from chirotend.formats import calendar_reader, part_reader, picture, sandbox, trace
from chirotend.formats.diary import workbooks
from chirotend.services.technique import hearing

log = logging.getLogger(__name__)
MODULES = (
    *(calendar_reader.__name__, workbooks.__name__, picture.__name__),
    *(hearing.__name__, trace.__name__, part_reader.READER),
)


def load_in_background() -> None:
    """Load the readers beside the server, so that nobody who brings a file waits for that."""
    threading.Thread(target=_load, name="readers", daemon=True).start()


def _load() -> None:
    try:
        sandbox.load(MODULES)
    except OSError:
        log.exception("the readers of files are not loaded yet; the first file that is brought loads its own")
