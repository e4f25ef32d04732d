"""Requests that are carried out once; how often signing in failed, and browsers that are known.

Revision ID: 0015
Revises: 0014
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import BINARY, DATETIME

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def upgrade() -> None:
    op.add_column("command", sa.Column("request_key", sa.String(64, EXACT), nullable=True))
    op.create_unique_constraint(
        "command_request", "command", ["project_id", "account_id", "request_key"]
    )
    op.create_table(
        "failed_sign_in",
        sa.Column("whose", BINARY(32), primary_key=True),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("last_at", DATETIME(fsp=3), nullable=False),
    )
    op.create_index("failed_sign_in_at", "failed_sign_in", ["last_at"])
    op.create_table(
        "known_browser",
        sa.Column("token_hash", BINARY(32), primary_key=True),
        sa.Column("account_id", ID, sa.ForeignKey("account.id", ondelete="CASCADE"), nullable=False),
        sa.Column("seen_at", sa.DateTime(), nullable=False),
    )
    op.add_column("account", sa.Column("ended_at", sa.DateTime(), nullable=True))


def downgrade() -> None:
    op.drop_column("account", "ended_at")
    op.drop_table("known_browser")
    op.drop_table("failed_sign_in")
    op.drop_constraint("command_request", "command", type_="unique")
    op.drop_column("command", "request_key")
