"""Pages that offer something to play ask the call first: a Tacet day rules every one of them."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for

from chirotend.services.today.stop import Stop, stopped, to_hand_over
from chirotend.web.transaction import context, let_go, reads_only, unlocked_context


# one door for all pages that offer playing, so that none forgets rows 1 and 2: decision 32
def offers_playing(view: Callable[..., Any]) -> Callable[..., Any]:
    """Let `view` run only when today is not Tacet: it offers something to play today."""
    return _unless(lambda stop: True, view)


# days to come stay open under every other Tacet: decision 146
def offers_later(view: Callable[..., Any]) -> Callable[..., Any]:
    """Let `view` run unless rows 1 or 2 are open: it plans later days, which wait for their own call."""
    return _unless(lambda stop: stop.later_too, view)


def _unless(stops: Callable[[Stop], bool], view: Callable[..., Any]) -> Callable[..., Any]:
    @wraps(view)
    def asked(*args: Any, **kwargs: Any) -> Any:
        # a file that is brought is read before the record is held
        stop = stopped(unlocked_context() if request.files else context())
        return instead(stop) if stop is not None and stops(stop) else view(*args, **kwargs)

    return asked


def rules_all_of(pages: Blueprint, but: frozenset[str]) -> None:
    """Let every page of a blueprint but those named run only when today is not Tacet.

    It is asked before the record is held: files and sensors are read first.
    """

    @pages.before_request
    def asked() -> Any:
        if request.endpoint in but:
            return None
        stop = stopped(unlocked_context())
        return None if stop is None else instead(stop)


def instead(stop: Stop) -> Any:
    """Return what is shown in the place of anything to play: the urgent page, or why there is nothing."""
    if not reads_only():
        let_go()
    if stop.urgent:
        return redirect(url_for("help.urgent"))
    page = render_template("today/hand_over.html", stop=stop, ahead=to_hand_over(context(), stop))
    return page, 200 if request.method == "GET" else 409
