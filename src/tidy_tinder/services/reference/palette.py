"""The palette of a picture: each pick with the way in which it is laid, where its pencils stand, and its turn."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.turns import in_working_order
from tidy_tinder.core.reference.words import name_of
from tidy_tinder.core.vocabulary import WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.reference.answering import Answering, PickAnswer, PickAnswers, PickWish
from tidy_tinder.services.reference.answers import shown_labs, wish_of
from tidy_tinder.services.reference.store import find_reference
from tidy_tinder.storage.models import Pick

WHOLE_PICTURE = "Whole picture"
"""The area of picks that were given none."""


@dataclass(frozen=True)
class PaletteRow:
    """One pick in the palette. called: its name, or what it is in plain words; way: None where it is open; places: of
    each layer's pencil, "" where none is known; why_open: what comes nearest, and how far it is off.
    """

    pick_id: int
    number: int
    name: str
    called: str
    area: str
    wanted: Patch
    way: PickAnswer | None
    chosen: bool
    places: tuple[str, ...]
    why_open: str


@dataclass(frozen=True)
class Palette:
    """All picks of a picture on a paper, in the drawing's order of work. ready: whether pairs are mixed, done of total;
    mapped: whether the picture's range was laid into what the paper reaches.
    """

    ready: bool
    done: int
    total: int
    drawing: str
    picture: str
    paper_name: str
    order: WorkOrder
    mapped: bool
    rows: tuple[PaletteRow, ...] = ()

    @property
    def areas(self) -> dict[str, list[PaletteRow]]:
        """The rows of each area, in the order in which its first one comes."""
        areas: dict[str, list[PaletteRow]] = {}
        for row in self.rows:
            areas.setdefault(row.area or WHOLE_PICTURE, []).append(row)
        return areas


def palette_of(collection: Collection, reference_id: int, paper_id: int, wish: PickWish, wait: float | None) -> Palette:
    """The palette of a picture's picks on a paper. wait: seconds for pairs to be mixed, None for all it takes.

    Raises NotFoundError.
    """
    with collection() as session:
        reference = find_reference(session, reference_id)
        drawing = find_drawing(session, reference.drawing_id)
        picks, scene = shown_labs(session, reference_id), Scene.on(session, paper_id)
        head = (drawing.name, reference.name, scene.paper.name, drawing.work_order, wish.mapped)
        if scene.known is None:
            return Palette(False, 0, 0, *head)
        answering = Answering(scene, scene.known, wish_of(session, reference_id, wish))
        kept = session.scalars(select(Pick).where(Pick.reference_id == reference_id).order_by(Pick.number)).all()
        ordered = [kept[i] for i in in_working_order([picks[row.id][0] for row in kept], drawing.work_order)]
        answers = [(row, answering.run(row, picks[row.id], picks, wait)) for row in ordered]
        ready = all(one.ready for _, one in answers)
        done, total = (answers[0][1].done, answers[0][1].total) if answers else (0, 0)
        return Palette(ready, done, total, *head, tuple(_row(scene, row, picks[row.id], one) for row, one in answers))


def whole_palette(collection: Collection, reference_id: int, paper_id: int, wish: PickWish, wait: float) -> Palette:
    """The palette once all of it is worked out. Raises NotFoundError, RefusedError while it is not, or has no pick."""
    palette = palette_of(collection, reference_id, paper_id, wish, wait)
    if not palette.ready:
        progress = f": {palette.done} of {palette.total}" if palette.total else ""
        raise RefusedError(f"Layered pairs are still being worked out{progress}. Ask again in some seconds.")
    if not palette.rows:
        raise RefusedError("Nothing is picked in this picture yet. Pick a colour, or find the main ones with k.")
    return palette


def _row(scene: Scene, pick: Pick, shown: Lab, answers: PickAnswers) -> PaletteRow:
    way, why = answers.used, answers.problem
    if way is None and answers.offers:
        nearest = answers.offers[0]
        why = f"Nothing comes close: the nearest is {nearest.said}, {nearest.difference.delta_e:.1f} ΔE off."
    places = () if way is None else tuple(scene.place_of(one.pencil.colour.id) for one in way.laid)
    return PaletteRow(
        pick.id, pick.number, pick.name, pick.name or name_of(shown), pick.area, patch(shown), way,
        answers.chosen is not None, places, "" if way is not None else why,
    )  # fmt: skip
