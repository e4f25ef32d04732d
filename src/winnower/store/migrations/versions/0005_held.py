"""Jobs are held by one process at a time; sessions can be listed."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_column("job", "heartbeat")
    op.add_column("job", sa.Column("holder", sa.String(120), nullable=True))
    op.add_column("job", sa.Column("lease_until", DATETIME(fsp=6), nullable=True))
    for name in ("attempts", "deaths"):
        op.add_column("job", sa.Column(name, sa.Integer(), server_default="0", nullable=False))
    now = sa.text("current_timestamp()")
    op.add_column("sign_in", sa.Column("made_at", sa.DateTime(), server_default=now, nullable=False))
    op.add_column("sign_in", sa.Column("about", sa.String(200), server_default="", nullable=False))


def downgrade() -> None:
    for name in ("made_at", "about"):
        op.drop_column("sign_in", name)
    for name in ("holder", "lease_until", "attempts", "deaths"):
        op.drop_column("job", name)
    op.add_column("job", sa.Column("heartbeat", sa.DateTime(), nullable=True))
