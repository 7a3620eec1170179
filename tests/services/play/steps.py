"""Steps that tests of a session share."""

from dataclasses import replace
from datetime import timedelta
from uuid import uuid4

from chirotend.services.context import Context
from chirotend.services.play import running_session
from chirotend.store.models import PlannedRow


def at(context: Context, **step: float) -> Context:
    return replace(context, now=context.now + timedelta(**step))


def send(context: Context, session: str, kind: str, **payload: str) -> running_session.AppendedEvents:
    seq = int(context.now.timestamp())
    return running_session.append(
        context, [{"uid": uuid4().hex, "session": session, "kind": kind, "seq": seq, "payload": payload}]
    )


def schedule(context: Context, minutes: float, hour: float, title: str, instrument: str = "tin whistle") -> None:
    start = context.now.replace(minute=0) + timedelta(hours=hour)
    values = {"uid": title, "day": context.today, "start_utc": start, "minutes": minutes, "title": title}
    context.store.repository(PlannedRow).put({**values, "instrument": instrument, "effort": 4, "laid_by": "planner"})
