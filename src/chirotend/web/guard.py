"""Pages that offer something to play ask the call first: rows 1 and 2 rule every one of them."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for

from chirotend.services.today.stop import Stop, stopped, to_hand_over
from chirotend.web.transaction import desk


def offers_playing(view: Callable[..., Any]) -> Callable[..., Any]:
    """Let `view` run only when today's call has no finding of rows 1 or 2."""

    @wraps(view)
    def asked(*args: Any, **kwargs: Any) -> Any:
        stop = stopped(desk())
        return view(*args, **kwargs) if stop is None else instead(stop)

    return asked


def rules_all_of(pages: Blueprint, but: frozenset[str]) -> None:
    """Let every page of a blueprint but those named run only when today's call has no finding of rows 1 or 2."""

    @pages.before_request
    def asked() -> Any:
        if request.endpoint in but:
            return None
        stop = stopped(desk())
        return None if stop is None else instead(stop)


def instead(stop: Stop) -> Any:
    """Return what is shown in the place of anything to play: the urgent page, or "hand it over"."""
    if stop.urgent:
        return redirect(url_for("help.urgent"))
    page = render_template("today/hand_over.html", stop=stop, ahead=to_hand_over(desk()))
    return page, 200 if request.method == "GET" else 409
