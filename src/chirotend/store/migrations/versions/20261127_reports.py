"""reports and who may look"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_reports"
down_revision = "20261127_trials"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "report",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("audience", sa.String(length=12), nullable=False),
        sa.Column("first", sa.Date(), nullable=False),
        sa.Column("last", sa.Date(), nullable=False),
        sa.Column("made_utc", sa.DateTime(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_report_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_report")),
    )
    op.create_table(
        "share",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("report", sa.String(length=64), nullable=False),
        sa.Column("until_utc", sa.DateTime(), nullable=False),
        sa.Column("revoked", sa.Boolean(), nullable=False),
        sa.Column("looks", sa.Integer(), nullable=False),
        sa.Column("looked_utc", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_share_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "digest", name=op.f("pk_share")),
    )
    with op.batch_alter_table("share", schema=None) as batch_op:
        batch_op.create_index("ix_share_digest", ["digest"], unique=True)


def downgrade() -> None:
    with op.batch_alter_table("share", schema=None) as batch_op:
        batch_op.drop_index("ix_share_digest")

    op.drop_table("share")
    op.drop_table("report")
