"""Large packages, imported on first use, so that a server starts without them."""

import importlib
from typing import Any

#: the packages that were named here and may not be loaded yet
_named: set[str] = set()


class LatePackage:
    """Imports the module `name` when one of its attributes is first asked for."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __getattr__(self, asked: str) -> Any:
        return getattr(importlib.import_module(self._name), asked)


def late(name: str) -> Any:
    """Return a stand-in that imports module `name` (`scipy.signal`) on first use; ImportError then, if it is
    missing."""
    _named.add(name)
    return LatePackage(name)


def load_all() -> None:
    """Import every package named so far, for a process that forks: its children share what is loaded."""
    for name in _named:
        importlib.import_module(name)
