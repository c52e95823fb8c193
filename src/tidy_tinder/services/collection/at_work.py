"""The drawing at hand, and what follows it: the paper, what closest means, the tray. None is a state of its own."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.preferences import read_setting, write_setting
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.storage.models import Drawing, Paper, TrayPencil

AT_HAND = "drawing"
"""The setting that holds the number of the drawing at hand, "" for none."""


def drawing_at_hand(session: Session) -> Drawing | None:
    """What is worked on; None where no drawing is at hand, or the one that was is removed."""
    chosen = read_setting(session, AT_HAND)
    return session.get(Drawing, int(chosen)) if chosen else None


def papers_in_order(session: Session) -> Sequence[Paper]:
    """All papers as they are listed."""
    return session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()


def paper_at_hand(session: Session) -> Paper | None:
    """The paper of the drawing at hand; without a drawing the one that was chosen; else the first there is."""
    drawing = drawing_at_hand(session)
    chosen = drawing.paper_id if drawing is not None else int(read_setting(session, "paper", "0") or 0)
    return session.get(Paper, chosen) or next(iter(papers_in_order(session)), None)


def closest_at_hand(session: Session) -> Closest:
    """What closest means for the drawing at hand, or where there is none."""
    drawing = drawing_at_hand(session)
    return drawing.closest if drawing is not None else Closest(read_setting(session, "closest", "overall"))


def tray_at_hand(session: Session) -> Select[TrayPencil]:
    """A query of what lies in the tray of the drawing at hand, or in that of none, in the order it was put in."""
    drawing = drawing_at_hand(session)
    own = TrayPencil.drawing_id.is_(None) if drawing is None else TrayPencil.drawing_id == drawing.id
    return select(TrayPencil).where(own).order_by(TrayPencil.id)


def pulled_out(session: Session) -> list[int]:
    """The colours that lie in the tray at hand."""
    return [row.colour_id for row in session.scalars(tray_at_hand(session))]


def set_paper(collection: Collection, paper_id: int) -> Changed:
    """Work on another paper from now on: the drawing at hand, or what is done without one. Raises NotFoundError."""
    with writing(collection, "Paper at hand", kind="setting") as session:
        find_paper(session, paper_id)
        drawing = drawing_at_hand(session)
        if drawing is None:
            write_setting(session, "paper", str(paper_id))
        else:
            drawing.paper_id = paper_id
        return changed(session)


def set_closest(collection: Collection, closest: str) -> Changed:
    """Mean something else by closest from now on. Raises RefusedError for a word that is none of the three."""
    if closest not in tuple(Closest):
        raise RefusedError(f"“{closest}” is none of overall, value, hue.")
    with writing(collection, "Closest by", kind="setting") as session:
        drawing = drawing_at_hand(session)
        if drawing is None:
            write_setting(session, "closest", closest)
        else:
            drawing.closest = Closest(closest)
        return changed(session)
