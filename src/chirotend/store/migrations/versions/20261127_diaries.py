"""how diaries are kept and taken back"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_diaries"
down_revision = "20261127_taken"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "brought",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("act", sa.Integer(), nullable=False),
        sa.Column("names", sa.String(length=400), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_brought_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_brought")),
    )
    op.create_table(
        "habit",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(length=60), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_habit_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "key", name=op.f("pk_habit")),
    )


def downgrade() -> None:
    op.drop_table("habit")
    op.drop_table("brought")
