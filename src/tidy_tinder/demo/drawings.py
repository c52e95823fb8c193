"""The demo's drawings with the pictures that they are drawn from and what was picked in these."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from importlib.resources.abc import Traversable
from typing import Any

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import DrawingAs, begin_drawing, choose_drawing
from tidy_tinder.services.reference.picks import KeptPick, keep_picks
from tidy_tinder.services.reference.sections import describe_section, part, sections_of
from tidy_tinder.services.reference.store import add_reference
from tidy_tinder.storage.models import SectionKind, SectionState


@dataclass(frozen=True)
class DemoDrawing:
    """A drawing of the demo: its paper, size, picture, how it is worked, and the file of its recipe."""

    name: str
    paper: str
    size: tuple[float, float]
    picture: str
    order: WorkOrder
    recipe: str
    for_sale: bool = False
    black: Blacks = Blacks.ALLOWED
    sections_done: int | None = None


DRAWINGS = (
    DemoDrawing("Moss and slate", "Grey-toned sketch paper", (320, 240), "moss-and-slate", WorkOrder.MIDDLE_OUT,
                "6-wet-moss.txt"),
    DemoDrawing("Chanterelle gills", "Vellum board", (240, 180), "gills-from-below", WorkOrder.LIGHT_TO_DARK,
                "2-chanterelle-gills.txt", for_sale=True, black=Blacks.NONE),
    DemoDrawing("Brackets on bark", "Buff sanded card", (320, 240), "brackets-on-bark", WorkOrder.DARK_FIRST,
                "5-turkey-tail.txt", sections_done=3),
    DemoDrawing("Scarlet cap", "Vellum board", (210, 280), "scarlet-cap", WorkOrder.LIGHT_TO_DARK,
                "1-scarlet-cap.txt", for_sale=True),
)  # fmt: skip
"""The one that was begun last is at hand when the demo is opened."""


def begin_drawings(collection: Collection, folder: Traversable, papers: Mapping[str, int]) -> dict[str, int]:
    """Begin the demo's drawings; the number of each by the file of its recipe. papers: their numbers by name."""
    picks: dict[str, list[dict[str, Any]]] = json.loads(folder.joinpath("picks.json").read_text(encoding="utf-8"))
    made = {}
    for one in DRAWINGS:
        said = DrawingAs(
            one.name, papers[one.paper], *one.size, Closest.OVERALL, one.for_sale, one.black, False, one.order
        )  # fmt: skip
        drawing, _ = begin_drawing(collection, said)
        file = f"{one.picture}.jpg"
        reference, _ = add_reference(collection, drawing, file, folder.joinpath(file).read_bytes())
        keep_picks(collection, reference, [_pick(row) for row in picks[one.picture]])
        if one.sections_done is not None:
            _section(collection, drawing, one.sections_done)
        made[one.recipe] = drawing
    return made


def put_at_hand(collection: Collection, drawings: Mapping[str, int], recipe: str) -> None:
    """Let the drawing of a recipe be at hand, or none for a recipe that belongs to none."""
    choose_drawing(collection, drawings.get(recipe))


def _section(collection: Collection, drawing: int, done: int) -> None:
    part(collection, drawing, SectionKind.GRID, None)
    for i, one in enumerate(sections_of(collection, drawing).sections[: done + 1]):
        state = SectionState.DONE if i < done else SectionState.BUILDING
        describe_section(collection, one.id, one.revision, one.name, state)


def _pick(row: Mapping[str, Any]) -> KeptPick:
    L, a, b = row["lab"]
    return KeptPick(
        row["name"], row["area"], row["x"], row["y"], row["radius"], (L, a, b), row["spread"], row["share"]
    )  # fmt: skip
