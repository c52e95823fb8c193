"""Why a reading of a session may be wrong, in words."""

from __future__ import annotations

import numpy as np

from tidy_tinder.core.swatching.averaging import Average
from tidy_tinder.core.swatching.identification import SPREAD_MEASURED, Candidate, identify
from tidy_tinder.core.swatching.plausibility import Doubt, Expected, doubts
from tidy_tinder.core.vocabulary import Effect, Ground, Pressure
from tidy_tinder.services.collection.chart import entry_of
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.storage.models import SessionItem, SwatchSession
from tidy_tinder.storage.queries.swatches import swatch_that_counts

# A printed black bar as the reader sees it, L* about 23: what a mark over black lies on. Ours.
_BLACK_BAR = np.array([23.0, 0.0, 0.0])


def doubt_in_words(scene: Scene, row: SwatchSession, item: SessionItem, average: Average) -> str:
    """Why the reading may be wrong, in words; "" where nothing speaks against it."""
    colour, over_black = scene.colours[item.colour_id], item.over == Ground.BLACK
    layers = item.layers_in(row)
    heavy = scene.measured.get(item.colour_id, {}).get((Pressure.HEAVY, 1))
    chart = np.array(colour.lab) if colour.lab else None
    earlier = swatch_that_counts(
        scene.session, item.colour_id, scene.paper.id, item.pressure, layers, row.finish, item.over
    )
    expected = Expected(
        ground=_BLACK_BAR if over_black else np.array(paper_lab(scene.paper)),
        full=None if over_black else (np.array(heavy.lab) if heavy else chart),
        earlier=np.array(earlier.lab) if earlier else None,
        # Several layers go beyond one heavy mark: of 216 true ones 32 would be doubted.
        heavy=item.pressure == Pressure.HEAVY and layers == 1,
        ordinary=colour.effect == Effect.ORDINARY and not over_black,
    )
    if over_black and expected.earlier is None:
        return ""  # a transparent mark over black may well look like the bare bar
    doubtful = doubts(average.lab, expected)
    if not doubtful:
        return ""
    first = doubtful[0]
    if first.doubt is Doubt.BARE:
        return f"This looks like bare {scene.paper.name} (ΔE {first.delta_e:.1f}). Does the reader stand on the mark?"
    if first.doubt is Doubt.EARLIER:
        words = f"It differs from the earlier swatch of {earlier.made_on} by ΔE {first.delta_e:.1f}." if earlier else ""
    else:
        words = f"It is ΔE {first.delta_e:.1f} away from anything that {colour.code} {colour.name} can be here."
    return f"{words}{_nearer(scene, item, average)}"


def _nearer(scene: Scene, item: SessionItem, average: Average) -> str:
    """Which other colour's mark here it looks like, if any."""
    kind = (item.pressure, 1)
    candidates = [Candidate(i, np.array(m[kind].lab), owned=True) for i, m in scene.measured.items() if kind in m]
    best = identify(average.lab, candidates, SPREAD_MEASURED).best
    if best is None or best.key == item.colour_id:
        return " Is the right pencil under the reader?"
    other = entry_of(scene.colours[best.key]).label
    return f" It looks like {other}: is the right pencil under the reader?"
