"""parts that were brought"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_parts"
down_revision = "20261127_reports"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "part",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("pace", sa.Double(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_part_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_part")),
    )


def downgrade() -> None:
    op.drop_table("part")
