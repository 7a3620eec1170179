"""A server starts light: what only a few pages need is loaded when one of them is asked for."""

import subprocess
import sys

#: packages that may not be loaded by a start; each takes up to two seconds
LATE = ("scipy", "av", "soundfile", "icalendar", "recurring_ical_events", "mido", "cryptography", "cheroot")
LATE += ("pandas", "partitura", "weasyprint", "pyedflib")
#: of all packages and of our own, which grow by a module an idea
MODULES_MAX = 1475
START = "import sys; import chirotend.cli; print(*sys.modules)"


def test_a_start_loads_no_more_than_it_needs():
    told = subprocess.run([sys.executable, "-c", START], capture_output=True, text=True, timeout=120, check=True)
    modules = told.stdout.split()
    assert sorted({name for name in modules if name in LATE}) == []
    assert len(modules) <= MODULES_MAX
