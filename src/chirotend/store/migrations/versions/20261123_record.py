"""The first slice: accounts, players, the record, events, calls, corrections, jobs."""

import sqlalchemy as sa
from alembic import op

revision = "20261123_first_slice"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "account",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("password_hash", sa.Text(), nullable=False),
        sa.Column("stamp", sa.String(length=32), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_account")),
        sa.UniqueConstraint("name", name=op.f("uq_account_name")),
    )
    op.create_table(
        "player",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("zone", sa.String(length=64), nullable=False),
        sa.Column("instruments", sa.JSON(), nullable=False),
        sa.Column("emergency_number", sa.String(length=40), nullable=False),
        sa.Column("units", sa.String(length=8), nullable=False),
        sa.Column("letter_keys", sa.Boolean(), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_player")),
    )
    op.create_table(
        "setup_link",
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("digest", name=op.f("pk_setup_link")),
    )
    op.create_table(
        "call",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("issued_utc", sa.DateTime(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("call", sa.String(length=12), nullable=False),
        sa.Column("row", sa.Integer(), nullable=False),
        sa.Column("findings", sa.JSON(), nullable=False),
        sa.Column("dose", sa.JSON(), nullable=False),
        sa.Column("standing", sa.JSON(), nullable=False),
        sa.Column("overrule", sa.String(length=12), nullable=True),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_call_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "day", "number", name=op.f("pk_call")),
    )
    op.create_table(
        "change",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("action", sa.String(length=8), nullable=False),
        sa.Column("subject", sa.String(length=8), nullable=False),
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("before", sa.JSON(), nullable=True),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_change_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "number", name=op.f("pk_change")),
    )
    op.create_table(
        "check",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("timing", sa.String(length=12), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=True),
        sa.Column("other_uses", sa.String(length=8), nullable=True),
        sa.Column("red_flags", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_check_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_check")),
    )
    with op.batch_alter_table("check", schema=None) as batch_op:
        batch_op.create_index("ix_check_day", ["player_id", "day", "timing"], unique=True)

    op.create_table(
        "clearance",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("start_dose_min", sa.Double(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_clearance_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "at_utc", name=op.f("pk_clearance")),
    )
    op.create_table(
        "day",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("off", sa.Boolean(), nullable=False),
        sa.Column("sleep", sa.String(length=8), nullable=True),
        sa.Column("hands", sa.String(length=8), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["player.id"], name=op.f("fk_day_player_id_player"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("player_id", "day", name=op.f("pk_day")),
    )
    op.create_table(
        "event",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("session_uid", sa.String(length=64), nullable=False),
        sa.Column("device", sa.String(length=64), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("monotonic_ms", sa.Double(), nullable=True),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("payload", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_event_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_event")),
    )
    with op.batch_alter_table("event", schema=None) as batch_op:
        batch_op.create_index("ix_event_session", ["player_id", "session_uid"], unique=False)

    op.create_table(
        "grant",
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["account.id"], name=op.f("fk_grant_account_id_account"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_grant_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("account_id", "player_id", name=op.f("pk_grant")),
    )
    op.create_table(
        "job",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("state", sa.String(length=12), nullable=False),
        sa.Column("cancel", sa.Boolean(), nullable=False),
        sa.Column("result", sa.JSON(), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["player.id"], name=op.f("fk_job_player_id_player"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_job")),
    )
    op.create_table(
        "session",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("start_utc", sa.DateTime(), nullable=True),
        sa.Column("end_utc", sa.DateTime(), nullable=True),
        sa.Column("effort", sa.Double(), nullable=True),
        sa.Column("went_well", sa.Text(), nullable=False),
        sa.Column("was_hard", sa.Text(), nullable=False),
        sa.Column("question", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_session_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_session")),
    )
    with op.batch_alter_table("session", schema=None) as batch_op:
        batch_op.create_index("ix_session_day", ["player_id", "day"], unique=False)

    op.create_table(
        "block",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("session_uid", sa.String(length=64), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("effort", sa.Double(), nullable=True),
        sa.Column("dynamic", sa.String(length=4), nullable=True),
        sa.Column("tempo_bpm", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(
            ["player_id", "session_uid"],
            ["session.player_id", "session.uid"],
            name=op.f("fk_block_player_id_session"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_block_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "session_uid", "position", name=op.f("pk_block")),
    )
    op.create_table(
        "entry",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("check_uid", sa.String(length=64), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("zone", sa.String(length=40), nullable=False),
        sa.Column("side", sa.String(length=5), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("intensity", sa.Double(), nullable=False),
        sa.Column("lasting", sa.String(length=8), nullable=True),
        sa.Column("flags", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id", "check_uid"],
            ["check.player_id", "check.uid"],
            name=op.f("fk_entry_player_id_check"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_entry_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "check_uid", "position", name=op.f("pk_entry")),
    )


def downgrade() -> None:
    op.drop_table("entry")
    op.drop_table("block")
    with op.batch_alter_table("session", schema=None) as batch_op:
        batch_op.drop_index("ix_session_day")

    op.drop_table("session")
    op.drop_table("job")
    op.drop_table("grant")
    with op.batch_alter_table("event", schema=None) as batch_op:
        batch_op.drop_index("ix_event_session")

    op.drop_table("event")
    op.drop_table("day")
    op.drop_table("clearance")
    with op.batch_alter_table("check", schema=None) as batch_op:
        batch_op.drop_index("ix_check_day")

    op.drop_table("check")
    op.drop_table("change")
    op.drop_table("call")
    op.drop_table("setup_link")
    op.drop_table("player")
    op.drop_table("account")
