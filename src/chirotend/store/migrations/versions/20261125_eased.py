"""what eased a symptom"""

import sqlalchemy as sa
from alembic import op

revision = "20261125_eased"
down_revision = "20261125_before_playing"
branch_labels = None
depends_on = None


def upgrade() -> None:

    with op.batch_alter_table("entry", schema=None) as batch_op:
        batch_op.add_column(sa.Column("eased", sa.String(length=12), nullable=True))


def downgrade() -> None:

    with op.batch_alter_table("entry", schema=None) as batch_op:
        batch_op.drop_column("eased")
