"""a mark of a swatching session may have other layers than the rest

Revision: 0017, after 0016
"""

from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # With its check, and without writing the table anew, which would forget the numbers of marks that were removed.
    op.execute(
        "ALTER TABLE session_item ADD COLUMN layers INTEGER "
        "CONSTRAINT ck_session_item_layers_bounds CHECK (layers BETWEEN 1 AND 12)"
    )


def downgrade() -> None:
    with op.batch_alter_table("session_item", recreate="never") as table:
        table.drop_column("layers")
