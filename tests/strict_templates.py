"""Templates that fail where a value of ours lacks what they ask of it: in the application it would show nothing."""

from types import ModuleType
from typing import Any

from flask import Flask
from jinja2 import Undefined, UndefinedError
from jinja2.utils import missing


class Lacking(Undefined):
    """What a template asked for and did not get."""

    def __init__(
        self, hint: str | None = None, obj: Any = missing, name: str | None = None, exc: type = UndefinedError
    ) -> None:
        super().__init__(hint, obj, name, exc)
        ours = isinstance(obj, ModuleType) or type(obj).__module__.startswith("chirotend.")
        if obj is not missing and ours:
            raise UndefinedError(f"{obj if isinstance(obj, ModuleType) else type(obj).__name__} has no “{name}”")


def strict(app: Flask) -> Flask:
    """The application with such templates; none of them may have been read yet."""
    app.jinja_env.undefined = Lacking
    return app
