"""Notes hang on findings, and on the questions that findings are grouped under."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for column, table in (("finding_id", "finding"), ("question_id", "finding_question")):
        op.add_column(
            "note",
            sa.Column(column, sa.BigInteger(), sa.ForeignKey(f"{table}.id", ondelete="SET NULL"), nullable=True),
        )
