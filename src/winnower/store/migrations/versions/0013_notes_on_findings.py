"""Notes hang on findings, and on the questions that findings are grouped under."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

HANGS = {"finding_id": "finding", "question_id": "finding_question"}


def upgrade() -> None:
    for column, table in HANGS.items():
        op.add_column("note", sa.Column(column, sa.BigInteger(), nullable=True))
        op.create_foreign_key(f"note_on_{table}", "note", table, [column], ["id"], ondelete="SET NULL")


def downgrade() -> None:
    for column, table in HANGS.items():
        op.drop_constraint(f"note_on_{table}", "note", type_="foreignkey")
        op.drop_column("note", column)
