"""known complaints"""

import sqlalchemy as sa
from alembic import op

revision = "20261126_known"
down_revision = "20261126_day_stamps"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "known",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("region", sa.String(length=40), nullable=False),
        sa.Column("side", sa.String(length=8), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("level", sa.Double(), nullable=False),
        sa.Column("seen_on", sa.Date(), nullable=False),
        sa.Column("since", sa.Date(), nullable=False),
        sa.Column("review", sa.Date(), nullable=False),
        sa.Column("lasts", sa.Boolean(), nullable=False),
        sa.Column("at_night", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_known_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_known")),
    )


def downgrade() -> None:
    op.drop_table("known")
