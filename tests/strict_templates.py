"""Templates that fail where a value of ours lacks what they ask of it: in the application it would show nothing."""

from types import ModuleType
from typing import Any

from flask import Flask
from jinja2 import Undefined, UndefinedError
from jinja2.utils import missing


class Lacking(Undefined):
    """An undefined value of a template; raises `UndefinedError` where an object of ours lacks the attribute."""

    def __init__(
        self, hint: str | None = None, obj: Any = missing, name: str | None = None, exc: type = UndefinedError
    ) -> None:
        super().__init__(hint, obj, name, exc)
        ours = isinstance(obj, ModuleType) or type(obj).__module__.startswith("chirotend.")
        if obj is not missing and ours:
            raise UndefinedError(f"{obj if isinstance(obj, ModuleType) else type(obj).__name__} has no “{name}”")


def strict(app: Flask) -> Flask:
    """Return the application with strict templates. Call it before a template is compiled."""
    app.jinja_env.undefined = Lacking
    return app
