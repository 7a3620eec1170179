"""Help with the cautions, and the urgent page, which also works without a network."""

import logging
from collections.abc import Sequence

from flask import Blueprint, Response, current_app, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from chirotend.core.body.redflags import flags_for
from chirotend.core.body.zones import zones
from chirotend.core.plan.suits import STATES
from chirotend.library.loader import cautions, other_complaints
from chirotend.services.help.questions import questions
from chirotend.services.today.happened import states_of
from chirotend.services.today.stop import URGENT_ROW, stopped
from chirotend.services.words import Reason
from chirotend.web import assets
from chirotend.web.transaction import context, let_go

log = logging.getLogger(__name__)
bp = Blueprint("help", __name__)


@bp.get("/help")
def index() -> ResponseReturnValue:
    words = request.args.get("words", "")
    return render_template(
        "help/index.html",
        words_asked=words,
        questions=questions(words),
        cautions=cautions(),
        complaints=other_complaints(),
        zones=zones().values(),
        flags=flags_for(frozenset(STATES)),
    )


@bp.get("/urgent")
def urgent() -> ResponseReturnValue:
    """What she wrote comes first on this page; whatever fails, the list and the number stand."""
    signs: list[Reason] = []
    try:
        if current_user.is_authenticated:
            stop = stopped(context())
            signs = [r for r in stop.reasons if r.row == URGENT_ROW] if stop else []
            let_go()  # what the page would note of the call can wait; nothing here may wait for a disk
    except Exception:  # the one page that must open: its list needs no record
        log.exception("the urgent page stands without the record")
        let_go()
    return _urgent(signs)


def _urgent(signs: Sequence[Reason]) -> ResponseReturnValue:
    tier = "emergency" if any(r.book == "now" for r in signs) or not signs else "same_day"
    return render_template("help/urgent.html", signs=signs, tier=tier, number=_number(), flags=flags_for(_states()))


def _states() -> frozenset[str]:
    """What she said of herself; the whole list stands where the record does not answer, or she is signed out."""
    try:
        return states_of(context()) if current_user.is_authenticated else frozenset(STATES)
    except Exception:  # as above
        log.exception("what she said of herself cannot be read")
        let_go()
        return frozenset(STATES)


def _number() -> str:
    """Her emergency number; "" when she has none, is signed out, or the record does not answer."""
    try:
        return context().player.emergency_number if current_user.is_authenticated else ""
    except Exception:  # as above: the list stands without it
        log.exception("the emergency number cannot be read")
        let_go()
        return ""


@bp.get("/urgent/offline")
def urgent_offline() -> ResponseReturnValue:
    """The page the service worker keeps: with her number when she is signed in, without anything she wrote."""
    return _urgent(())


@bp.get("/sw.js")
def service_worker() -> ResponseReturnValue:
    kept = [
        url_for(".urgent_offline"),
        *(
            assets.url(f)
            for f in (
                "css/tokens.css",
                "css/urgent.css",
                "css/concert_card.css",
                "js/link.js",
                "js/kept.js",
                "vendor/literata-latin-standard-normal.woff2",
                "vendor/atkinson-hyperlegible-next-latin-wght-normal.woff2",
            )
        ),
    ]
    return Response(render_template("help/sw.js", kept=kept), mimetype="text/javascript")


@bp.get("/app.webmanifest")
def manifest() -> ResponseReturnValue:
    """What a phone needs to put the application on its home screen."""
    return Response(render_template("help/app.webmanifest"), mimetype="application/manifest+json")


@bp.get("/health")
def health() -> ResponseReturnValue:
    return {"ok": True, "demo": current_app.config["DEMO"]}
