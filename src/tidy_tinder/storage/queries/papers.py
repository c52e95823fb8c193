"""Reading papers."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.storage.models import Paper


def paler_papers(session: Session, lightness: float) -> list[str]:
    """Names of the papers of at least this lightness L*, in the artist's order."""
    return list(session.scalars(select(Paper.name).where(Paper.lab_L >= lightness).order_by(Paper.position)))
