"""what happened, and open matters"""

import sqlalchemy as sa
from alembic import op

revision = "20261130_matters"
down_revision = "20261127_parts"
branch_labels = None
depends_on = None

DAY_TIMINGS = "playing after waking daily"


def upgrade() -> None:
    op.create_table(
        "happening",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("until", sa.Date(), nullable=True),
        sa.Column("answer", sa.String(length=14), nullable=False),
        sa.Column("zone", sa.String(length=40), nullable=False),
        sa.Column("side", sa.String(length=5), nullable=False),
        sa.Column("allowed_min", sa.Double(), nullable=True),
        sa.Column("allowed_from", sa.Date(), nullable=True),
        sa.Column("allowed_until", sa.Date(), nullable=True),
        sa.Column("not_on", sa.JSON(), nullable=False),
        sa.Column("said_by", sa.String(length=120), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_happening_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_happening")),
    )
    op.create_table(
        "matter",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("kind", sa.String(length=8), nullable=False),
        sa.Column("code", sa.String(length=24), nullable=False),
        sa.Column("region", sa.String(length=20), nullable=False),
        sa.Column("side", sa.String(length=5), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("advised_by", sa.String(length=120), nullable=False),
        sa.Column("first_day", sa.Date(), nullable=False),
        sa.Column("due", sa.Date(), nullable=False),
        sa.Column("state", sa.String(length=8), nullable=False),
        sa.Column("booked_for", sa.Date(), nullable=True),
        sa.Column("settled_on", sa.Date(), nullable=True),
        sa.Column("history", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_matter_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_matter")),
    )
    with op.batch_alter_table("known") as table:
        table.add_column(sa.Column("timings", sa.String(length=60), server_default=DAY_TIMINGS, nullable=False))
    with op.batch_alter_table("sign_answer") as table:
        table.add_column(sa.Column("ended", sa.Date(), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("sign_answer") as table:
        table.drop_column("ended")
    with op.batch_alter_table("known") as table:
        table.drop_column("timings")
    op.drop_table("matter")
    op.drop_table("happening")
