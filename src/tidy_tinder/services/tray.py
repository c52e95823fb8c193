"""The tray: the pencils pulled out for the drawing at hand, in order of value, with the holes of the ladder."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.marks.arranging import Gap, ladder_gaps
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.at_work import drawing_at_hand, pulled_out, tray_at_hand
from tidy_tinder.services.collection.cards import Card, cards_on
from tidy_tinder.services.collection.chart import existing, named
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import TrayPencil

MOST_IN_TRAY = 72


@dataclass(frozen=True)
class TrayView:
    """What lies in the tray on a paper: those with a known value from light to dark, then the others.

    gaps: holes of the value ladder, after which place they come.
    """

    cards: tuple[Card, ...]
    owning: tuple[Owning, ...]
    gaps: tuple[Gap, ...]


def tray(collection: Collection, paper_id: int) -> TrayView:
    """The tray on a paper. Raises NotFoundError for an unknown paper."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        cards = cards_on(session, scene.paper).by_id
        pulled = [cards[i] for i in pulled_out(session)]
        valued = sorted((c for c in pulled if c.order), key=lambda c: -(c.order.value if c.order else 0.0))
        shown = (*valued, *(c for c in pulled if c.order is None))
        owning = tuple(scene.owning(c.colour.id) for c in shown)
        return TrayView(shown, owning, ladder_gaps([c.order.value for c in valued if c.order]))


def put_in_tray(collection: Collection, colour_ids: Sequence[int], into: bool) -> Changed | None:
    """Put colours into the tray, or take them out; one change; None where it was so already.

    Raises NotFoundError, and RefusedError for a full tray.
    """
    with writing(collection, "Tray") as session:
        colours = existing(session, colour_ids)
        pulled = {row.colour_id: row for row in session.scalars(tray_at_hand(session))}
        if into:
            new = [i for i in colours if i not in pulled]
            if len(pulled) + len(new) > MOST_IN_TRAY:
                raise RefusedError(f"The tray holds {MOST_IN_TRAY} pencils. Take some out first.")
            drawing = drawing_at_hand(session)
            session.add_all(TrayPencil(drawing_id=drawing.id if drawing else None, colour_id=i) for i in new)
        else:
            for row in (pulled[i] for i in colours if i in pulled):
                session.delete(row)
        relabel(session, f"{named(colours)} {'into the tray' if into else 'out of the tray'}")
        made = changed(session)
        return made if made.rows else None


def empty_tray(collection: Collection) -> Changed | None:
    """Put everything back; one change, one undo."""
    with writing(collection, "Tray emptied") as session:
        for row in session.scalars(tray_at_hand(session)):
            session.delete(row)
        made = changed(session)
        return made if made.rows else None
