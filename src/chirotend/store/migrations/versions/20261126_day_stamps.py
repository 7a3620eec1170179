"""stamps of days, rows of open sittings, changes of one deed, what a block was laid as"""

import secrets

import sqlalchemy as sa
from alembic import op

revision = "20261126_day_stamps"
down_revision = "20261126_browsers"
branch_labels = None
depends_on = None

DAYS = """
    select player_id, day from session
    union select player_id, day from "check"
    union select player_id, day from day
"""
OPEN = """
    select player_id, session_uid, min(at_utc) as began_utc from event as begun
    where kind = 'start' and not exists (
        select 1 from event as closed
        where closed.player_id = begun.player_id and closed.session_uid = begun.session_uid and closed.kind = 'close'
    )
    group by player_id, session_uid
"""


def upgrade() -> None:
    op.create_table(
        "day_stamp",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("stamp", sa.String(length=16), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_day_stamp_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "day", name=op.f("pk_day_stamp")),
    )
    op.create_table(
        "sitting",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("session_uid", sa.String(length=64), nullable=False),
        sa.Column("began_utc", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_sitting_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "session_uid", name=op.f("pk_sitting")),
    )
    op.add_column("change", sa.Column("act", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("block", sa.Column("planned", sa.String(length=64), nullable=False, server_default=""))
    db = op.get_bind()
    for player, day in db.execute(sa.text(DAYS)).all():
        values = {"player": player, "day": day, "stamp": secrets.token_hex(8)}
        db.execute(sa.text("insert into day_stamp (player_id, day, stamp) values (:player, :day, :stamp)"), values)
    db.execute(sa.text(f"insert into sitting (player_id, session_uid, began_utc) {OPEN}"))


def downgrade() -> None:
    op.drop_column("block", "planned")
    op.drop_column("change", "act")
    op.drop_table("sitting")
    op.drop_table("day_stamp")
