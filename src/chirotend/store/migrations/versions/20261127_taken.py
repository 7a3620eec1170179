"""answers taken from devices"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_taken"
down_revision = "20261127_technique"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "taken",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_taken_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_taken")),
    )


def downgrade() -> None:
    op.drop_table("taken")
