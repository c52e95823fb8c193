"""What keeps a row from being removed: all that hangs on it, in words."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, TypeAlias

from sqlalchemy import func, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from tidy_tinder.services.errors import RefusedError

Hold: TypeAlias = tuple[InstrumentedAttribute[Any], str, str]
"""The column that refers to such a row, and what its table holds, in words for one and for several."""


def refuse_if_held(session: Session, holds: Sequence[Hold], ids: Sequence[int], what: str) -> None:
    """Raise RefusedError with all that hangs on the rows of these numbers; what: how they are called."""
    reasons = []
    for column, one, many in holds:
        count = session.scalar(select(func.count()).where(column.in_(ids))) or 0
        if count:
            reasons.append(f"{count} {one if count == 1 else many}")
    if reasons:
        raise RefusedError(f"{what} stays: on it hang {', '.join(reasons)}. Remove those first.")
