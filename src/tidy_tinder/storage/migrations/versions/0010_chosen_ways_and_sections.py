"""the way that is chosen for a pick; which reference a recipe came from; a drawing's sections

Revision: 0010, after 0009
"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("pick", recreate="never") as table:
        table.add_column(sa.Column("laid", sa.JSON(), nullable=True))
    with op.batch_alter_table("recipe", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("reference_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_recipe_reference_id_reference"), "reference", ["reference_id"], ["id"])
        table.create_index(op.f("ix_recipe_reference_id"), ["reference_id"])
    op.create_table(
        "section_map",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("reference_id", sa.Integer(), nullable=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("places", sa.String(), nullable=False),
        sa.Column("width_mm", sa.Double(), nullable=False),
        sa.Column("height_mm", sa.Double(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_section_map")),
        sa.UniqueConstraint("drawing_id", name=op.f("uq_section_map_drawing_id")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_section_map_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["reference_id"], ["reference.id"], name=op.f("fk_section_map_reference_id_reference")),
        sa.CheckConstraint("kind IN ('grid', 'shapes')", name=op.f("ck_section_map_kind_known")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_section_map_reference_id"), "section_map", ["reference_id"])
    op.create_table(
        "section",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("map_id", sa.Integer(), nullable=False),
        sa.Column("label", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_section")),
        sa.UniqueConstraint("map_id", "label", name=op.f("uq_section_map_id_label")),
        sa.ForeignKeyConstraint(
            ["map_id"], ["section_map.id"], name=op.f("fk_section_map_id_section_map"), ondelete="CASCADE"
        ),
        sa.CheckConstraint("state IN ('to do', 'begun', 'done')", name=op.f("ck_section_state_known")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_section_map_id"), "section", ["map_id"])


def downgrade() -> None:
    for name in ("section", "section_map"):
        op.drop_table(name)
    with op.batch_alter_table("recipe", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_index(op.f("ix_recipe_reference_id"))
        table.drop_constraint(op.f("fk_recipe_reference_id_reference"), type_="foreignkey")
        table.drop_column("reference_id")
    with op.batch_alter_table("pick", recreate="never") as table:
        table.drop_column("laid")
