"""Keys belong to a line of deliveries; later deliveries are known to have brought texts that were there."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

ID = sa.BigInteger()


def upgrade() -> None:
    op.create_table(
        "delivery_line",
        sa.Column("id", ID, primary_key=True),
        sa.Column(
            "project_id",
            ID,
            sa.ForeignKey("project.id", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("token", sa.String(40, "utf8mb4_bin"), nullable=False),
        sa.Column("name", sa.String(300), nullable=False),
        sa.Column("mapping", sa.JSON(), nullable=False),
        sa.UniqueConstraint("project_id", "token"),
    )
    op.create_table(
        "text_brought",
        sa.Column(
            "text_id",
            ID,
            sa.ForeignKey("text.id", ondelete="CASCADE"),
            primary_key=True,
            autoincrement=False,
        ),
        sa.Column(
            "delivery_id",
            ID,
            sa.ForeignKey("delivery.id", ondelete="CASCADE"),
            primary_key=True,
            autoincrement=False,
        ),
    )
    for table in ("variable", "variable_category"):
        op.add_column(table, sa.Column("away", sa.SmallInteger(), server_default="0", nullable=False))
    op.add_column("command", sa.Column("delivery_id", ID, nullable=True))
    op.create_foreign_key(
        "command_delivery", "command", "delivery", ["delivery_id"], ["id"], ondelete="SET NULL"
    )
    # keys that were given so far hold in the whole project, and go on doing so
    op.execute(
        "insert into delivery_line (project_id, token, name, mapping) select distinct project_id, '', "
        "'earlier deliveries', '{\"targets\": []}' from delivery"
    )
    op.execute("update kept_mapping set choice = json_set(choice, '$.mapping.line', '')")


def downgrade() -> None:
    op.drop_constraint("command_delivery", "command", type_="foreignkey")
    op.drop_column("command", "delivery_id")
    for table in ("variable", "variable_category"):
        op.drop_column(table, "away")
    op.drop_table("text_brought")
    op.drop_table("delivery_line")
