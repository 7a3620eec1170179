"""signed-in browsers, names compared without case, set-up links for several players"""

import sqlalchemy as sa
from alembic import op

from chirotend.core.names import name_key

revision = "20261126_browsers"
down_revision = "20261125_takes"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "browser",
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.Column("seen_utc", sa.DateTime(), nullable=False),
        sa.Column("agent", sa.String(length=200), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["account.id"], name=op.f("fk_browser_account_id_account"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("digest", name=op.f("pk_browser")),
    )
    op.create_index("ix_browser_account", "browser", ["account_id"])
    op.add_column("setup_link", sa.Column("name", sa.String(length=80), nullable=False, server_default=""))
    op.add_column("account", sa.Column("name_key", sa.String(length=320), nullable=False, server_default=""))
    taken: set[str] = set()
    for number, name in op.get_bind().execute(sa.text("select id, name from account order by id")).all():
        key = name_key(name)
        key = f"{key} {number}" if key in taken else key  # two that differed by case alone: the second keeps its number
        taken.add(key)
        op.get_bind().execute(sa.text("update account set name_key = :key where id = :id"), {"key": key, "id": number})
    op.create_index("ix_account_name_key", "account", ["name_key"], unique=True)
    op.drop_column("account", "stamp")  # browsers are signed out by their own rows now


def downgrade() -> None:
    op.add_column("account", sa.Column("stamp", sa.String(length=32), nullable=False, server_default=""))
    op.drop_index("ix_account_name_key", "account")
    op.drop_column("account", "name_key")
    op.drop_column("setup_link", "name")
    op.drop_table("browser")
