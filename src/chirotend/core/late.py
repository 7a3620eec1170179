"""Packages that take long to load, loaded when something of them is first used: a server starts without them."""

import importlib
from typing import Any

#: the packages that were named here and may not be loaded yet
_named: set[str] = set()


class LatePackage:
    """Stands for the module of that name until something of it is asked for."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __getattr__(self, asked: str) -> Any:
        return getattr(importlib.import_module(self._name), asked)


def late(name: str) -> Any:
    """Return what stands for a module (`scipy.signal`). ImportError when something is asked of one that is missing."""
    _named.add(name)
    return LatePackage(name)


def load_all() -> None:
    """Load every package that was named, for a process that waits to make copies of itself."""
    for name in _named:
        importlib.import_module(name)
