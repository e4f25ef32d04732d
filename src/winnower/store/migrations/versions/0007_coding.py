"""The codebook and passages."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def _key(name: str, target: str, ondelete: str = "CASCADE", nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, ID, sa.ForeignKey(target, ondelete=ondelete), nullable=nullable)


def _number(name: str, kind: type[sa.Integer] = sa.Integer, default: str | None = None) -> sa.Column[Any]:
    return sa.Column(name, kind(), nullable=False, server_default=default)


def _made() -> list[sa.Column[Any]]:
    return [
        _key("made_by", "account.id", "RESTRICT"),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
        _number("revision", default="1"),
    ]


def upgrade() -> None:
    words = [
        sa.Column(name, sa.Text(), nullable=False, server_default="")
        for name in ("description", "rule", "example", "counter_example")
    ]
    op.create_table(
        "code",
        sa.Column("id", ID, primary_key=True),
        _key("project_id", "project.id"),
        _key("parent_id", "code.id", nullable=True),
        sa.Column("parent_key", ID, sa.Computed("coalesce(`parent_id`, 0)", persisted=False)),
        sa.Column("name", sa.String(120, EXACT), nullable=False),
        *words,
        _number("colour", sa.SmallInteger, "0"),
        sa.Column("symbol", sa.String(16, EXACT), nullable=False, server_default=""),
        _number("technical", sa.SmallInteger, "0"),
        _number("position", default="0"),
        *_made(),
        sa.UniqueConstraint("project_id", "parent_key", "name", name="code_once"),
    )
    op.create_index("code_tree", "code", ["project_id", "parent_id", "position"])
    op.create_table(
        "passage",
        sa.Column("id", ID, primary_key=True),
        _key("text_id", "text.id"),
        _key("code_id", "code.id"),
        _number("start"),
        _number("end"),
        sa.Column("strength", sa.SmallInteger()),
        sa.Column("comment", sa.String(2000, EXACT), nullable=False, server_default=""),
        *_made(),
        sa.UniqueConstraint("text_id", "code_id", "start", "end", "made_by", name="passage_once"),
        sa.CheckConstraint("`start` >= 0 and `start` < `end`", name="passage_stretch"),
        sa.CheckConstraint("strength between 1 and 5", name="passage_strength"),
    )
    op.create_table(
        "coding_change",
        sa.Column("project_id", ID, sa.ForeignKey("project.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("texts", sa.JSON(), nullable=True),
    )
    op.add_column("project", sa.Column("coding_revision", sa.Integer(), nullable=False, server_default="0"))


def downgrade() -> None:
    op.drop_column("project", "coding_revision")
    for table in ("coding_change", "passage", "code"):
        op.drop_table(table)
