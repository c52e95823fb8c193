"""whether a choice stays when a plan is worked out; pencils that a plan leaves out for a call

Revision: 0011, after 0010
"""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # What was chosen before there were plans was chosen by hand, and stays.
    with op.batch_alter_table("choice", recreate="never") as table:
        table.add_column(sa.Column("locked", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.create_table(
        "exclusion",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=False),
        sa.Column("call_id", sa.Integer(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_exclusion")),
        sa.UniqueConstraint("call_id", "paper_id", "colour_id", name=op.f("uq_exclusion_call_id_paper_id_colour_id")),
        sa.ForeignKeyConstraint(
            ["recipe_id"], ["recipe.id"], name=op.f("fk_exclusion_recipe_id_recipe"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["call_id"], ["recipe_call.id"], name=op.f("fk_exclusion_call_id_recipe_call"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_exclusion_paper_id_paper")),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_exclusion_colour_id_colour")),
        sqlite_autoincrement=True,
    )
    for column in ("recipe_id", "call_id", "paper_id", "colour_id"):
        op.create_index(op.f(f"ix_exclusion_{column}"), "exclusion", [column])


def downgrade() -> None:
    op.drop_table("exclusion")
    with op.batch_alter_table("choice", recreate="never") as table:
        table.drop_column("locked")
