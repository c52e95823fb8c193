"""photos of drawings that wait for their check; what to buy and its price, lengths of pencils

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


def downgrade() -> None:
    for name in reversed(_TABLES):
        op.drop_table(name)
