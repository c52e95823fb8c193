"""stand-ins of two layered pencils, and of one laid otherwise than the call asks

Revision: 0004, after 0003
"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

_PRESSURES = "('light', 'medium', 'heavy', 'burnish', '')"
_CHECKS = {
    "pressure_known": f"pressure IN {_PRESSURES}",
    "over_pressure_known": f"over_pressure IN {_PRESSURES}",
    "layers_bounds": "layers BETWEEN 1 AND 12 AND over_layers BETWEEN 1 AND 12",
    "pair_has_pressures": "over_colour_id IS NULL OR (pressure <> '' AND over_pressure <> '')",
}
_COLUMNS = ("pressure", "layers", "over_colour_id", "over_pressure", "over_layers")


def upgrade() -> None:
    with op.batch_alter_table("choice", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("pressure", sa.String(), nullable=False, server_default=""))
        table.add_column(sa.Column("layers", sa.Integer(), nullable=False, server_default="1"))
        table.add_column(sa.Column("over_colour_id", sa.Integer(), nullable=True))
        table.add_column(sa.Column("over_pressure", sa.String(), nullable=False, server_default=""))
        table.add_column(sa.Column("over_layers", sa.Integer(), nullable=False, server_default="1"))
        table.create_foreign_key(op.f("fk_choice_over_colour_id_colour"), "colour", ["over_colour_id"], ["id"])
        for name, condition in _CHECKS.items():
            table.create_check_constraint(op.f(f"ck_choice_{name}"), condition)
    op.create_index(op.f("ix_choice_over_colour_id"), "choice", ["over_colour_id"])


def downgrade() -> None:
    op.drop_index(op.f("ix_choice_over_colour_id"), "choice")
    with op.batch_alter_table("choice", table_kwargs={"sqlite_autoincrement": True}) as table:
        for name in _CHECKS:
            table.drop_constraint(op.f(f"ck_choice_{name}"), type_="check")
        table.drop_constraint(op.f("fk_choice_over_colour_id_colour"), type_="foreignkey")
        for column in _COLUMNS:
            table.drop_column(column)
