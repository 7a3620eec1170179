"""Other uses of the hands, logged in two taps: typing, lifting, gym, cooking, reed-making, carrying."""

from uuid import uuid4

from chirotend.core.record import Block, Session
from chirotend.library.loader import other_uses
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections


def write_use(context: Context, use: str, minutes: float | None) -> Session:
    """Write minutes of another use of the hands into today; its load counts, its minutes are not playing."""
    known = other_uses().get(use)
    if known is None:
        raise NotThere(use)
    if minutes is None or not 1 <= minutes <= 720:
        raise FieldError("use_minutes", "Choose how long, from 1 minute to 12 hours.")
    session = Session(uuid4().hex, context.today, (Block(minutes, use, "other"),), known.effort)
    corrections.put(context, session)
    return session
