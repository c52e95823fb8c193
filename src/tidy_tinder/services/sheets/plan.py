"""Which pencils go on a sheet, in which order, on how many pages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil

from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.furniture import PAGE_SLOTS
from tidy_tinder.core.sheet.layout import Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import pulled_out
from tidy_tinder.services.collection.cards import cards_on
from tidy_tinder.services.collection.in_layers import LAYERS_LAID, pencils_in_layers, takes_layers
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.predicting.first_swatches import advised_keys
from tidy_tinder.storage.models import BoxedSet
from tidy_tinder.storage.queries.colours import set_contents

LAYOUT_VERSION = 1
"""Of the layouts that pages are printed by. Older pages are read by the layouts of their own version."""


class For(StrEnum):
    """Which pencils a sheet is for."""

    OWNED = "owned"
    UNSWATCHED = "unswatched"
    FIRST = "first"
    TRAY = "tray"
    SET = "set"


class Order(StrEnum):
    """In which order they stand on it."""

    CHART = "chart"
    TIN = "tin"
    VALUE = "value"


@dataclass(frozen=True)
class SheetPlan:
    """What is to be printed. cells: of a sheet, how many an A4 page has; a frame has its own. layered: a few of the
    pencils have one place more, for marks of several layers.
    """

    paper_id: int
    kind: LayoutKind = LayoutKind.SHEET
    size: PageSize = PageSize.A4
    cells: CellCount = CellCount.NINETY
    which: For = For.OWNED
    set_id: int | None = None
    order: Order = Order.CHART
    layered: bool = False


@dataclass(frozen=True)
class PlannedSheet:
    """The pencils of a sheet in order, those that have another place for marks of several layers, how many pages all
    take, of how many pencils such a mark is measured on the paper, and whether that takes as many layers.
    """

    colour_ids: tuple[int, ...]
    in_layers: tuple[int, ...]
    pages: int
    known_in_layers: int
    takes_layers: bool

    @property
    def places(self) -> tuple[tuple[int, int], ...]:
        """Colour and layers of each place in order: those of several layers come last, when the hand is warm."""
        return (*((i, 1) for i in self.colour_ids), *((i, LAYERS_LAID) for i in self.in_layers))


def count_sheet(collection: Collection, plan: SheetPlan) -> PlannedSheet:
    """What a sheet would hold; nothing is changed. Raises NotFoundError, RefusedError for a size it does not have."""
    with collection() as session:
        return plan_sheet(Scene.on(session, plan.paper_id), plan)


def plan_sheet(scene: Scene, plan: SheetPlan) -> PlannedSheet:
    """The pencils of a sheet on a paper. Raises NotFoundError, RefusedError."""
    chosen = _chosen(scene, plan)
    ordered = _ordered(scene, [i for i in scene.colours if i in chosen], plan.order)
    in_layers = pencils_in_layers(scene, (scene.colours[i] for i in ordered), scene.layered) if plan.layered else []
    places = len(layout_of(plan.kind, plan.size, plan.cells).places)
    pages = ceil((len(ordered) + len(in_layers)) / places)
    return PlannedSheet(tuple(ordered), tuple(in_layers), pages, len(scene.layered), takes_layers(scene))


def layout_of(kind: LayoutKind, size: PageSize, cells: CellCount, slot: int = 0) -> Layout:
    """The layout of one page. Raises RefusedError for a size that this kind does not have."""
    if kind is LayoutKind.FRAME:
        return frame_layout(size, slot)
    if size is PageSize.A5:
        raise RefusedError("A sheet is printed on A4 or Letter; A5 is for a frame, laid over a small pad.")
    return sheet_layout(size, cells, slot)


def check_printable(planned: PlannedSheet) -> None:
    """Raises RefusedError where there is nothing to print, or too much for one set of pages."""
    if not planned.colour_ids:
        raise RefusedError("No pencil is left for this sheet. Choose others, or say in the tidy which you own.")
    if planned.pages > PAGE_SLOTS:
        raise RefusedError(f"That takes {planned.pages} pages; a set has at most {PAGE_SLOTS}. Take fewer pencils.")


def _chosen(scene: Scene, plan: SheetPlan) -> frozenset[int]:
    session = scene.session
    match plan.which:
        case For.TRAY:
            return frozenset(pulled_out(session))
        case For.SET:
            if plan.set_id is None or session.get(BoxedSet, plan.set_id) is None:
                raise NotFoundError(f"There is no set number {plan.set_id}.")
            return frozenset(i for set_id, _, _, ids in set_contents(session) if set_id == plan.set_id for i in ids)
        case For.FIRST:
            return frozenset(advised_keys(scene))
        case For.UNSWATCHED:
            whole = {(pressure, 1) for pressure in MARK_PRESSURES}
            return frozenset(i for i in scene.at_hand if not whole <= set(scene.measured.get(i, {})))
    return scene.at_hand


def _ordered(scene: Scene, colour_ids: Sequence[int], order: Order) -> list[int]:
    """In chart order; as they stand in their tins; or from light to dark, those of unknown value last."""
    if order is Order.VALUE:
        cards = cards_on(scene.session, scene.paper).by_id
        known = {i: one.value for i in colour_ids if (one := cards[i].order) is not None}
        return sorted(colour_ids, key=lambda i: (i not in known, -known.get(i, 0.0)))
    if order is Order.TIN:
        return sorted(colour_ids, key=lambda i: _place(scene, i))
    return list(colour_ids)


def _place(scene: Scene, colour_id: int) -> tuple[bool, str, int]:
    """Tin and slot of a colour's pencil; those without a place come last."""
    placed = [(p.tin, p.slot or 0) for p in scene.pencils.get(colour_id, ()) if p.tin and p.drawable]
    return (False, *min(placed)) if placed else (True, "", 0)
