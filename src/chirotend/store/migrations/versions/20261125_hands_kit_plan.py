"""hands, kit, own items, warm-ups, engagements, aims, planned blocks"""

import sqlalchemy as sa
from alembic import op

revision = "20261125_before_playing"
down_revision = "20261123_first_slice"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "aim",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("week", sa.Date(), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("effort", sa.Double(), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("new_hard", sa.Boolean(), nullable=False),
        sa.Column("manner", sa.String(length=8), nullable=False),
        sa.Column("weight", sa.Double(), nullable=False),
        sa.Column("unlaid", sa.Text(), nullable=False),
        sa.Column("done", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["player.id"], name=op.f("fk_aim_player_id_player"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_aim")),
    )
    with op.batch_alter_table("aim", schema=None) as batch_op:
        batch_op.create_index("ix_aim_week", ["player_id", "week"], unique=False)

    op.create_table(
        "engagement",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("start_utc", sa.DateTime(), nullable=False),
        sa.Column("end_utc", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("title", sa.String(length=200), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("effort", sa.Double(), nullable=False),
        sa.Column("source", sa.String(length=400), nullable=False),
        sa.Column("import_uid", sa.String(length=64), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("session_uid", sa.String(length=64), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_engagement_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_engagement")),
    )
    with op.batch_alter_table("engagement", schema=None) as batch_op:
        batch_op.create_index("ix_engagement_day", ["player_id", "day"], unique=False)

    op.create_table(
        "kit",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("mass_g", sa.Double(), nullable=True),
        sa.Column("length_mm", sa.Double(), nullable=True),
        sa.Column("balance_mm", sa.Double(), nullable=True),
        sa.Column("setting_mm", sa.Double(), nullable=True),
        sa.Column("service_on", sa.Date(), nullable=True),
        sa.Column("service_months", sa.Integer(), nullable=True),
        sa.Column("back_on", sa.Date(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["player.id"], name=op.f("fk_kit_player_id_player"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_kit")),
    )
    op.create_table(
        "measurement",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("at_utc", sa.DateTime(), nullable=False),
        sa.Column("method", sa.String(length=40), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("hand", sa.String(length=5), nullable=False),
        sa.Column("value", sa.Double(), nullable=False),
        sa.Column("unit", sa.String(length=8), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_measurement_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_measurement")),
    )
    with op.batch_alter_table("measurement", schema=None) as batch_op:
        batch_op.create_index("ix_measurement_method", ["player_id", "method", "hand"], unique=False)

    op.create_table(
        "own_item",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_own_item_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "kind", "uid", name=op.f("pk_own_item")),
    )
    op.create_table(
        "planned",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("uid", sa.String(length=64), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("start_utc", sa.DateTime(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("aim_uid", sa.String(length=64), nullable=False),
        sa.Column("title", sa.String(length=120), nullable=False),
        sa.Column("instrument", sa.String(length=80), nullable=False),
        sa.Column("effort", sa.Double(), nullable=False),
        sa.Column("laid_by", sa.String(length=8), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_planned_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "uid", name=op.f("pk_planned")),
    )
    with op.batch_alter_table("planned", schema=None) as batch_op:
        batch_op.create_index("ix_planned_day", ["player_id", "day"], unique=False)

    op.create_table(
        "profile",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_profile_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", name=op.f("pk_profile")),
    )
    op.create_table(
        "warmup",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("wish", sa.JSON(), nullable=False),
        sa.Column("steps", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["player_id"], ["player.id"], name=op.f("fk_warmup_player_id_player"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("player_id", "day", name=op.f("pk_warmup")),
    )
    with op.batch_alter_table("change", schema=None) as batch_op:
        batch_op.alter_column(
            "subject", existing_type=sa.VARCHAR(length=8), type_=sa.String(length=12), existing_nullable=False
        )
        batch_op.alter_column(
            "key", existing_type=sa.VARCHAR(length=64), type_=sa.String(length=80), existing_nullable=False
        )


def downgrade() -> None:

    with op.batch_alter_table("change", schema=None) as batch_op:
        batch_op.alter_column(
            "key", existing_type=sa.String(length=80), type_=sa.VARCHAR(length=64), existing_nullable=False
        )
        batch_op.alter_column(
            "subject", existing_type=sa.String(length=12), type_=sa.VARCHAR(length=8), existing_nullable=False
        )

    op.drop_table("warmup")
    op.drop_table("profile")
    with op.batch_alter_table("planned", schema=None) as batch_op:
        batch_op.drop_index("ix_planned_day")

    op.drop_table("planned")
    op.drop_table("own_item")
    with op.batch_alter_table("measurement", schema=None) as batch_op:
        batch_op.drop_index("ix_measurement_method")

    op.drop_table("measurement")
    op.drop_table("kit")
    with op.batch_alter_table("engagement", schema=None) as batch_op:
        batch_op.drop_index("ix_engagement_day")

    op.drop_table("engagement")
    with op.batch_alter_table("aim", schema=None) as batch_op:
        batch_op.drop_index("ix_aim_week")

    op.drop_table("aim")
