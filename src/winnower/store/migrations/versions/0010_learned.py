"""Runs that score what they find; lists of words for tone."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def _key(name: str, target: str, ondelete: str = "CASCADE") -> sa.Column[Any]:
    return sa.Column(name, ID, sa.ForeignKey(target, ondelete=ondelete), nullable=False)


def upgrade() -> None:
    op.add_column("run_place", sa.Column("score", sa.SmallInteger(), nullable=False, server_default="0"))
    op.add_column("coding_run", sa.Column("measured", sa.JSON()))
    op.create_table(
        "tone_list",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("name", sa.String(200, EXACT), nullable=False),
        sa.Column("base", sa.String(12), nullable=False),
        sa.Column("changes", sa.JSON(), nullable=False),
        _key("made_by", "account.id", "RESTRICT"),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False, server_default="1"),
        sa.UniqueConstraint("project_id", "name"),
        sa.CheckConstraint("base in ('english', 'none')", name="tone_base"),
    )
    op.create_table(
        "tone_version",
        sa.Column("id", ID, primary_key=True),
        _key("tone_list_id", "tone_list.id"),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("fingerprint", sa.String(64), nullable=False),
        sa.Column("base", sa.String(12), nullable=False),
        sa.Column("changes", sa.JSON(), nullable=False),
        _key("made_by", "account.id", "RESTRICT"),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
        sa.UniqueConstraint("tone_list_id", "number"),
        sa.UniqueConstraint("tone_list_id", "fingerprint"),
    )


def downgrade() -> None:
    for table in ("tone_version", "tone_list"):
        op.drop_table(table)
    op.drop_column("coding_run", "measured")
    op.drop_column("run_place", "score")
