"""lengths of new pencils, batches of paper, more of a swatch, swatching sessions, the tray

Revision: 0002, after 0001
"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("colour_range", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("new_length_mm", sa.Integer(), nullable=False, server_default="175"))
        table.create_check_constraint(op.f("ck_colour_range_new_length_bounds"), "new_length_mm BETWEEN 20 AND 400")
    with op.batch_alter_table("paper", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("copied_from_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_paper_copied_from_id_paper"), "paper", ["copied_from_id"], ["id"])
    with op.batch_alter_table("swatch", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("aperture_mm", sa.Double(), nullable=True))
        table.add_column(sa.Column("averaged_of", sa.Integer(), nullable=False, server_default="1"))
        table.add_column(sa.Column("burnisher_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_swatch_burnisher_id_colour"), "colour", ["burnisher_id"], ["id"])
        table.create_check_constraint(op.f("ck_swatch_averaged_of_bounds"), "averaged_of BETWEEN 1 AND 9")
        table.create_check_constraint(
            op.f("ck_swatch_burnisher_burnishes"), "burnisher_id IS NULL OR finish = 'burnished'"
        )
    op.create_table(
        "swatch_session",
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("layers", sa.Integer(), nullable=False),
        sa.Column("finish", sa.String(), nullable=False),
        sa.Column("burnisher_id", sa.Integer(), nullable=True),
        sa.Column("average_of", sa.Integer(), nullable=False),
        sa.Column("started_on", sa.Date(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("state IN ('open', 'closed')", name=op.f("ck_swatch_session_state_known")),
        sa.CheckConstraint(
            "finish IN ('dry', 'burnished', 'solvent', 'wet')", name=op.f("ck_swatch_session_finish_known")
        ),
        sa.CheckConstraint("layers BETWEEN 1 AND 12", name=op.f("ck_swatch_session_layers_bounds")),
        sa.CheckConstraint("average_of IN (1, 3)", name=op.f("ck_swatch_session_average_of_known")),
        sa.ForeignKeyConstraint(["paper_id"], ["paper.id"], name=op.f("fk_swatch_session_paper_id_paper")),
        sa.ForeignKeyConstraint(["burnisher_id"], ["colour.id"], name=op.f("fk_swatch_session_burnisher_id_colour")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_swatch_session")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_swatch_session_paper_id"), "swatch_session", ["paper_id"])
    op.create_table(
        "session_item",
        sa.Column("session_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("pressure", sa.String(), nullable=False),
        sa.Column("over", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("swatch_id", sa.Integer(), nullable=True),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("doubt", sa.String(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.CheckConstraint("pressure IN ('light', 'medium', 'heavy')", name=op.f("ck_session_item_pressure_known")),
        sa.CheckConstraint("over IN ('paper', 'black')", name=op.f("ck_session_item_ground_known")),
        sa.CheckConstraint("state IN ('waiting', 'read', 'skipped')", name=op.f("ck_session_item_state_known")),
        sa.ForeignKeyConstraint(
            ["session_id"],
            ["swatch_session.id"],
            name=op.f("fk_session_item_session_id_swatch_session"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_session_item_colour_id_colour")),
        sa.ForeignKeyConstraint(["swatch_id"], ["swatch.id"], name=op.f("fk_session_item_swatch_id_swatch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_session_item")),
        sa.UniqueConstraint("session_id", "position", name=op.f("uq_session_item_session_id_position")),
        sqlite_autoincrement=True,
    )
    for column in ("session_id", "colour_id", "swatch_id"):
        op.create_index(op.f(f"ix_session_item_{column}"), "session_item", [column])
    op.create_table(
        "tray_pencil",
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["colour_id"], ["colour.id"], name=op.f("fk_tray_pencil_colour_id_colour")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_tray_pencil")),
        sa.UniqueConstraint("colour_id", name=op.f("uq_tray_pencil_colour_id")),
        sqlite_autoincrement=True,
    )


def downgrade() -> None:
    for name in ("tray_pencil", "session_item", "swatch_session"):
        op.drop_table(name)
    with op.batch_alter_table("swatch", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_constraint(op.f("ck_swatch_burnisher_burnishes"), type_="check")
        table.drop_constraint(op.f("ck_swatch_averaged_of_bounds"), type_="check")
        table.drop_constraint(op.f("fk_swatch_burnisher_id_colour"), type_="foreignkey")
        for column in ("burnisher_id", "averaged_of", "aperture_mm"):
            table.drop_column(column)
    with op.batch_alter_table("paper", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_constraint(op.f("fk_paper_copied_from_id_paper"), type_="foreignkey")
        table.drop_column("copied_from_id")
    with op.batch_alter_table("colour_range", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.drop_constraint(op.f("ck_colour_range_new_length_bounds"), type_="check")
        table.drop_column("new_length_mm")
