"""What was answered on a device and sent later: its instant, and that it is taken once."""

from datetime import datetime, timedelta

from chirotend.services.context import Context, FieldError
from chirotend.store.models import DeviceTouchRow

#: how long a device without a link may keep what was answered on it
KEPT_FOR = timedelta(days=30)
UID_MAX = 64


def answered_at(context: Context, at: datetime | None) -> datetime:
    """Return the instant a device says it was answered at; now, when it says none or one that cannot be."""
    if at is None or at.tzinfo is None or not context.now - KEPT_FOR <= at <= context.now:
        return context.now
    return at


def first_time(context: Context, uid: str) -> bool:
    """Note the answer with the id a device gave it; False when it was taken before. "" = it has none, and is new."""
    if not uid:
        return True
    if len(uid) > UID_MAX or not uid.isalnum():
        raise FieldError("uid", "This answer has an id no device gives. Open the page again and answer once more.")
    taken = context.store.repository(DeviceTouchRow)
    if taken.get(uid) is not None:
        return False
    taken.drop_all(DeviceTouchRow.at_utc < context.now - KEPT_FOR)
    taken.put({"uid": uid, "at_utc": context.now})
    return True
