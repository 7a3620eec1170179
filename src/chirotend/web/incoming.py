"""What comes in, as text that can be kept: no NUL, no half characters, in forms and addresses alike."""

from functools import cached_property
from typing import Any

from flask import Request
from werkzeug.datastructures import ImmutableMultiDict, MultiDict


def clean(text: str) -> str:
    """Return `text` without NUL, and with a mark in the place of half a character, which no file can hold."""
    return text.replace("\x00", "").encode("utf-8", "replace").decode("utf-8")


class CleanRequest(Request):
    """A request whose typed texts are clean."""

    def _load_form_data(self) -> None:
        loaded = "form" in self.__dict__
        super()._load_form_data()
        if not loaded:
            self.__dict__["form"] = _cleaned(self.__dict__["form"])

    @cached_property
    def args(self) -> Any:
        return _cleaned(super().args)


def _cleaned(found: MultiDict[str, str]) -> ImmutableMultiDict[str, str]:
    return ImmutableMultiDict((clean(k), clean(v)) for k, v in found.items(multi=True))
