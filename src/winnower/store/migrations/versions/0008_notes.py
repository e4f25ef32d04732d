"""Notes on anything, quotes, paraphrases; groups and versions of the codebook, kept questions, lost passages."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGTEXT

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

ID = sa.BigInteger()
EXACT = "utf8mb4_bin"


def _key(name: str, target: str, ondelete: str = "CASCADE", nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, ID, sa.ForeignKey(target, ondelete=ondelete), nullable=nullable)


def _id() -> sa.Column[Any]:
    return sa.Column("id", ID, primary_key=True)


def _words(name: str, length: int) -> sa.Column[Any]:
    return sa.Column(name, sa.String(length, EXACT), nullable=False, server_default="")


def _made(revision: bool = True) -> list[sa.Column[Any]]:
    columns = [
        _key("made_by", "account.id", "RESTRICT"),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
    ]
    return [*columns, sa.Column("revision", sa.Integer(), nullable=False, server_default="1")] if revision else columns


def upgrade() -> None:
    _notes()
    op.create_table(
        "quote",
        _id(),
        _key("note_id", "note.id"),
        _key("text_id", "text.id", "SET NULL", nullable=True),
        sa.Column("start", sa.Integer()),
        sa.Column("end", sa.Integer()),
        sa.Column("words", LONGTEXT(collation=EXACT), nullable=False),
    )
    op.create_index("quote_of_text", "quote", ["text_id"])
    op.create_table(
        "paraphrase",
        _id(),
        _key("text_id", "text.id"),
        sa.Column("start", sa.Integer()),
        sa.Column("end", sa.Integer()),
        sa.Column("body", sa.Text(collation=EXACT), nullable=False),
        *_made(),
        sa.CheckConstraint("`start` is null or (`start` >= 0 and `start` < `end`)", name="paraphrase_stretch"),
    )
    op.create_index("paraphrase_of_text", "paraphrase", ["text_id", "start"])
    _coding()
    op.add_column("project", sa.Column("notes_revision", sa.Integer(), nullable=False, server_default="0"))


def _coding() -> None:
    op.create_table(
        "lost_passage",
        _id(),
        _key("text_id", "text.id"),
        _key("code_id", "code.id"),
        sa.Column("was_at", sa.Integer(), nullable=False),
        sa.Column("words", LONGTEXT(collation=EXACT), nullable=False),
        sa.Column("strength", sa.SmallInteger()),
        _words("comment", 2000),
        *_made(revision=False),
    )
    op.create_table(
        "group_of_codes",
        _id(),
        _key("project_id", "project.id"),
        sa.Column("name", sa.String(120, EXACT), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False, server_default="0"),
        *_made(),
        sa.UniqueConstraint("project_id", "name"),
    )
    op.create_table(
        "code_in_group",
        _id(),
        _key("group_id", "group_of_codes.id"),
        _key("code_id", "code.id"),
        sa.UniqueConstraint("group_id", "code_id"),
    )
    op.create_table(
        "codebook_version",
        _id(),
        _key("project_id", "project.id"),
        sa.Column("number", sa.Integer(), nullable=False),
        _words("name", 120),
        sa.Column("note", sa.Text(), nullable=False, server_default=""),
        sa.Column("content", sa.JSON(), nullable=False),
        *_made(revision=False),
        sa.UniqueConstraint("project_id", "number"),
    )
    op.create_table(
        "kept_question",
        _id(),
        _key("project_id", "project.id"),
        sa.Column("name", sa.String(200, EXACT), nullable=False),
        sa.Column("question", sa.JSON(), nullable=False),
        *_made(),
        sa.UniqueConstraint("project_id", "name"),
    )
    op.create_table(
        "coding_done",
        _id(),
        _key("text_id", "text.id"),
        *_made(revision=False),
        sa.UniqueConstraint("text_id", "made_by"),
    )


def _notes() -> None:
    """Notes on texts become notes on anything; what the history says of them is told in the new words."""
    op.rename_table("text_note", "note")
    op.add_column("note", sa.Column("project_id", ID, nullable=True))
    op.execute("update note join text on text.id = note.text_id set note.project_id = text.project_id")
    op.alter_column("note", "project_id", existing_type=ID, nullable=False)
    op.create_foreign_key("note_project", "note", "project", ["project_id"], ["id"], ondelete="CASCADE")
    op.alter_column("note", "text_id", existing_type=ID, nullable=True)
    op.add_column("note", sa.Column("code_id", ID, nullable=True))
    op.create_foreign_key("note_code", "note", "code", ["code_id"], ["id"], ondelete="SET NULL")
    op.add_column("note", _words("kind", 40))
    op.add_column("note", _words("title", 200))
    op.create_index("note_of_project", "note", ["project_id", "id"])
    connection = op.get_bind()
    told = "select id, project_id, changes from command where changes like '%\"text_note\"%'"
    for command, project, written in connection.execute(sa.text(told)).all():
        changes = json.loads(written) if isinstance(written, str) else written
        for change in changes:
            if change.get("table") == "text_note":
                change["table"] = "note"
                for row in (change["before"], change["after"]):
                    if row:
                        row |= {"project_id": project, "code_id": None, "kind": "", "title": ""}
        connection.execute(
            sa.text("update command set changes = :changes where id = :id"),
            {"changes": json.dumps(changes), "id": command},
        )


def downgrade() -> None:
    op.drop_column("project", "notes_revision")
    for table in (
        "coding_done", "kept_question", "codebook_version", "code_in_group", "group_of_codes", "lost_passage",
        "paraphrase", "quote",
    ):  # fmt: skip
        op.drop_table(table)
    op.execute("delete from note where text_id is null")
    op.drop_constraint("note_project", "note", type_="foreignkey")
    op.drop_index("note_of_project", "note")
    op.drop_constraint("note_code", "note", type_="foreignkey")
    for column in ("title", "kind", "code_id", "project_id"):
        op.drop_column("note", column)
    op.alter_column("note", "text_id", existing_type=ID, nullable=False)
    op.rename_table("note", "text_note")
