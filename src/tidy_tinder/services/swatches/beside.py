"""Marks laid edge to edge: how each differs from the first, in daylight and, where spectra are known, under lamps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.difference.lamps import UnderLamps, parting
from tidy_tinder.core.layers import Coat, Layer
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import LabTriple, Patch, Trust
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.storage.queries.colours import ColourRow

MOST_COMPARED = 6


@dataclass(frozen=True)
class MarkAsked:
    """One mark to be laid beside others."""

    colour_id: int
    paper_id: int
    pressure: Pressure


@dataclass(frozen=True)
class MarkLaid:
    """A mark as it is laid beside others: what was asked, the colour, its patch (None where nothing is known there),
    and the difference from the first one laid. band: where predicted or measured by photo, the ΔE00 within which nine
    of ten lie; lamps: how it parts from the first one under lamp light, where the spectra of both were measured.
    """

    asked: MarkAsked
    colour: ColourRow
    paper_name: str
    patch: Patch | None
    band: float | None
    trust: Trust
    difference: Difference | None
    lamps: UnderLamps | None = None


def lay_beside(collection: Collection, asked: Sequence[MarkAsked]) -> tuple[MarkLaid, ...]:
    """Two to six marks to be looked at edge to edge. Raises NotFoundError, RefusedError for another number."""
    if not 2 <= len(asked) <= MOST_COMPARED:
        raise RefusedError(f"Two to {MOST_COMPARED} marks are laid edge to edge, not {len(asked)}.")
    with collection() as session:
        scenes: dict[int, Scene] = {}
        first: LabTriple | None = None
        first_spectrum: Sequence[float] | None = None
        laid: list[MarkLaid] = []
        for one in asked:
            if one.paper_id not in scenes:
                scenes[one.paper_id] = Scene.on(session, one.paper_id)
            scene = scenes[one.paper_id]
            colour, seen = scene.colour(one.colour_id), scene.look(Layer(one.colour_id, one.pressure))
            lab = seen.patch.lab if seen else None
            apart = difference(first, lab) if first is not None and lab is not None else None
            first = lab if first is None else first
            spectrum = scene.spectra(Coat(one.pressure), [one.colour_id]).get(one.colour_id)
            first_spectrum = first_spectrum if laid else spectrum
            lamps = parting(first_spectrum, spectrum) if laid else None
            shown, band, trust = (seen.patch, seen.band, seen.trust) if seen else (None, None, Trust.NONE)
            laid.append(MarkLaid(one, colour, scene.paper.name, shown, band, trust, apart, lamps))
        return tuple(laid)
