"""programmes that were begun"""

import sqlalchemy as sa
from alembic import op

revision = "20261127_programmes"
down_revision = "20261127_diaries"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "programme",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("programme", sa.String(length=60), nullable=False),
        sa.Column("first", sa.Date(), nullable=False),
        sa.Column("ended", sa.Date(), nullable=True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_programme_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_programme")),
    )


def downgrade() -> None:
    op.drop_table("programme")
