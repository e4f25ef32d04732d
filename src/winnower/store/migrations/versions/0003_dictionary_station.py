"""Term options, named versions, judgements, stop words, suggestions that were dismissed."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

EXACT = "utf8mb4_bin"


def upgrade() -> None:
    op.add_column("term", sa.Column("forms_of", sa.String(8), server_default="", nullable=False))
    op.alter_column("term", "source", type_=sa.String(700, EXACT), existing_nullable=False)
    op.create_unique_constraint(
        "term_once", "term", ["category_id", "source", "match_case", "ignore_accents", "forms_of"]
    )
    op.drop_constraint("category_id", "term", type_="unique")
    op.add_column(
        "dictionary_version",
        sa.Column("name", sa.String(120, EXACT), server_default="", nullable=False),
    )
    op.add_column("dictionary_version", sa.Column("note", sa.Text(), server_default="", nullable=False))
    op.create_table(
        "stop_word",
        sa.Column("id", sa.BigInteger(), primary_key=True),
        sa.Column("project_id", sa.BigInteger(), nullable=False),
        sa.Column("form", sa.String(120, EXACT), nullable=False),
        sa.Column("listed", sa.SmallInteger(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.UniqueConstraint("project_id", "form"),
    )
    op.create_table(
        "word_setting",
        sa.Column("id", sa.BigInteger(), primary_key=True),
        sa.Column("project_id", sa.BigInteger(), nullable=False, unique=True),
        sa.Column("language", sa.String(8), server_default="", nullable=False),
        sa.Column("revision", sa.Integer(), server_default="1", nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
    )
    op.create_table(
        "dismissed_suggestion",
        sa.Column("id", sa.BigInteger(), primary_key=True),
        sa.Column("project_id", sa.BigInteger(), nullable=False),
        sa.Column("category_id", sa.BigInteger(), nullable=False),
        sa.Column("form", sa.String(200, EXACT), nullable=False),
        sa.Column("made_by", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["made_by"], ["account.id"], ondelete="RESTRICT"),
        sa.UniqueConstraint("category_id", "form"),
    )
    op.create_table(
        "judging_sample",
        sa.Column("id", sa.BigInteger(), primary_key=True),
        sa.Column("project_id", sa.BigInteger(), nullable=False),
        sa.Column("dictionary_id", sa.BigInteger(), nullable=False),
        sa.Column("category_id", sa.BigInteger(), nullable=False),
        sa.Column("term", sa.String(800, EXACT), server_default="", nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("scope", sa.JSON(), nullable=False),
        sa.Column("items", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("made_by", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(), server_default=sa.func.current_timestamp(), nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["made_by"], ["account.id"], ondelete="RESTRICT"),
        sa.CheckConstraint("kind in ('hit', 'text')", name="sample_kind"),
    )
    op.create_table(
        "judgement",
        sa.Column("id", sa.BigInteger(), primary_key=True),
        sa.Column("project_id", sa.BigInteger(), nullable=False),
        sa.Column("category_id", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("text_id", sa.BigInteger(), nullable=False),
        sa.Column("start", sa.Integer(), nullable=False),
        sa.Column("end", sa.Integer(), nullable=False),
        sa.Column("verdict", sa.SmallInteger(), nullable=False),
        sa.Column("term", sa.String(800, EXACT), server_default="", nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("made_by", sa.BigInteger(), nullable=False),
        sa.Column("made_at", mysql.DATETIME(fsp=6), server_default=sa.text("current_timestamp(6)"), nullable=False),
        sa.Column("revision", sa.Integer(), server_default="1", nullable=False),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["text_id"], ["text.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["made_by"], ["account.id"], ondelete="RESTRICT"),
        sa.CheckConstraint("kind in ('hit', 'text')", name="judgement_kind"),
        sa.UniqueConstraint("category_id", "text_id", "kind", "start", "end", "made_by"),
    )


def downgrade() -> None:
    for table in ("judgement", "judging_sample", "dismissed_suggestion", "word_setting", "stop_word"):
        op.drop_table(table)
    op.drop_column("dictionary_version", "note")
    op.drop_column("dictionary_version", "name")
    op.create_unique_constraint(
        "category_id", "term", ["category_id", "source", "match_case", "ignore_accents"]
    )
    op.drop_constraint("term_once", "term", type_="unique")
    op.alter_column("term", "source", type_=sa.String(500, EXACT), existing_nullable=False)
    op.drop_column("term", "forms_of")
