"""a place on a printed sheet may be for marks of several layers

Revision: 0018, after 0017
"""

from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # With its check, and without writing the table anew, which would forget the numbers of places that were removed.
    op.execute(
        "ALTER TABLE sheet_place ADD COLUMN layers INTEGER DEFAULT 1 NOT NULL "
        "CONSTRAINT ck_sheet_place_layers_bounds CHECK (layers BETWEEN 1 AND 12)"
    )


def downgrade() -> None:
    with op.batch_alter_table("sheet_place", recreate="never") as table:
        table.drop_column("layers")
