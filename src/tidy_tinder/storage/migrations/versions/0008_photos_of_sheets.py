"""photos of printed sheets and frames, how they are read, and how far a swatch's value may be off

Revision: 0008, after 0007
"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("swatch", sa.Column("doubt", sa.Double(), nullable=True))
    op.add_column("sheet", sa.Column("ramp", sa.JSON(), nullable=True))
    op.create_table(
        "photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("added_on", sa.Date(), nullable=False),
        sa.Column("taken", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photo")),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheet.id"], name=op.f("fk_photo_sheet_id_sheet"), ondelete="CASCADE"),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_photo_sheet_id"), "photo", ["sheet_id"])
    op.create_table(
        "photo_reading",
        sa.Column("photo_id", sa.Integer(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("step", sa.String(), nullable=False),
        sa.Column("message", sa.String(), nullable=False),
        sa.Column("taken_up", sa.Integer(), nullable=False),
        sa.Column("page", sa.Integer(), nullable=True),
        sa.Column("found", sa.JSON(), nullable=True),
        sa.Column("flat", sa.LargeBinary(), nullable=True),
        sa.PrimaryKeyConstraint("photo_id", name=op.f("pk_photo_reading")),
        sa.CheckConstraint(
            "state IN ('waiting', 'reading', 'read', 'refused', 'stopped')",
            name=op.f("ck_photo_reading_state_known"),
        ),
    )


def downgrade() -> None:
    for table in ("photo_reading", "photo"):
        op.drop_table(table)
    op.drop_column("sheet", "ramp")
    op.drop_column("swatch", "doubt")
