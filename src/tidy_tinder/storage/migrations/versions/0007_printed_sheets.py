"""printed sheets and frames, with the place of each pencil on their pages

Revision: 0007, after 0006
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def _check(table: str, name: str, condition: str) -> sa.CheckConstraint:
    return sa.CheckConstraint(condition, name=op.f(f"ck_{table}_{name}"))


def _key(table: str, column: str, other: str, cascade: bool = False) -> sa.ForeignKeyConstraint:
    name = op.f(f"fk_{table}_{column}_{other}")
    return sa.ForeignKeyConstraint([column], [f"{other}.id"], name=name, ondelete="CASCADE" if cascade else None)


def _journaled(table: str, *more: sa.schema.SchemaItem) -> None:
    """A table with a number and a revision, whose numbers are never given twice."""
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        *more,
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
        sqlite_autoincrement=True,
    )


def upgrade() -> None:
    _journaled(
        "sheet",
        sa.Column("token", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("size", sa.String(), nullable=False),
        sa.Column("cells", sa.Integer(), nullable=False),
        sa.Column("pages", sa.Integer(), nullable=False),
        sa.Column("layout_version", sa.Integer(), nullable=False),
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("made_on", sa.Date(), nullable=False),
        sa.UniqueConstraint("token", name=op.f("uq_sheet_token")),
        _check("sheet", "kind_known", "kind IN ('sheet', 'frame')"),
        _check("sheet", "size_known", "size IN ('A4', 'Letter', 'A5')"),
        _check("sheet", "token_length", "length(token) = 8"),
        _check("sheet", "pages_bounds", "pages BETWEEN 1 AND 31"),
        _key("sheet", "paper_id", "paper"),
    )
    _journaled(
        "sheet_place",
        sa.Column("sheet_id", sa.Integer(), nullable=False),
        sa.Column("page", sa.Integer(), nullable=False),
        sa.Column("cell", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.UniqueConstraint("sheet_id", "page", "cell", name=op.f("uq_sheet_place_sheet_id_page_cell")),
        _check("sheet_place", "page_bounds", "page BETWEEN 1 AND 31"),
        _check("sheet_place", "cell_bounds", "cell >= 0"),
        _key("sheet_place", "sheet_id", "sheet", cascade=True),
        _key("sheet_place", "colour_id", "colour"),
    )
    op.create_index(op.f("ix_sheet_paper_id"), "sheet", ["paper_id"])
    op.create_index(op.f("ix_sheet_place_colour_id"), "sheet_place", ["colour_id"])


def downgrade() -> None:
    for table in ("sheet_place", "sheet"):
        op.drop_table(table)
