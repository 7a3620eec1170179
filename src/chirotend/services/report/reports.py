"""Reports: made, shown to someone by a code for ten minutes, taken back."""

import hashlib
import ipaddress
import secrets
from collections.abc import Mapping
from datetime import datetime, timedelta
from uuid import uuid4

from sqlalchemy.orm import Session as Db

from chirotend.core.record.words import AUDIENCES
from chirotend.formats.kept_rows import ReportData
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.services.report.contents import Report, report
from chirotend.services.units import typed_day
from chirotend.store.models import ReportRow, ShareRow
from chirotend.store.shares import share_of

SPAN_DAYS, SPAN_MIN_DAYS, SPAN_MAX_DAYS = 70, 7, 366
SHOWN_FOR = timedelta(minutes=10)
CODE_DIGITS = 8
#: networks of a house (RFC 1918, RFC 4193): `is_private` also holds those set aside for tests and for examples
NEAR = tuple(map(ipaddress.ip_network, ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "fc00::/7")))
WHY_MAX, QUESTION_MAX, MEDICINES_MAX = 400, 160, 200


def reports(context: Context) -> list[ReportRow]:
    """Return her reports, the newest first."""
    return context.store.repository(ReportRow).all(order=(ReportRow.made_utc.desc(),))


def row_of(context: Context, uid: str) -> ReportRow:
    return context.row(ReportRow, uid)


def make(context: Context, typed: Mapping[str, str]) -> str:
    """Make a report from what was typed; returns its id. `FieldError` names the field."""
    audience = typed.get("audience", "")
    if audience not in AUDIENCES:
        raise FieldError("audience", "Choose whom it is for.")
    last = typed_day("last", typed.get("last", "") or context.today.isoformat())
    first = typed_day("first", typed.get("first", "") or (last - timedelta(days=SPAN_DAYS - 1)).isoformat())
    if last > context.today:
        raise FieldError("last", "The span ends today at the latest.")
    if not timedelta(days=SPAN_MIN_DAYS - 1) <= last - first <= timedelta(days=SPAN_MAX_DAYS - 1):
        raise FieldError("first", f"A span has {SPAN_MIN_DAYS} days at least and a year at most.")
    questions = [q for n in (1, 2, 3) if (q := _words(typed, f"question_{n}", QUESTION_MAX))]
    data = ReportData(
        why=_words(typed, "why", WHY_MAX),
        questions=questions,
        medicines=_words(typed, "medicines", MEDICINES_MAX),
        named=typed.get("named") == "yes",
    )
    uid = uuid4().hex
    row = {"uid": uid, "audience": audience, "first": first, "last": last, "made_utc": context.now}
    corrections.put_row(context, "report", {**row, "data": data.model_dump(mode="json")})
    return uid


def _words(typed: Mapping[str, str], name: str, most: int) -> str:
    text = " ".join(typed.get(name, "").split())
    if len(text) > most:
        raise FieldError(name, f"At most {most} characters: it is one page.")
    return text


def delete(context: Context, uid: str) -> None:
    """Delete a report and every code that opens it."""
    row_of(context, uid)
    context.store.repository(ShareRow).drop_all(ShareRow.report == uid)
    corrections.delete(context, "report", uid)


# --- shown to someone


def show(context: Context, uid: str) -> str:
    """Return a new code that opens a report for ten minutes; an older one of it stops working."""
    row_of(context, uid)
    context.store.repository(ShareRow).drop_all(ShareRow.report == uid)
    code = "".join(secrets.choice("0123456789") for _ in range(CODE_DIGITS))
    values = {
        "digest": _digest(code),
        "report": uid,
        "until_utc": context.now + SHOWN_FOR,
        "revoked": False,
        "looks": 0,
    }
    context.store.repository(ShareRow).put({**values, "looked_utc": None})
    return f"{code[:4]} {code[4:]}"


def shares(context: Context, uid: str) -> ShareRow | None:
    """Return the newest code of a report, working or not; None when there was none."""
    found = context.store.repository(ShareRow).all(ShareRow.report == uid, order=(ShareRow.until_utc.desc(),), most=1)
    return found[0] if found else None


def take_back(context: Context, uid: str) -> None:
    """Let no code open a report any more."""
    for row in context.store.repository(ShareRow).all(ShareRow.report == uid):
        row.revoked = True


def is_near(address: str | None) -> bool:
    """True for an address of this machine or of the network it stands in (RFC 1918, RFC 4193, link-local)."""
    try:
        found = ipaddress.ip_address(address or "")
    except ValueError:
        return False
    found = getattr(found, "ipv4_mapped", None) or found
    near = any(found in network for network in NEAR if network.version == found.version)
    return near or found.is_loopback or found.is_link_local


def opened(db: Db, code: str, address: str | None, now: datetime) -> Report:
    """Return the report that a code opens now, and note the look. `FieldError` never says which code there is."""
    if not is_near(address):
        raise FieldError("code", "This opens only on the network it is shown on.")
    found = share_of(db, _digest("".join(code.split())))
    if found is None or found[0].revoked or found[0].until_utc < now:
        raise FieldError("code", "No page opens with this code now. Ask for a new one: it lasts ten minutes.")
    share, player = found
    share.looks, share.looked_utc = share.looks + 1, now
    context = Context(db, player, now)
    return report(context, row_of(context, share.report))


def _digest(code: str) -> str:
    return hashlib.sha256(code.encode()).hexdigest()
