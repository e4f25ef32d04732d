"""Further identities by which a text is known: those of rows taken as its corrected form.

Revision ID: 0016
Revises: 0015
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import BINARY

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

ID = sa.BigInteger()


def upgrade() -> None:
    op.create_table(
        "text_identity",
        sa.Column("id", ID, primary_key=True),
        sa.Column("project_id", ID, sa.ForeignKey("project.id", ondelete="CASCADE"), nullable=False),
        sa.Column("text_id", ID, sa.ForeignKey("text.id", ondelete="CASCADE"), nullable=False),
        sa.Column("identity", BINARY(16), nullable=False),
        sa.UniqueConstraint("project_id", "identity"),
    )


def downgrade() -> None:
    op.drop_table("text_identity")
