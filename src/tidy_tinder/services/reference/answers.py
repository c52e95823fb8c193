"""What of hers comes nearest to the picks of a picture on a paper, and first whether the paper reaches them at all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.adjusting import adjusted_lab
from tidy_tinder.core.vocabulary import Blacks
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.collection.chart import existing, named
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import check_layers
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.reference.answering import Answering, End, PickAnswers, PickWish
from tidy_tinder.services.reference.picks import find_pick
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.storage.models import Pick


@dataclass(frozen=True)
class PictureReach:
    """How far a paper reaches what was picked; None until pairs are mixed or where nothing is picked."""

    ready: bool
    done: int
    total: int
    darkest: End | None = None
    lightest: End | None = None


def answers_for_pick(
    collection: Collection, pick_id: int, paper_id: int, wish: PickWish, wait: float | None
) -> PickAnswers:
    """The nearest ways to lay a pick on a paper. wait: seconds for pairs to be mixed, None for all it takes.

    Raises NotFoundError.
    """
    with collection() as session:
        pick = find_pick(session, pick_id)
        picks = shown_labs(session, pick.reference_id)
        scene = Scene.on(session, paper_id)
        if scene.known is None:
            return PickAnswers(False, 0, 0, "", patch(picks[pick.id]), False)
        wish = wish_of(session, pick.reference_id, wish)
        return Answering(scene, scene.known, wish).run(pick, picks[pick.id], picks, wait)


def picture_reach(collection: Collection, reference_id: int, paper_id: int, wait: float | None) -> PictureReach:
    """The darkest and the lightest pick beside what the paper reaches with what is owned. Raises NotFoundError."""
    with collection() as session:
        find_reference(session, reference_id)
        L = [lab[0] for lab in shown_labs(session, reference_id).values()]
        return reach_between(session, reference_id, paper_id, L, wait)


def reach_between(
    session: Session, reference_id: int, paper_id: int, lightness: Sequence[float], wait: float | None
) -> PictureReach:
    """How far a paper reaches the darkest and the lightest of these L* of a picture; nothing is told where there are
    none. Raises NotFoundError.
    """
    scene = Scene.on(session, paper_id)
    if not lightness or scene.known is None:
        return PictureReach(scene.known is not None, 0, 0)
    mixed = mixed_pairs(session, scene.known, scene.fit, scene.paper.id, wait, False)
    if mixed.table is None:
        return PictureReach(mixed.failed, mixed.done, mixed.total)
    answering = Answering(scene, scene.known, wish_of(session, reference_id, PickWish()))
    return PictureReach(
        True, mixed.done, mixed.total, answering.end(mixed.table, min(lightness), dark=True),
        answering.end(mixed.table, max(lightness), dark=False),
    )  # fmt: skip


def choose_way(collection: Collection, pick_id: int, layers: Sequence[Layer[int]]) -> Changed | None:
    """Use these layers, the lowest first, for a pick; none of them: leave it to what is nearest.

    Raises NotFoundError, RefusedError for layers that are none.
    """
    with writing(collection, "Way chosen") as session:
        pick = find_pick(session, pick_id)
        if layers:
            check_layers(layers)
            colours = existing(session, [one.pencil for one in layers])
            relabel(session, f"{named(colours)} chosen for colour {pick.number}")
        else:
            relabel(session, f"Colour {pick.number}: the nearest way again")
        laid = [{"colour": one.pencil, "pressure": one.pressure.value, "layers": one.layers} for one in layers]
        if laid != (pick.laid or []):
            pick.laid = laid or None
        made = changed(session)
        return made if made.rows else None


def wish_of(session: Session, reference_id: int, wish: PickWish) -> PickWish:
    """A wish with what its drawing asks for: no black where it has none."""
    drawing = find_drawing(session, find_reference(session, reference_id).drawing_id)
    return replace(wish, no_black=wish.no_black or drawing.black == Blacks.NONE)


def shown_labs(session: Session, reference_id: int) -> dict[int, Lab]:
    """The picks of a picture as they are in it when it is adjusted, by their numbers."""
    steps = steps_of(find_reference(session, reference_id))
    rows = session.scalars(select(Pick).where(Pick.reference_id == reference_id).order_by(Pick.number)).all()
    return {row.id: adjusted_lab(np.array([row.lab_L, row.lab_a, row.lab_b]), steps) for row in rows}
