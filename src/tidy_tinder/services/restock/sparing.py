"""What could go without being missed, and what to pack for some recipes: worked out paper by paper."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from tidy_tinder.core.restocking.spare import Need, Option, can_go, missed_alone, pack, total
from tidy_tinder.core.restocking.ways import NONE, Ways, varied_ways
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.background.thinking import Doing, GoOn, SoFar
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import tables_version
from tidy_tinder.services.restock.demands import (
    DEMAND_TABLES,
    UNANSWERED,
    Demand,
    demands_now,
    labs_of,
    paper_of_recipes,
    places_by_paper,
)
from tidy_tinder.services.restock.ways import alone_and_layered, mixed_on, not_fitted_yet
from tidy_tinder.services.tidy.places import move_to, take_along
from tidy_tinder.storage.models import Recipe
from tidy_tinder.storage.queries.colours import ColourRow, drawable_colours

# Ways that are kept of each demand: what is left when the best pencils go is among them.
_OPTIONS, _ALONE, _OF_ONE = 60, 40, 12
# What all demands together may come out worse by, as a share of their number, for a pencil not to be missed.
_UNMISSED = 0.05
MOST_PACKED = 200


@dataclass(frozen=True)
class Missed:
    """An owned colour and by how much, in ΔE00 for all demands together, these come out worse without it."""

    colour: ColourRow
    worse: float


@dataclass(frozen=True)
class Sparing:
    """What could go. alone: each by itself, what is missed least first; together: that can go at once, in the order of
    going; demands: that were looked at.
    """

    alone: tuple[Missed, ...]
    together: tuple[ColourRow, ...]
    demands: int


@dataclass(frozen=True)
class Packing:
    """A tin. colours: to take along, what would be missed most first; middle, best: expected ΔE00 of a demand in the
    mean with them, and with all that are owned; worse: demands that come out worse than with all, by more than 1 ΔE00,
    in words; proven: that no others do better; demands: that were looked at.
    """

    colours: tuple[ColourRow, ...]
    middle: float
    best: float
    worse: tuple[str, ...]
    proven: bool
    demands: int


def sparing_so_far(collection: Collection, wait: float, again: bool = False) -> SoFar[Sparing]:
    """What could go and nothing would be missed, as far as it is known; begun by asking."""
    with collection() as session:
        state = _state(session)
    if state is None:
        return not_fitted_yet()
    key = ("sparing", *state)
    return collection.sparing.about(key, lambda go_on: _spare(collection, go_on), wait, again)


def packing_so_far(
    collection: Collection, recipes: Sequence[int], count: int, wait: float, again: bool = False
) -> SoFar[Packing]:  # fmt: skip
    """The tin of so many pencils for some recipes. Raises RefusedError for none, or no count that makes a tin."""
    if not 1 <= count <= MOST_PACKED:
        raise RefusedError(f"A tin holds 1 to {MOST_PACKED} pencils.")
    with collection() as session:
        known = [one for one in dict.fromkeys(recipes) if session.get(Recipe, one) is not None]
        if not known:
            raise RefusedError("Choose a recipe to pack for.")
        state = _state(session)
    if state is None:
        return not_fitted_yet()
    key = ("packing", tuple(known), count, *state)
    return collection.packing.about(key, lambda go_on: _pack(collection, known, count, go_on), wait, again)


def pack_into(collection: Collection, colours: Sequence[int], tin: str) -> None:
    """Put these pencils into a tin that is with the artist. Raises RefusedError without a name for it."""
    name = " ".join(tin.split())
    if not name or len(name) > 60:
        raise RefusedError("Give the tin a name of up to 60 letters.")
    move_to(collection, colours, name)
    take_along(collection, name, along=True)


def _state(session: Session) -> tuple[int, int, int] | None:
    """What the answers rest on; None while swatches are still being worked out."""
    known = fitted(session)
    if known is None:
        return None
    return tables_version(session, DEMAND_TABLES), known.version, paper_of_recipes(session)


def _spare(collection: Collection, go_on: GoOn) -> Iterator[Sparing | Doing]:
    with collection() as session:
        owned = frozenset(drawable_colours(session))
        demands = demands_now(session).all
        for news in _needs(session, demands, owned, go_on):
            if isinstance(news, Doing):
                yield news
                continue
            colours = chart_by_id(session)
            worse = missed_alone(news, owned)
            order = sorted(owned, key=lambda i: (worse[i], i))
            together = can_go(news, owned, _UNMISSED * len(news))
            yield Sparing(
                tuple(Missed(colours[i], worse[i]) for i in order), tuple(colours[i] for i in together), len(news)
            )


def _pack(collection: Collection, recipes: Sequence[int], count: int, go_on: GoOn) -> Iterator[Packing | Doing]:
    with collection() as session:
        owned = frozenset(drawable_colours(session))
        demands = demands_now(session, recipes=recipes).all
        for news in _needs(session, demands, owned, go_on):
            if isinstance(news, Doing):
                yield news
                continue
            packed = pack(news, owned, count)
            kept, colours, many = frozenset(packed.pencils), chart_by_id(session), max(len(news), 1)
            worse = tuple(
                f"{demand.words}: {need.cost(kept):.1f} instead of {need.cost(owned):.1f}"
                for demand, need in zip(demands, news, strict=True)
                if need.cost(kept) > need.cost(owned) + 1.0
            )
            yield Packing(
                tuple(colours[i] for i in packed.pencils), total(news, kept) / many, packed.best / many, worse,
                packed.proven, len(news),
            )  # fmt: skip


def _needs(
    session: Session, demands: Sequence[Demand], owned: frozenset[int], go_on: GoOn
) -> Iterator[tuple[Need, ...] | Doing]:  # fmt: skip
    """Each demand with its ways, paper by paper; nothing where it was told to stop."""
    needs: dict[int, Need] = {}
    for paper, places in places_by_paper(demands).items():
        scene = Scene.on(session, paper)
        for news in mixed_on(scene, owned, f"Layers on {scene.paper.name}", go_on):
            if isinstance(news, Doing):
                yield news
                continue
            ways = alone_and_layered(scene, owned, news)
            for place, need in zip(places, _options(ways, [demands[i] for i in places], owned), strict=True):
                needs[place] = need
    if go_on() and len(needs) == len(demands):
        yield tuple(needs[i] for i in range(len(demands)))


def _options(ways: Ways, demands: Sequence[Demand], owned: frozenset[int]) -> Iterator[Need]:
    wanted, bands = labs_of(demands)
    singles, pairs = ways.rows(ways.second == NONE), ways.rows(ways.second != NONE)
    # Some are single pencils, each another one: whatever goes, something is left.
    alone = varied_ways(singles, wanted, bands, _ALONE, 1)
    layered = varied_ways(pairs, wanted, bands, _OPTIONS, _OF_ONE)
    for demand, one, two in zip(demands, alone, layered, strict=True):
        options = [*one, *two, *(Option((meant,), 0.0) for meant in demand.meant & owned)]
        yield Need(tuple(sorted(options, key=lambda option: option.cost)), demand.weight, UNANSWERED)
