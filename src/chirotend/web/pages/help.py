"""Help with the cautions, and the urgent page, which also works without a network."""

from flask import Blueprint, Response, current_app, render_template, url_for
from flask_login import current_user

from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import zones
from chirotend.library.loader import cautions
from chirotend.services import today
from chirotend.web.transaction import desk

bp = Blueprint("help", __name__)


@bp.get("/help")
def index():  # type: ignore[no-untyped-def]
    return render_template("help/index.html", cautions=cautions(), zones=zones().values(), flags=red_flags().values())


@bp.get("/urgent")
def urgent():  # type: ignore[no-untyped-def]
    """What she wrote comes first on this page; without a network the service worker shows the bare one."""
    said = today.todays_page(desk()).said
    signs = [r for r in said.reasons if r.row == 1]
    tier = "emergency" if any(r.book == "now" for r in signs) or not signs else "same_day"
    return render_template(
        "help/urgent.html",
        signs=signs,
        tier=tier,
        number=desk().player.emergency_number,
        flags=red_flags().values(),
    )


@bp.get("/urgent/offline")
def urgent_offline():  # type: ignore[no-untyped-def]
    """The page the service worker keeps: with her number when she is signed in, without anything she wrote."""
    number = desk().player.emergency_number if current_user.is_authenticated else ""
    return render_template("help/urgent.html", signs=[], tier="emergency", number=number, flags=red_flags().values())


@bp.get("/sw.js")
def service_worker():  # type: ignore[no-untyped-def]
    kept = [
        url_for(".urgent_offline"),
        *(
            url_for("static", filename=f)
            for f in (
                "css/tokens.css",
                "css/urgent.css",
                "css/curtain.css",
                "js/curtain.js",
                "vendor/literata-latin-standard-normal.woff2",
                "vendor/atkinson-hyperlegible-next-latin-wght-normal.woff2",
            )
        ),
    ]
    return Response(render_template("help/sw.js", kept=kept), mimetype="text/javascript")


@bp.get("/health")
def health():  # type: ignore[no-untyped-def]
    return {"ok": True, "demo": current_app.config["DEMO"]}
