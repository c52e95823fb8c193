"""what a step is for and whether it is left to dry; a choice of two colours; recipes that are edited, their versions, and checks switched off

Revision: 0012, after 0011
"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

_PURPOSES = "'map', 'base', 'build', 'deepen', 'blend', 'burnish', 'glaze', 'highlight', 'resist', 'lift', ''"


def upgrade() -> None:
    with op.batch_alter_table("recipe", recreate="never") as table:
        table.add_column(sa.Column("edited_at", sa.DateTime(), nullable=True))
        table.add_column(sa.Column("checks_off", sa.JSON(), nullable=False, server_default="[]"))
    # With its check, and without writing the table anew, which would forget the numbers of steps that were removed.
    op.execute(
        "ALTER TABLE recipe_step ADD COLUMN purpose VARCHAR DEFAULT '' NOT NULL "
        f"CONSTRAINT ck_recipe_step_purpose_known CHECK (purpose IN ({_PURPOSES}))"
    )
    with op.batch_alter_table("recipe_step", recreate="never") as table:
        table.add_column(sa.Column("waits", sa.Boolean(), nullable=False, server_default=sa.false()))
    with op.batch_alter_table("recipe_call", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("other_colour_id", sa.Integer(), nullable=True))
        table.create_foreign_key(
            op.f("fk_recipe_call_other_colour_id_colour"), "colour", ["other_colour_id"], ["id"]
        )  # fmt: skip
        table.create_index(op.f("ix_recipe_call_other_colour_id"), ["other_colour_id"])
    op.create_table(
        "recipe_version",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=False),
        sa.Column("kept_at", sa.DateTime(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("content", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe_version")),
        sa.ForeignKeyConstraint(
            ["recipe_id"], ["recipe.id"], name=op.f("fk_recipe_version_recipe_id_recipe"), ondelete="CASCADE"
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_recipe_version_recipe_id"), "recipe_version", ["recipe_id"])


def downgrade() -> None:
    op.drop_table("recipe_version")
    with op.batch_alter_table("recipe_call", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_index(op.f("ix_recipe_call_other_colour_id"))
        table.drop_constraint(op.f("fk_recipe_call_other_colour_id_colour"), type_="foreignkey")
        table.drop_column("other_colour_id")
    with op.batch_alter_table("recipe_step", recreate="never") as table:
        table.drop_column("waits")
        table.drop_column("purpose")
    with op.batch_alter_table("recipe", recreate="never") as table:
        table.drop_column("checks_off")
        table.drop_column("edited_at")
