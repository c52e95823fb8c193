"""what a collection begins with is told from later changes; a call's role is one of few words

Revision: 0006, after 0005
"""

from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

_KEEP_IDS = {"sqlite_autoincrement": True}
_ROLES = "role IN ('glaze', 'highlight', 'burnisher', 'base', 'detail', 'below', '')"


def upgrade() -> None:
    _change_kinds("'collection', 'setting', 'beginning'")
    op.create_index(op.f("ix_journal_change_undoes_id"), "journal_change", ["undoes_id"])
    # The first paper of a collection, whose undoing left it without one.
    op.execute("UPDATE journal_change SET kind = 'beginning' WHERE label = 'New collection' AND undoes_id IS NULL")
    # A role that no version wrote is one that was not said.
    op.execute(f"UPDATE recipe_call SET role = '' WHERE NOT ({_ROLES})")
    with op.batch_alter_table("recipe_call", table_kwargs=_KEEP_IDS) as calls:
        calls.create_check_constraint(op.f("ck_recipe_call_role_known"), _ROLES)


def downgrade() -> None:
    with op.batch_alter_table("recipe_call", table_kwargs=_KEEP_IDS) as calls:
        calls.drop_constraint(op.f("ck_recipe_call_role_known"), type_="check")
    op.execute("UPDATE journal_change SET kind = 'collection' WHERE kind = 'beginning'")
    op.drop_index(op.f("ix_journal_change_undoes_id"), "journal_change")
    _change_kinds("'collection', 'setting'")


def _change_kinds(kinds: str) -> None:
    name = op.f("ck_journal_change_kind_known")
    with op.batch_alter_table("journal_change", table_kwargs=_KEEP_IDS) as changes:
        changes.drop_constraint(name, type_="check")
        changes.create_check_constraint(name, f"kind IN ({kinds})")
