"""Own practice laid in its place: read, moved, rubbed out."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

from chirotend.core.plan.week import Engagement, PlannedBlock
from chirotend.services.context import Context, FieldError
from chirotend.services.plan import engagements
from chirotend.services.record import corrections
from chirotend.store.models import PlannedRow

MOVE_DAYS_MAX = 60


def blocks_between(context: Context, first: date, last: date) -> list[PlannedBlock]:
    repository = context.store.repository(PlannedRow)
    rows = repository.all(PlannedRow.day >= first, PlannedRow.day <= last, order=(PlannedRow.start_utc,))
    return [_block(row) for row in rows]


def _block(row: PlannedRow) -> PlannedBlock:
    return PlannedBlock(
        row.uid, row.day, row.start_utc, row.minutes, row.aim_uid, row.title, row.instrument, row.effort, row.laid_by
    )


def values_of(block: PlannedBlock) -> dict[str, object]:
    names = ("uid", "day", "start_utc", "minutes", "aim_uid", "title", "instrument", "effort", "laid_by")
    return {n: getattr(block, n) for n in names}


def block_of(context: Context, uid: str) -> PlannedBlock:
    return _block(context.row(PlannedRow, uid))


def move(context: Context, uid: str, minutes: float = 0, days: int = 0, longer: float = 0) -> PlannedBlock:
    """Move a block by minutes and days, or make it longer; it is hers from then on. `FieldError` says why not."""
    block = block_of(context, uid)
    if abs(days) > MOVE_DAYS_MAX or abs(minutes) > MOVE_DAYS_MAX * 24 * 60:
        raise FieldError("block", f"A block moves by at most {MOVE_DAYS_MAX} days.")
    if block.start_utc <= context.now:
        raise FieldError("block", "This lies in the past. Save what was played under Record.")
    day = block.day + timedelta(days=days)
    local = (block.start_utc + timedelta(minutes=minutes)).astimezone(context.zone)
    start = datetime.combine(local.date() + timedelta(days=days), local.time(), context.zone).astimezone(UTC)
    length = block.minutes + longer
    if not 5 <= length <= 180:
        raise FieldError("block", "A block takes 5 to 180 minutes.")
    if start < context.now:
        raise FieldError("block", "This place lies in the past.")
    moved = replace(block, day=day, start_utc=start, minutes=length, laid_by="hand")
    others = [b for b in blocks_between(context, day, day) if b.uid != uid]
    there: list[PlannedBlock | Engagement] = [*others, *engagements.between(context, day - timedelta(days=1), day)]
    for other in there:
        if moved.start_utc < other.end_utc and other.start_utc < moved.end_utc:
            raise FieldError("block", f"“{other.title}” stands there. Move that first, or choose another place.")
    corrections.put_row(context, "planned", values_of(moved))
    return moved


def rub_out(context: Context, uid: str) -> None:
    block_of(context, uid)
    corrections.delete(context, "planned", uid)
