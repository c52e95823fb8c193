"""layers tried on a scrap, with verdict and readings; whether a range holds its point and dissolves in water

Revision: 0005, after 0004
"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_LAID = "'light', 'medium', 'heavy', 'burnish'"


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
    with op.batch_alter_table("colour_range", table_kwargs={"sqlite_autoincrement": True}) as ranges:
        ranges.add_column(sa.Column("holds_point", sa.Boolean(), nullable=True))
        ranges.add_column(sa.Column("water_soluble", sa.Boolean(), nullable=True))
    _journaled(
        "scrap",
        sa.Column("paper_id", sa.Integer(), nullable=False),
        sa.Column("wanted_id", sa.Integer(), nullable=True),
        sa.Column("wanted_pressure", sa.String(), nullable=False),
        sa.Column("wanted_layers", sa.Integer(), nullable=False),
        sa.Column("finish", sa.String(), nullable=False),
        sa.Column("verdict", sa.JSON(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("made_on", sa.Date(), nullable=False),
        _check("scrap", "finish_known", "finish IN ('dry', 'solvent')"),
        _check("scrap", "wanted_layers_bounds", "wanted_layers BETWEEN 1 AND 12"),
        _check("scrap", "wanted_pressure_known", f"wanted_pressure IN ({_LAID}, '')"),
        _key("scrap", "paper_id", "paper"),
        _key("scrap", "wanted_id", "colour"),
    )
    _journaled(
        "scrap_layer",
        sa.Column("scrap_id", sa.Integer(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("colour_id", sa.Integer(), nullable=False),
        sa.Column("pressure", sa.String(), nullable=False),
        sa.Column("layers", sa.Integer(), nullable=False),
        sa.UniqueConstraint("scrap_id", "position", name=op.f("uq_scrap_layer_scrap_id_position")),
        _check("scrap_layer", "pressure_known", f"pressure IN ({_LAID})"),
        _check("scrap_layer", "layers_bounds", "layers BETWEEN 1 AND 12"),
        _key("scrap_layer", "scrap_id", "scrap", cascade=True),
        _key("scrap_layer", "colour_id", "colour"),
    )
    _journaled(
        "scrap_reading",
        sa.Column("scrap_id", sa.Integer(), nullable=False),
        sa.Column("turned", sa.Boolean(), nullable=False),
        sa.Column("lab_L", sa.Double(), nullable=False),
        sa.Column("lab_a", sa.Double(), nullable=False),
        sa.Column("lab_b", sa.Double(), nullable=False),
        sa.Column("spectrum", sa.JSON(none_as_null=True), nullable=True),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("instrument", sa.String(), nullable=False),
        sa.Column("made_on", sa.Date(), nullable=False),
        sa.UniqueConstraint("scrap_id", "turned", name=op.f("uq_scrap_reading_scrap_id_turned")),
        _check("scrap_reading", "source_known", "source IN ('reader', 'photo', 'typed')"),
        _check(
            "scrap_reading",
            "lab_bounds",
            "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200",
        ),
        _key("scrap_reading", "scrap_id", "scrap", cascade=True),
    )
    for table, column in _INDEXED:
        op.create_index(op.f(f"ix_{table}_{column}"), table, [column])


_INDEXED = (
    ("scrap", "paper_id"),
    ("scrap", "wanted_id"),
    ("scrap_layer", "scrap_id"),
    ("scrap_layer", "colour_id"),
    ("scrap_reading", "scrap_id"),
)


def downgrade() -> None:
    for table in ("scrap_reading", "scrap_layer", "scrap"):
        op.drop_table(table)
    with op.batch_alter_table("colour_range", table_kwargs={"sqlite_autoincrement": True}) as ranges:
        ranges.drop_column("holds_point")
        ranges.drop_column("water_soluble")
