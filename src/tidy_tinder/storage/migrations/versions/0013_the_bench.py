"""the bench: sittings with their clock, the log, drying times, steps done or skipped, preparation; stages of a section

Revision: 0013, after 0012
"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

_TABLES = (
    "bench",
    "sitting",
    "sitting_clock",
    "sitting_time",
    "step_mark",
    "log_entry",
    "drying",
    "prepared",
    "own_task",
    "check_of_values",
    "check_picture",
)


def _sections_are(states: str) -> None:
    """Let sections have these states. The table is written anew, and still knows which numbers were given."""
    numbers = "sqlite_sequence WHERE name = 'section'"
    given = op.get_bind().scalar(sa.text(f"SELECT seq FROM {numbers}"))
    with op.batch_alter_table("section", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_constraint(op.f("ck_section_state_known"), type_="check")
        table.create_check_constraint(op.f("ck_section_state_known"), f"state IN ({states})")
    if given is not None:
        op.execute(f"DELETE FROM {numbers}")
        op.execute(f"INSERT INTO sqlite_sequence (name, seq) VALUES ('section', {given})")


def _call(before: str, now: str) -> None:
    """A state of a section gets another word, also in what undo would bring back."""
    op.execute(f"UPDATE section SET state = '{now}' WHERE state = '{before}'")
    for column in ("before", "after"):
        op.execute(
            f"UPDATE journal_entry SET \"{column}\" = json_set(\"{column}\", '$.state', '{now}') "
            f"WHERE table_name = 'section' AND json_extract(\"{column}\", '$.state') = '{before}'"
        )


def upgrade() -> None:
    _sections_are("'to do', 'begun', 'base', 'building', 'blended', 'done'")
    _call("begun", "building")
    _sections_are("'to do', 'base', 'building', 'blended', 'done'")
    op.create_table(
        "bench",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=True),
        sa.Column("step_id", sa.Integer(), nullable=True),
        sa.Column("section_id", sa.Integer(), nullable=False),
        sa.Column("by_sections", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bench")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_bench_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.UniqueConstraint("drawing_id", name=op.f("uq_bench_drawing_id")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "sitting",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=True),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sitting")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_sitting_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_sitting_drawing_id"), "sitting", ["drawing_id"])
    op.create_table(
        "sitting_clock",
        sa.Column("sitting_id", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("running", sa.Boolean(), nullable=False),
        sa.Column("last_at", sa.DateTime(), nullable=False),
        sa.Column("since", sa.DateTime(), nullable=False),
        sa.Column("not_counted", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("sitting_id", name=op.f("pk_sitting_clock")),
        sa.CheckConstraint("not_counted >= 0", name=op.f("ck_sitting_clock_not_negative")),
    )
    op.create_table(
        "sitting_time",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("sitting_id", sa.Integer(), nullable=False),
        sa.Column("step_id", sa.Integer(), nullable=False),
        sa.Column("section_id", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sitting_time")),
        sa.CheckConstraint("seconds >= 0", name=op.f("ck_sitting_time_not_negative")),
        sa.UniqueConstraint(
            "sitting_id", "step_id", "section_id", name=op.f("uq_sitting_time_sitting_id_step_id_section_id")
        ),
    )
    op.create_table(
        "step_mark",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("step_id", sa.Integer(), nullable=False),
        sa.Column("section_id", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_step_mark")),
        sa.CheckConstraint("state IN ('to do', 'done', 'skipped')", name=op.f("ck_step_mark_state_known")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_step_mark_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.UniqueConstraint(
            "drawing_id", "step_id", "section_id", name=op.f("uq_step_mark_drawing_id_step_id_section_id")
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_step_mark_drawing_id"), "step_mark", ["drawing_id"])
    op.create_table(
        "log_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("sitting_id", sa.Integer(), nullable=True),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=True),
        sa.Column("instead_of_id", sa.Integer(), nullable=True),
        sa.Column("step_id", sa.Integer(), nullable=True),
        sa.Column("section_id", sa.Integer(), nullable=False),
        sa.Column("call_id", sa.Integer(), nullable=True),
        sa.Column("area", sa.String(), nullable=False),
        sa.Column("pressure", sa.String(), nullable=False),
        sa.Column("layers", sa.Integer(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_log_entry")),
        sa.CheckConstraint(
            "kind IN ('pencil', 'solvent', 'wash', 'fixative', 'eraser', 'blade', 'too dark', 'too light', 'note')",
            name=op.f("ck_log_entry_kind_known"),
        ),
        sa.CheckConstraint("layers BETWEEN 0 AND 12", name=op.f("ck_log_entry_layers_bounds")),
        sa.CheckConstraint("(kind = 'pencil') = (colour_id IS NOT NULL)", name=op.f("ck_log_entry_pencil_has_colour")),
        sa.CheckConstraint(
            "pressure IN ('light', 'medium', 'heavy', 'burnish', '')", name=op.f("ck_log_entry_pressure_known")
        ),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_log_entry_colour_id_colour")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_log_entry_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["instead_of_id"], ["colour.id"], name=op.f("fk_log_entry_instead_of_id_colour")),
        sa.ForeignKeyConstraint(["sitting_id"], ["sitting.id"], name=op.f("fk_log_entry_sitting_id_sitting")),
        sa.UniqueConstraint("key", name=op.f("uq_log_entry_key")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_log_entry_colour_id"), "log_entry", ["colour_id"])
    op.create_index(op.f("ix_log_entry_drawing_id"), "log_entry", ["drawing_id"])
    op.create_index(op.f("ix_log_entry_instead_of_id"), "log_entry", ["instead_of_id"])
    op.create_index(op.f("ix_log_entry_sitting_id"), "log_entry", ["sitting_id"])
    op.create_table(
        "drying",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("section_id", sa.Integer(), nullable=False),
        sa.Column("wetting", sa.String(), nullable=False),
        sa.Column("first_passes", sa.Boolean(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_drying")),
        sa.CheckConstraint("(state = 'wet') = (ended_at IS NULL)", name=op.f("ck_drying_ended_is_said")),
        sa.CheckConstraint("state IN ('wet', 'dry', 'dry before', 'dropped')", name=op.f("ck_drying_state_known")),
        sa.CheckConstraint("wetting IN ('solvent', 'wash', 'fixative')", name=op.f("ck_drying_wetting_known")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_drying_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_drying_paper_id_paper")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_drying_drawing_id"), "drying", ["drawing_id"])
    op.create_index(op.f("ix_drying_paper_id"), "drying", ["paper_id"])
    op.create_table(
        "prepared",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("task", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_prepared")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_prepared_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sa.UniqueConstraint("drawing_id", "task", name=op.f("uq_prepared_drawing_id_task")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_prepared_drawing_id"), "prepared", ["drawing_id"])
    op.create_table(
        "own_task",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_own_task")),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "check_of_values",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("drawing_id", sa.Integer(), nullable=False),
        sa.Column("reference_id", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("told", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_check_of_values")),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["drawing.id"], name=op.f("fk_check_of_values_drawing_id_drawing"), ondelete="CASCADE"
        ),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_check_of_values_drawing_id"), "check_of_values", ["drawing_id"])
    op.create_table(
        "check_picture",
        sa.Column("check_id", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("check_id", name=op.f("pk_check_picture")),
    )


def downgrade() -> None:
    for name in reversed(_TABLES):
        op.drop_table(name)
    _sections_are("'to do', 'begun', 'base', 'building', 'blended', 'done'")
    for state in ("base", "building", "blended"):
        _call(state, "begun")
    _sections_are("'to do', 'begun', 'done'")
