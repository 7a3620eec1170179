"""takes, a grip for an aim"""

import sqlalchemy as sa
from alembic import op

revision = "20261125_takes"
down_revision = "20261125_eased"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "take",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("blob", sa.String(length=64), nullable=False),
        sa.Column("media", sa.String(length=40), nullable=False),
        sa.Column("kept", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_take_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_take")),
    )
    with op.batch_alter_table("aim", schema=None) as batch_op:
        batch_op.add_column(sa.Column("grip", sa.String(length=64), nullable=False, server_default=""))


def downgrade() -> None:

    with op.batch_alter_table("aim", schema=None) as batch_op:
        batch_op.drop_column("grip")

    op.drop_table("take")
