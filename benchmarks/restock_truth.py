"""The best three of the demo, tried: whether the calls that they serve really come closer in the hidden truth.

Each call's best way now and its best way with the new colour are laid in the hidden world as the program would have
them laid, and so is what is called for; a pick is the picture's own colour.
"""

from __future__ import annotations

import time
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from benchmarks.page import Row
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.prediction.marks import pencil_on
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.restocking.ways import Ways, nearest_ways
from tidy_tinder.core.standins.pairs import PairTable, mix_new
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.pair_tables import PAIR_COATS
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.collection.paper import root_name
from tidy_tinder.services.collection.passage import layer_of
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.restock.buying import Buys, BuyWish, Served, buys_so_far
from tidy_tinder.services.restock.demands import Demand, DemandOf
from tidy_tinder.services.restock.ways import pairs_on, singles_on
from tidy_tinder.storage.models import RecipeCall
from tidy_tinder.storage.queries.colours import drawable_colours

_Array = NDArray[np.float64]
_Laid = tuple[Layer[int], ...]
_PATIENCE = 600.0


@dataclass(frozen=True)
class _Tried:
    """A call that is served, in the hidden truth: ΔE00 of its best way before and after; own: by its own pencil."""

    before: float
    after: float
    own: bool


def rows(collection: Collection) -> list[Row]:
    """The figures."""
    buys = _whole(collection)
    tried = [one for buy in buys.buys for one in _each(collection, buy.colour_id, buy.serves)]
    closer = [one.after < one.before for one in tried]
    others = [one.after < one.before for one in tried if not one.own]
    gain = [one.before - one.after for one in tried]
    return [
        (
            "the demo's best three, tried in the hidden truth: calls told to come closer that do; of those not by the "
            "very pencil; by how much, median",
            f"{sum(closer)} of {len(closer)}; {sum(others)} of {len(others)}; {np.median(gain):.1f} ΔE00",
            "",
        )
    ]


def _whole(collection: Collection) -> Buys:
    end = time.monotonic() + _PATIENCE
    while time.monotonic() < end:
        found = buys_so_far(collection, BuyWish(), 0.5)
        if found.ended and found.answer is not None:
            return found.answer
        time.sleep(0.5)
    raise SystemExit("What to buy was never worked out.")


def _each(collection: Collection, colour: int, serves: tuple[Served, ...]) -> list[_Tried]:
    found = []
    with collection() as session:
        owned = frozenset(drawable_colours(session))
        for served in serves:
            demand = served.demand
            scene = Scene.on(session, demand.paper_id)
            wanted, doubt = np.array([demand.lab]), np.array([demand.band])
            now = _best(scene, owned, _table(scene, owned), wanted, doubt)
            if colour in demand.meant:
                new: _Laid = (_asked(scene, demand),)
            else:
                partner = served.layered_with
                over = None if partner is None else _mixed(scene, colour, partner)
                new = _best(scene, frozenset({colour}), over, wanted, doubt)
            target = _true(scene, (_asked(scene, demand),)) if demand.of is DemandOf.CALL else np.array(demand.lab)
            before, after = (float(delta_e_2000(target, _true(scene, laid))) for laid in (now, new))
            found.append(_Tried(before, after, colour in demand.meant))
    return found


def _asked(scene: Scene, demand: Demand) -> Layer[int]:
    call = scene.session.get_one(RecipeCall, demand.id)
    return layer_of(call, call.colour_id)


def _table(scene: Scene, owned: frozenset[int]) -> PairTable | None:
    assert scene.known is not None, "the demo is fitted"
    return mixed_pairs(scene.session, scene.known, scene.fit, scene.paper.id, _PATIENCE, False, owned).table


def _mixed(scene: Scene, colour: int, partner: int) -> PairTable:
    assert scene.known is not None, "the demo is fitted"
    fits = scene.known.survey.pencils
    new, mine = ({i: pencil_on(fits[i], scene.fit)} for i in (colour, partner))
    return mix_new(new, mine, scene.fit.model, PAIR_COATS)


def _best(scene: Scene, pencils: frozenset[int], table: PairTable | None, wanted: _Array, doubt: _Array) -> _Laid:
    """The nearest way with these pencils alone, or of a table of pairs."""
    singles = singles_on(scene, pencils)
    alone = nearest_ways(singles, wanted, doubt)
    if table is not None:
        pairs = nearest_ways(pairs_on(scene, table), wanted, doubt)
        if pairs.best[0] < alone.best[0]:
            pair = table.pair(int(pairs.row[0, 0]))
            return (pair.below, pair.above)
    return (_single(singles, int(alone.row[0, 0])),)


def _single(singles: Ways, row: int) -> Layer[int]:
    """Each key stands with its layers, and each of these at every pressure."""
    key = int(singles.first[row])
    each = int((singles.first == key).sum())
    layers, pressure = divmod(row % each, len(MARK_PRESSURES))
    return Layer(key, MARK_PRESSURES[pressure], layers + 1)


def _true(scene: Scene, laid: _Laid) -> _Array:
    """Lab (3,) of these layers in the hidden world, by a hand that does not slip."""
    passes = tuple(
        (f"{scene.colours[one.pencil].range_name} {scene.colours[one.pencil].code}", one.pressure.value)
        for one in laid
        for _ in range(one.layers)
    )
    return reflectance_to_lab(demo_world().reflectance(root_name(scene.session, scene.paper), passes))
