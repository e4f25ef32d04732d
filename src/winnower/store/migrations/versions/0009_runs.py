"""Automatic coding: runs, their targets and the places they found."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def _key(name: str, target: str, ondelete: str = "CASCADE", nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, ID, sa.ForeignKey(target, ondelete=ondelete), nullable=nullable)


def _number(name: str, kind: Any = None, **more: Any) -> sa.Column[Any]:
    return sa.Column(name, kind or sa.Integer(), nullable=False, **more)


def upgrade() -> None:
    op.create_table(
        "coding_run",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("name", sa.String(200, EXACT), nullable=False),
        sa.Column("recipe", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("reasons", sa.JSON(), nullable=False),
        sa.Column("instrument", sa.String(200, EXACT), nullable=False, server_default=""),
        sa.Column("version", sa.Integer()),
        _number("texts_revision", server_default="0"),
        _number("places", server_default="0"),
        _key("made_by", "account.id", "RESTRICT"),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
        _number("revision", server_default="1"),
        sa.CheckConstraint("state in ('making', 'proposals', 'applied', 'taken back')", name="run_state"),
    )
    op.create_index("run_of_project", "coding_run", ["project_id", "id"])
    op.create_table(
        "run_target",
        sa.Column("id", ID, primary_key=True),
        _key("run_id", "coding_run.id"),
        _number("number", sa.SmallInteger()),
        sa.Column("key", sa.String(200, EXACT), nullable=False),
        sa.Column("name", sa.String(1000, EXACT), nullable=False),
        _key("code_id", "code.id", "SET NULL", nullable=True),
        sa.UniqueConstraint("run_id", "number"),
    )
    op.create_table(
        "run_place",
        sa.Column("id", ID, primary_key=True),
        _key("run_id", "coding_run.id"),
        _key("text_id", "text.id"),
        _number("start"),
        _number("end"),
        _number("target", sa.SmallInteger()),
        _number("reason"),
        _number("mark_start"),
        _number("mark_end"),
        _number("hits"),
        sa.CheckConstraint("`start` >= 0 and `start` < `end`", name="run_place_stretch"),
    )


def downgrade() -> None:
    op.execute("delete from verdict where subject = 'run'")
    for table in ("run_place", "run_target", "coding_run"):
        op.drop_table(table)
