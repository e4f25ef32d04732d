"""Reports, their pieces, and what frozen ones said."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGBLOB

revision = "0014"
down_revision = "0013"
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
        "report_said",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("packed", LONGBLOB(), nullable=False),
        _key("made_by", "account.id", "RESTRICT"),
        _made_at(),
    )
    op.create_table(
        "report",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        sa.Column("title", sa.String(300, EXACT), nullable=False),
        _key("said_id", "report_said.id", "RESTRICT", nullable=True),
        _key("made_by", "account.id", "RESTRICT"),
        _made_at(),
        _revision(),
    )
    op.create_index("report_of_project", "report", ["project_id", "id"])
    op.create_table(
        "report_piece",
        sa.Column("id", ID, primary_key=True),
        _key("report_id", "report.id"),
        sa.Column("place", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("piece", sa.JSON(), nullable=False),
        _revision(),
    )
    op.create_index("piece_of_report", "report_piece", ["report_id", "place"])


def downgrade() -> None:
    op.drop_table("report_piece")
    op.drop_table("report")
    op.drop_table("report_said")
