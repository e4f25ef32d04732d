"""Findings, the questions they are grouped under, and events in time."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGBLOB, LONGTEXT

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def _key(name: str, target: str, ondelete: str = "CASCADE", nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, ID, sa.ForeignKey(target, ondelete=ondelete), nullable=nullable)


def _made_at() -> sa.Column[Any]:
    return sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False)


def _revision() -> sa.Column[Any]:
    return sa.Column("revision", sa.Integer(), nullable=False, server_default="1")


def upgrade() -> None:
    op.create_table(
        "finding_question",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("words", sa.String(500, EXACT), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False, server_default="0"),
        _revision(),
    )
    op.create_index("question_of_project", "finding_question", ["project_id", "place"])
    op.create_table(
        "finding_said",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("request", sa.JSON(), nullable=False),
        sa.Column("state", sa.JSON(), nullable=False),
        sa.Column("packed", LONGBLOB(), nullable=False),
        _key("made_by", "account.id", "RESTRICT"),
        _made_at(),
    )
    op.create_table(
        "finding",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        _key("question_id", "finding_question.id", "SET NULL", nullable=True),
        sa.Column("place", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("view", sa.String(12), nullable=False),
        sa.Column("title", sa.String(300, EXACT), nullable=False),
        sa.Column("remark", LONGTEXT(collation=EXACT), nullable=False),
        sa.Column("request", sa.JSON(), nullable=False),
        sa.Column("drawn", sa.JSON(), nullable=False),
        sa.Column("frozen", sa.Boolean(), nullable=False, server_default="0"),
        _key("said_id", "finding_said.id", "RESTRICT"),
        _key("made_by", "account.id", "RESTRICT"),
        _made_at(),
        _revision(),
        sa.CheckConstraint(
            "view in ('comparison', 'map', 'changes', 'keywords', 'together', 'network')", name="finding_view"
        ),
    )
    op.create_index("finding_of_project", "finding", ["project_id", "place"])
    op.create_table(
        "event",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("name", sa.String(200, EXACT), nullable=False),
        _key("made_by", "account.id", "RESTRICT"),
        _revision(),
    )
    op.create_index("event_of_project", "event", ["project_id", "day"])


def downgrade() -> None:
    for table in ("event", "finding", "finding_said", "finding_question"):
        op.drop_table(table)
