"""Names of categories unique among siblings; verdicts and samples over any subject."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

EXACT = "utf8mb4_bin"


def upgrade() -> None:
    _unlike_siblings()
    op.add_column(
        "category",
        sa.Column(
            "parent_key", sa.BigInteger(), sa.Computed("coalesce(`parent_id`, 0)", persisted=False), nullable=True
        ),
    )
    op.create_unique_constraint("category_once", "category", ["dictionary_id", "parent_key", "name"])
    _verdicts()
    _samples()
    _history()


def _unlike_siblings() -> None:
    """Two people at once could have made siblings of one name: the later ones get a sign behind theirs."""
    connection = op.get_bind()
    rows = connection.execute(
        sa.text("select id, dictionary_id, coalesce(parent_id, 0), name from category order by id")
    ).all()
    seen = set()
    for row_id, dictionary, parent, name in rows:
        free = name
        while (dictionary, parent, free) in seen:
            free = f"{free[:119]}+"
        seen.add((dictionary, parent, free))
        if free != name:
            connection.execute(
                sa.text("update category set name = :name where id = :id"), {"name": free, "id": row_id}
            )


def _verdicts() -> None:
    op.rename_table("judgement", "verdict")
    op.drop_constraint("judgement_kind", "verdict", type_="check")
    op.alter_column("verdict", "category_id", new_column_name="subject_id", existing_type=sa.BigInteger(), existing_nullable=False)
    op.alter_column("verdict", "term", new_column_name="found_by", existing_type=sa.String(800, EXACT), existing_nullable=False, existing_server_default="")
    op.add_column("verdict", sa.Column("subject", sa.String(16), server_default="category", nullable=False))
    op.create_check_constraint("verdict_kind", "verdict", "kind in ('hit', 'text')")
    op.create_unique_constraint(
        "verdict_once", "verdict", ["subject", "subject_id", "text_id", "kind", "start", "end", "made_by"]
    )
    op.drop_constraint("category_id", "verdict", type_="unique")
    op.alter_column("verdict", "subject", server_default=None, existing_type=sa.String(16), existing_nullable=False)


def _samples() -> None:
    op.rename_table("judging_sample", "review_sample")
    op.alter_column("review_sample", "category_id", new_column_name="subject_id", existing_type=sa.BigInteger(), existing_nullable=False)
    op.alter_column("review_sample", "term", new_column_name="part", existing_type=sa.String(800, EXACT), existing_nullable=False, existing_server_default="")
    op.drop_column("review_sample", "dictionary_id")
    op.add_column("review_sample", sa.Column("subject", sa.String(16), server_default="category", nullable=False))
    op.alter_column("review_sample", "subject", server_default=None, existing_type=sa.String(16), existing_nullable=False)


def _history() -> None:
    """Commands on verdicts are kept in the words of the table: undo must find it under its new ones."""
    connection = op.get_bind()
    rows = connection.execute(
        sa.text("select id, changes from command where changes like :like"), {"like": '%"judgement"%'}
    ).all()
    for command_id, changes in rows:
        plain = json.loads(changes) if isinstance(changes, str) else changes
        for change in plain:
            if change.get("table") != "judgement":
                continue
            change["table"] = "verdict"
            for side in ("before", "after"):
                if change.get(side):
                    row = change[side]
                    row["subject"], row["subject_id"] = "category", row.pop("category_id")
                    row["found_by"] = row.pop("term")
        connection.execute(
            sa.text("update command set changes = :changes where id = :id"),
            {"changes": json.dumps(plain), "id": command_id},
        )


def downgrade() -> None:
    op.add_column("review_sample", sa.Column("dictionary_id", sa.BigInteger(), server_default="0", nullable=False))
    op.drop_column("review_sample", "subject")
    op.alter_column("review_sample", "part", new_column_name="term", existing_type=sa.String(800, EXACT), existing_nullable=False, existing_server_default="")
    op.alter_column("review_sample", "subject_id", new_column_name="category_id", existing_type=sa.BigInteger(), existing_nullable=False)
    op.rename_table("review_sample", "judging_sample")
    op.create_unique_constraint(
        "category_id", "verdict", ["subject_id", "text_id", "kind", "start", "end", "made_by"]
    )
    op.drop_constraint("verdict_once", "verdict", type_="unique")
    op.drop_constraint("verdict_kind", "verdict", type_="check")
    op.drop_column("verdict", "subject")
    op.alter_column("verdict", "found_by", new_column_name="term", existing_type=sa.String(800, EXACT), existing_nullable=False, existing_server_default="")
    op.alter_column("verdict", "subject_id", new_column_name="category_id", existing_type=sa.BigInteger(), existing_nullable=False)
    op.create_check_constraint("judgement_kind", "verdict", "kind in ('hit', 'text')")
    op.rename_table("verdict", "judgement")
    op.drop_constraint("category_once", "category", type_="unique")
    op.drop_column("category", "parent_key")
