"""photos of drawings that wait for their check; what to buy and its price, lengths of pencils, fade tests, eye practice

Revision: 0014, after 0013
"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_TABLES = (
    "drawing_photo",
    "drawing_photo_picture",
    "wanted",
    "price",
    "pencil_length",
    "fade_test",
    "fade_mark",
    "fade_reading",
    "practice_answer",
)


def upgrade() -> None:
    op.create_table(
        "drawing_photo",
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("sent_at", sa.DateTime(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_drawing_photo_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_drawing_photo")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_drawing_photo_drawing_id"), "drawing_photo", ["drawing_id"])
    op.create_table(
        "drawing_photo_picture",
        sa.Column("photo_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("working", sa.LargeBinary(), nullable=False),
        sa.Column("curve", sa.JSON(), nullable=False),
        sa.Column("matrix", sa.JSON(), nullable=False),
        sa.Column("profile", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("photo_id", name=op.f("pk_drawing_photo_picture")),
    )
    op.create_table(
        "wanted",
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("pieces", sa.Integer(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("ticked", sa.Boolean(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("pieces BETWEEN 1 AND 99", name=op.f("ck_wanted_pieces_bounds")),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_wanted_colour_id_colour")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_wanted")),
        sa.UniqueConstraint("colour_id", name=op.f("uq_wanted_colour_id")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "price",
        sa.Column("colour_id", sa.Integer(), nullable=True),
        sa.Column("range_id", sa.Integer(), nullable=True),
        sa.Column("set_id", sa.Integer(), nullable=True),
        sa.Column("amount", sa.Double(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "(colour_id IS NOT NULL) + (range_id IS NOT NULL) + (set_id IS NOT NULL) = 1",
            name=op.f("ck_price_of_one_thing"),
        ),
        sa.CheckConstraint("amount >= 0 AND amount < 1000000", name=op.f("ck_price_amount_bounds")),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_price_colour_id_colour")),
        sa.ForeignKeyConstraint(["range_id"], ["colour_range.id"], name=op.f("fk_price_range_id_colour_range")),
        sa.ForeignKeyConstraint(["set_id"], ["boxed_set.id"], name=op.f("fk_price_set_id_boxed_set")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_price")),
        sa.UniqueConstraint("colour_id", name=op.f("uq_price_colour_id")),
        sa.UniqueConstraint("range_id", name=op.f("uq_price_range_id")),
        sa.UniqueConstraint("set_id", name=op.f("uq_price_set_id")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "pencil_length",
        sa.Column("pencil_id", sa.Integer(), nullable=False),
        sa.Column("measured_at", sa.DateTime(), nullable=False),
        sa.Column("length_mm", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("length_mm BETWEEN 0 AND 400", name=op.f("ck_pencil_length_length_bounds")),
        sa.ForeignKeyConstraint(
            ["pencil_id"], ["pencil.id"], name=op.f("fk_pencil_length_pencil_id_pencil"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pencil_length")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_pencil_length_pencil_id"), "pencil_length", ["pencil_id"])
    op.create_table(
        "fade_test",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("begun_on", sa.Date(), nullable=False),
        sa.Column("ended_on", sa.Date(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "place IN ('window to the north', 'window to the east', 'window to the south', 'window to the west', 'under a lamp', 'in the room away from windows')",
            name=op.f("ck_fade_test_place_known"),
        ),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_fade_test_paper_id_paper")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_test")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_test_paper_id"), "fade_test", ["paper_id"])
    op.create_table(
        "fade_mark",
        sa.Column("test_id", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("pressure", sa.String(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "pressure IN ('light', 'medium', 'heavy', 'burnish')", name=op.f("ck_fade_mark_pressure_known")
        ),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_fade_mark_colour_id_colour")),
        sa.ForeignKeyConstraint(
            ["test_id"], ["fade_test.id"], name=op.f("fk_fade_mark_test_id_fade_test"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_mark")),
        sa.UniqueConstraint("test_id", "colour_id", "pressure", name=op.f("uq_fade_mark_test_id_colour_id_pressure")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_mark_colour_id"), "fade_mark", ["colour_id"])
    op.create_index(op.f("ix_fade_mark_test_id"), "fade_mark", ["test_id"])
    op.create_table(
        "fade_reading",
        sa.Column("mark_id", sa.Integer(), nullable=False),
        sa.Column("half", sa.String(), nullable=False),
        sa.Column("read_on", sa.Date(), nullable=False),
        sa.Column("lab_L", sa.Double(), nullable=False),
        sa.Column("lab_a", sa.Double(), nullable=False),
        sa.Column("lab_b", sa.Double(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("hours", sa.Double(), nullable=True),
        sa.Column("blue_wool", sa.Integer(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("half IN ('open', 'covered')", name=op.f("ck_fade_reading_half_known")),
        sa.CheckConstraint("source IN ('reader', 'photo', 'typed')", name=op.f("ck_fade_reading_source_known")),
        sa.CheckConstraint(
            "blue_wool IS NULL OR blue_wool BETWEEN 0 AND 8", name=op.f("ck_fade_reading_blue_wool_bounds")
        ),
        sa.CheckConstraint("hours IS NULL OR hours BETWEEN 0 AND 1000000", name=op.f("ck_fade_reading_hours_bounds")),
        sa.CheckConstraint(
            "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200",
            name=op.f("ck_fade_reading_lab_bounds"),
        ),
        sa.ForeignKeyConstraint(
            ["mark_id"], ["fade_mark.id"], name=op.f("fk_fade_reading_mark_id_fade_mark"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_reading")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_reading_mark_id"), "fade_reading", ["mark_id"])
    op.create_table(
        "practice_answer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("asked_at", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("region", sa.String(), nullable=False),
        sa.Column("level", sa.Double(), nullable=False),
        sa.Column("asked", sa.JSON(), nullable=False),
        sa.Column("chosen", sa.Integer(), nullable=True),
        sa.Column("right", sa.Boolean(), nullable=True),
        sa.Column("error", sa.Double(), nullable=True),
        sa.CheckConstraint(
            "kind IN ('lighter or darker', 'warmer or cooler', 'closest', 'order by value', 'value step', 'what a layer gives', 'which tin')",
            name=op.f("ck_practice_answer_kind_known"),
        ),
        sa.CheckConstraint(
            "region IN ('reds', 'oranges', 'yellows', 'greens', 'blues', 'violets', 'greys')",
            name=op.f("ck_practice_answer_region_known"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_practice_answer")),
        sqlite_autoincrement=True,
    )


def downgrade() -> None:
    for name in reversed(_TABLES):
        op.drop_table(name)
