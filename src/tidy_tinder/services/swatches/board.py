"""The board: papers × ranges, how much of what is owned was swatched at which pressure."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import select

from tidy_tinder.core.quantities import DeltaE
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.chart import charted_colours
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.predictions import WELL_WITHIN, Predictions
from tidy_tinder.services.collection.scene import Scene, Stock
from tidy_tinder.storage.models import ColourRange, Paper
from tidy_tinder.storage.queries.swatches import count_swatches, coverage


@dataclass(frozen=True)
class BoardCell:
    """One range on one paper: of the owned colours, how many are measured light, medium, heavy; and of others.

    well, poorly: how many more are predicted, within `WELL_WITHIN` and beyond it. The rest is unknown.
    """

    range_id: int
    owned: int
    measured: tuple[int, int, int]
    well: tuple[int, int, int]
    poorly: tuple[int, int, int]
    others_measured: int

    @property
    def missing(self) -> int:
        """How many marks of owned colours are not measured yet."""
        return 3 * self.owned - sum(self.measured)


@dataclass(frozen=True)
class BoardRow:
    """One paper."""

    paper_id: int
    name: str
    kind: str
    colour: Patch
    cells: tuple[BoardCell, ...]


@dataclass(frozen=True)
class Board:
    """All papers over all ranges; ranges as (id, name) in order."""

    ranges: tuple[tuple[int, str], ...]
    rows: tuple[BoardRow, ...]
    swatches: int


def board(collection: Collection) -> Board:
    """The board as it is now; lost and left-at-home pencils do not count as owned."""
    with collection() as session:
        at_hand = Stock(session).at_hand
        by_range: dict[int, set[int]] = {}
        for row in charted_colours(session):
            by_range.setdefault(row.range_id, set()).add(row.id)
        measured = for_version(session, "coverage", MARK_TABLES, lambda: coverage(session))
        ranges = session.execute(select(ColourRange.id, ColourRange.name).order_by(ColourRange.position)).all()
        papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
        rows = tuple(
            BoardRow(
                p.id, p.name, p.kind, patch(paper_lab(p)),
                _cells(Scene(session, p), at_hand, [i for i, _ in ranges], by_range, measured),
            )
            for p in papers
        )  # fmt: skip
        return Board(tuple((i, name) for i, name in ranges), rows, count_swatches(session))


def _cells(
    scene: Scene, at_hand: frozenset[int], range_ids: Sequence[int], by_range: Mapping[int, set[int]],
    measured: Mapping[tuple[int, Pressure], set[int]],
) -> tuple[BoardCell, ...]:  # fmt: skip
    predicted = scene.predicted()
    cells = []
    for range_id in range_ids:
        charted = by_range.get(range_id, set())
        mine = charted & at_hand
        seen = [measured.get((scene.paper.id, pressure), set()) & charted for pressure in MARK_PRESSURES]
        bands = [_bands(mine - known, predicted, p) for known, p in zip(seen, MARK_PRESSURES, strict=True)]
        light, medium, heavy = (len(known & mine) for known in seen)
        well = [int((of <= WELL_WITHIN).sum()) for of in bands]
        poorly = [int((of > WELL_WITHIN).sum()) for of in bands]
        cells.append(
            BoardCell(
                range_id, len(mine), (light, medium, heavy), (well[0], well[1], well[2]),
                (poorly[0], poorly[1], poorly[2]), len(set().union(*seen) - mine),
            )
        )  # fmt: skip
    return tuple(cells)


def _bands(colour_ids: Iterable[int], predicted: Predictions, pressure: Pressure) -> DeltaE:
    """Bands of those that are predicted."""
    places = [at for i in colour_ids if (at := predicted.places.get(i)) is not None]
    return predicted.band[places, MARK_PRESSURES.index(pressure)]
