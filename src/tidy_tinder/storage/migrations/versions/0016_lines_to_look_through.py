"""whether the artist is still to say that a line of a recipe names no more colours

Revision: 0016, after 0015
"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # The lines of recipes that are here were read before any was asked about: they stay as the artist left them.
    with op.batch_alter_table("recipe_step", recreate="never") as table:
        table.add_column(sa.Column("to_look_through", sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    with op.batch_alter_table("recipe_step", recreate="never") as table:
        table.drop_column("to_look_through")
