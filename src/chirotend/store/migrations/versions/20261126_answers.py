"""answers to signs"""

import sqlalchemy as sa
from alembic import op

revision = "20261126_answers"
down_revision = "20261126_known"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "sign_answer",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("region", sa.String(length=40), nullable=False),
        sa.Column("side", sa.String(length=8), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("answer", sa.String(length=12), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_sign_answer_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_sign_answer")),
    )


def downgrade() -> None:
    op.drop_table("sign_answer")
