"""grips, postures and probes"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_technique"
down_revision = "20261126_answers"
branch_labels = None
depends_on = None

TEXTS = (
    ("aim", "posture", 64),
    ("block", "grip", 64),
    ("block", "posture", 64),
    ("measurement", "what", 80),
    ("measurement", "probe", 64),
)


def upgrade() -> None:
    op.create_table(
        "probe",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(length=16), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("hand", sa.String(length=5), nullable=False),
        sa.Column("what", sa.String(length=80), nullable=False),
        sa.Column("kit", sa.String(length=80), nullable=False),
        sa.Column("state", sa.String(length=8), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("blob", sa.String(length=64), nullable=False),
        sa.Column("media", sa.String(length=40), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_probe_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_probe")),
    )
    op.create_index("ix_probe_kind", "probe", ["player_id", "kind", "day"], unique=False)
    for table, column, length in TEXTS:
        with op.batch_alter_table(table) as batch:
            batch.add_column(sa.Column(column, sa.String(length=length), server_default="", nullable=False))


def downgrade() -> None:
    for table, column, _ in reversed(TEXTS):
        with op.batch_alter_table(table) as batch:
            batch.drop_column(column)
    op.drop_table("probe")
