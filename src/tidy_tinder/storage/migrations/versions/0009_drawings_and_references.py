"""drawings, their references and picks; each drawing has its own tray, and recipes belong to one

What was at hand (paper, closest, tray, recipes) becomes the first drawing; a collection in which nothing was at hand
begins with none.

Revision: 0009, after 0008
"""

from datetime import UTC, datetime

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

_LAB = "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200"


def upgrade() -> None:
    op.create_table(
        "drawing",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("width_mm", sa.Double(), nullable=False),
        sa.Column("height_mm", sa.Double(), nullable=False),
        sa.Column("closest", sa.String(), nullable=False),
        sa.Column("for_sale", sa.Boolean(), nullable=False),
        sa.Column("black", sa.String(), nullable=False),
        sa.Column("solvent", sa.Boolean(), nullable=False),
        sa.Column("work_order", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("begun_on", sa.Date(), nullable=False),
        sa.Column("notes", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_drawing")),
        sa.UniqueConstraint("name", name=op.f("uq_drawing_name")),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_drawing_paper_id_paper")),
        sa.CheckConstraint("closest IN ('overall', 'value', 'hue')", name=op.f("ck_drawing_closest_known")),
        sa.CheckConstraint("black IN ('allowed', 'sparingly', 'none')", name=op.f("ck_drawing_black_known")),
        sa.CheckConstraint(
            "work_order IN ('light to dark', 'dark first', 'middle out')", name=op.f("ck_drawing_work_order_known")
        ),
        sa.CheckConstraint("state IN ('at work', 'archived')", name=op.f("ck_drawing_state_known")),
        sa.CheckConstraint(
            "width_mm BETWEEN 40 AND 1500 AND height_mm BETWEEN 40 AND 1500", name=op.f("ck_drawing_size_bounds")
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_drawing_paper_id"), "drawing", ["paper_id"])
    op.create_table(
        "reference",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("added_on", sa.Date(), nullable=False),
        sa.Column("steps", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reference")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_reference_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_reference_drawing_id"), "reference", ["drawing_id"])
    op.create_table(
        "reference_picture",
        sa.Column("reference_id", sa.Integer(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("taken_up", sa.Integer(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("working", sa.LargeBinary(), nullable=True),
        sa.Column("curve", sa.JSON(), nullable=True),
        sa.Column("matrix", sa.JSON(), nullable=True),
        sa.Column("profile", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("reference_id", name=op.f("pk_reference_picture")),
        sa.CheckConstraint(
            "state IN ('waiting', 'opening', 'ready', 'refused')", name=op.f("ck_reference_picture_state_known")
        ),
    )
    op.create_table(
        "pick",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("reference_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("area", sa.String(), nullable=False),
        sa.Column("x", sa.Double(), nullable=False),
        sa.Column("y", sa.Double(), nullable=False),
        sa.Column("radius", sa.Double(), nullable=False),
        sa.Column("lab_L", sa.Double(), nullable=False),
        sa.Column("lab_a", sa.Double(), nullable=False),
        sa.Column("lab_b", sa.Double(), nullable=False),
        sa.Column("spread", sa.Double(), nullable=False),
        sa.Column("share", sa.Double(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pick")),
        sa.UniqueConstraint("reference_id", "number", name=op.f("uq_pick_reference_id_number")),
        sa.ForeignKeyConstraint(
            ["reference_id"], ["reference.id"], name=op.f("fk_pick_reference_id_reference"), ondelete="CASCADE"
        ),
        sa.CheckConstraint("x BETWEEN 0 AND 1 AND y BETWEEN 0 AND 1", name=op.f("ck_pick_place_bounds")),
        sa.CheckConstraint("radius >= 0 AND spread >= 0", name=op.f("ck_pick_not_negative")),
        sa.CheckConstraint(_LAB, name=op.f("ck_pick_lab_bounds")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_pick_reference_id"), "pick", ["reference_id"])
    with op.batch_alter_table("tray_pencil", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_constraint(op.f("uq_tray_pencil_colour_id"), type_="unique")
        table.add_column(sa.Column("drawing_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_tray_pencil_drawing_id_drawing"), "drawing", ["drawing_id"], ["id"])
        table.create_unique_constraint(op.f("uq_tray_pencil_drawing_id_colour_id"), ["drawing_id", "colour_id"])
        table.create_index(op.f("ix_tray_pencil_drawing_id"), ["drawing_id"])
    with op.batch_alter_table("recipe", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("drawing_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_recipe_drawing_id_drawing"), "drawing", ["drawing_id"], ["id"])
        table.create_index(op.f("ix_recipe_drawing_id"), ["drawing_id"])
    _first_drawing()


def _first_drawing() -> None:
    """What is at hand becomes a drawing, if anything is."""
    connection = op.get_bind()
    pulled = connection.scalar(sa.text("SELECT count(*) FROM tray_pencil"))
    recipes = connection.scalar(sa.text("SELECT count(*) FROM recipe"))
    papers = list(connection.scalars(sa.text("SELECT id FROM paper ORDER BY position, id")))
    if not papers or not (pulled or recipes):
        return
    rows = connection.execute(sa.text("SELECT name, value FROM setting")).all()
    settings = {str(name): str(value) for name, value in rows}
    chosen = int(settings.get("paper", "0") or 0)
    made = connection.execute(
        sa.text(
            "INSERT INTO drawing (revision, name, position, paper_id, width_mm, height_mm, closest, for_sale, black, "
            "solvent, work_order, state, begun_on, notes) VALUES (1, 'First drawing', 0, :paper, 210, 297, :closest, "
            "0, 'allowed', 0, 'light to dark', 'at work', :today, '')"
        ),
        {
            "paper": chosen if chosen in papers else papers[0], "closest": settings.get("closest", "overall"),
            "today": datetime.now(UTC).date().isoformat(),
        },
    )  # fmt: skip
    number = made.lastrowid
    connection.execute(sa.text("UPDATE tray_pencil SET drawing_id = :d"), {"d": number})
    connection.execute(sa.text("UPDATE recipe SET drawing_id = :d"), {"d": number})
    connection.execute(
        sa.text("INSERT INTO setting (revision, name, value) VALUES (1, 'drawing', :d)"), {"d": str(number)}
    )


def downgrade() -> None:
    connection = op.get_bind()
    # One tray again: that of the drawing at hand, or else of none; a colour of several trays stays once.
    connection.execute(
        sa.text("DELETE FROM tray_pencil WHERE id NOT IN (SELECT min(id) FROM tray_pencil GROUP BY colour_id)")
    )
    connection.execute(sa.text("DELETE FROM setting WHERE name = 'drawing'"))
    with op.batch_alter_table("recipe", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_index(op.f("ix_recipe_drawing_id"))
        table.drop_constraint(op.f("fk_recipe_drawing_id_drawing"), type_="foreignkey")
        table.drop_column("drawing_id")
    with op.batch_alter_table("tray_pencil", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_index(op.f("ix_tray_pencil_drawing_id"))
        table.drop_constraint(op.f("uq_tray_pencil_drawing_id_colour_id"), type_="unique")
        table.drop_constraint(op.f("fk_tray_pencil_drawing_id_drawing"), type_="foreignkey")
        table.drop_column("drawing_id")
        table.create_unique_constraint(op.f("uq_tray_pencil_colour_id"), ["colour_id"])
    for name in ("pick", "reference_picture", "reference", "drawing"):
        op.drop_table(name)
