"""fitted pencils, and the jobs that fit them

Revision: 0003, after 0002
"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "pencil_fitted",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("fingerprint", sa.String(), nullable=False),
        sa.Column("fitted", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pencil_fitted")),
        sa.UniqueConstraint("fingerprint", name=op.f("uq_pencil_fitted_fingerprint")),
    )
    op.create_table(
        "fitting_job",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("reused", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("taken_up", sa.Integer(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.CheckConstraint("state IN ('running', 'done', 'cancelled')", name=op.f("ck_fitting_job_state_known")),
        sa.CheckConstraint("done BETWEEN 0 AND total", name=op.f("ck_fitting_job_done_bounds")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_fitting_job")),
    )


def downgrade() -> None:
    op.drop_table("fitting_job")
    op.drop_table("pencil_fitted")
