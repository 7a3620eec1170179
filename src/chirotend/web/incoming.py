"""What comes in, as text that can be kept: no NUL, no half characters, in forms and addresses alike."""

from functools import cached_property
from typing import Any

from flask import Request
from werkzeug.datastructures import ImmutableMultiDict, MultiDict

from chirotend.core.texts import clean


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
