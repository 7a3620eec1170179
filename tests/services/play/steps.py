"""Steps that tests of a sitting share."""

from dataclasses import replace
from datetime import timedelta
from uuid import uuid4

from chirotend.services.desk import Desk
from chirotend.services.play import sitting
from chirotend.store.models import PlannedRow


def at(desk: Desk, **step: float) -> Desk:
    return replace(desk, now=desk.now + timedelta(**step))


def send(desk: Desk, session: str, kind: str, **payload: str) -> None:
    seq = int(desk.now.timestamp())
    sitting.append(desk, [{"uid": uuid4().hex, "session": session, "kind": kind, "seq": seq, "payload": payload}])


def lay(desk: Desk, minutes: float, hour: float, title: str, instrument: str = "tin whistle") -> None:
    start = desk.now.replace(minute=0) + timedelta(hours=hour)
    values = {"uid": title, "day": desk.today, "start_utc": start, "minutes": minutes, "title": title}
    desk.store.shelf(PlannedRow).put({**values, "instrument": instrument, "effort": 4, "laid_by": "planner"})
