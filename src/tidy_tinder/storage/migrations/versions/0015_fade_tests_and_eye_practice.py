"""fade tests: strips, their marks, days, readings and what they have shown; eye practice: rounds and answers

Revision: 0015, after 0014
"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_TABLES = (
    "fade_strip",
    "fade_mark",
    "fade_look",
    "fade_reading",
    "fade_result",
    "practice_round",
    "practice_answer",
)


def upgrade() -> None:
    op.create_table(
        "fade_strip",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("begun_on", sa.Date(), nullable=False),
        sa.Column("over", sa.Boolean(), nullable=False),
        sa.Column("notes", sa.String(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "place IN ('south window', 'east window', 'west window', 'north window', 'lamp')",
            name=op.f("ck_fade_strip_place_known"),
        ),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_fade_strip_paper_id_paper")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_strip")),
        sa.UniqueConstraint("name", name=op.f("uq_fade_strip_name")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_strip_paper_id"), "fade_strip", ["paper_id"])
    op.create_table(
        "fade_mark",
        sa.Column("strip_id", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("pressure", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("pressure IN ('light', 'medium', 'heavy')", name=op.f("ck_fade_mark_pressure_known")),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_fade_mark_colour_id_colour")),
        sa.ForeignKeyConstraint(
            ["strip_id"], ["fade_strip.id"], name=op.f("fk_fade_mark_strip_id_fade_strip"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_mark")),
        sa.UniqueConstraint("strip_id", "colour_id", "pressure", name=op.f("uq_fade_mark_strip_id_colour_id_pressure")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_mark_strip_id"), "fade_mark", ["strip_id"])
    op.create_index(op.f("ix_fade_mark_colour_id"), "fade_mark", ["colour_id"])
    op.create_table(
        "fade_look",
        sa.Column("strip_id", sa.Integer(), nullable=False),
        sa.Column("read_on", sa.Date(), nullable=False),
        sa.Column("light_hours", sa.Double(), nullable=True),
        sa.Column("wool", sa.Integer(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint(
            "light_hours IS NULL OR light_hours BETWEEN 0 AND 100000", name=op.f("ck_fade_look_light_hours_bounds")
        ),
        sa.CheckConstraint("wool IS NULL OR wool BETWEEN 1 AND 8", name=op.f("ck_fade_look_wool_bounds")),
        sa.ForeignKeyConstraint(
            ["strip_id"], ["fade_strip.id"], name=op.f("fk_fade_look_strip_id_fade_strip"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_look")),
        sa.UniqueConstraint("strip_id", "read_on", name=op.f("uq_fade_look_strip_id_read_on")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_look_strip_id"), "fade_look", ["strip_id"])
    op.create_table(
        "fade_reading",
        sa.Column("look_id", sa.Integer(), nullable=False),
        sa.Column("mark_id", sa.Integer(), nullable=False),
        sa.Column("half", sa.String(), nullable=False),
        sa.Column("lab_L", sa.Double(), nullable=False),
        sa.Column("lab_a", sa.Double(), nullable=False),
        sa.Column("lab_b", sa.Double(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("doubt", sa.Double(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("half IN ('open', 'covered')", name=op.f("ck_fade_reading_half_known")),
        sa.CheckConstraint("source IN ('reader', 'photo', 'typed')", name=op.f("ck_fade_reading_source_known")),
        sa.CheckConstraint(
            "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200",
            name=op.f("ck_fade_reading_lab_bounds"),
        ),
        sa.ForeignKeyConstraint(
            ["look_id"], ["fade_look.id"], name=op.f("fk_fade_reading_look_id_fade_look"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["mark_id"], ["fade_mark.id"], name=op.f("fk_fade_reading_mark_id_fade_mark"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_reading")),
        sa.UniqueConstraint("look_id", "mark_id", "half", name=op.f("uq_fade_reading_look_id_mark_id_half")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_fade_reading_look_id"), "fade_reading", ["look_id"])
    op.create_index(op.f("ix_fade_reading_mark_id"), "fade_reading", ["mark_id"])
    op.create_table(
        "fade_result",
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("read", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_fade_result_colour_id_colour")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fade_result")),
        sa.UniqueConstraint("colour_id", name=op.f("uq_fade_result_colour_id")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "practice_round",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.Column("drills", sa.JSON(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("asked", sa.Integer(), nullable=False),
        sa.Column("question", sa.JSON(), nullable=True),
        sa.CheckConstraint("asked >= 0", name=op.f("ck_practice_round_not_negative")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_practice_round")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "practice_answer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("round_id", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("drill", sa.String(), nullable=False),
        sa.Column("level", sa.Double(), nullable=False),
        sa.Column("right", sa.Boolean(), nullable=False),
        sa.Column("region", sa.String(), nullable=False),
        sa.Column("other", sa.String(), nullable=False),
        sa.Column("signed", sa.Double(), nullable=True),
        sa.Column("first", sa.Boolean(), nullable=True),
        sa.CheckConstraint(
            "drill IN ('lighter', 'warmer', 'closest', 'order', 'value step', 'layer', 'tin')",
            name=op.f("ck_practice_answer_drill_known"),
        ),
        sa.ForeignKeyConstraint(
            ["round_id"],
            ["practice_round.id"],
            name=op.f("fk_practice_answer_round_id_practice_round"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_practice_answer")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_practice_answer_round_id"), "practice_answer", ["round_id"])


def downgrade() -> None:
    for name in reversed(_TABLES):
        op.drop_table(name)
