"""Strips worth making on a paper: those that tell most of how the artist's layers lie over one another there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tidy_tinder.core.layering.collection_fit.telling_strips import PENCILS_IN_ONE, TellingStrips, telling_strips
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Effect, Finish, Pressure
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, layers_in_words, owned_layers
from tidy_tinder.storage.models import Scrap
from tidy_tinder.storage.queries.scraps import scrap_rows

_HEAVY = (Pressure.HEAVY, 1)


@dataclass(frozen=True)
class StripToMake:
    """A strip worth making: its layers, the lowest first, in words too. band_after: the ΔE00 within which such layers
    will lie, nine times of ten, when it and those before it are read; scrap_id: where it is set out already.
    """

    laid: tuple[Laid, ...]
    said: str
    band_after: float
    scrap_id: int | None


@dataclass(frozen=True)
class TellingView:
    """Strips worth making on a paper, those first that tell most; none while the collection is being fitted (ready is
    False). band: the ΔE00 within which such layers lie now.
    """

    ready: bool
    band: float
    strips: tuple[StripToMake, ...]


def strips_to_make(collection: Collection, paper_id: int) -> TellingView:
    """Which strips of pencils that are at hand and measured on a paper would tell most. Raises NotFoundError."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        if scene.known is None:
            return TellingView(False, 0.0, ())
        told, set_out = _telling(scene), _set_out(scene)
        strips = []
        for one in told.strips:
            laid = owned_layers(scene, one.layers)
            strips.append(StripToMake(laid, layers_in_words(laid), one.band_after, set_out.get(one.layers)))
        return TellingView(True, told.band, tuple(strips))


def _telling(scene: Scene) -> TellingStrips:
    """Of pencils that are at hand and measured here, on a paper that takes so many layers."""
    assert scene.known is not None, "asked only where there is a fit"
    if scene.paper.most_layers < PENCILS_IN_ONE:
        return TellingStrips(0.0, ())
    fitted = scene.known.survey.pencils
    here = frozenset(
        i
        for i in scene.at_hand & fitted.keys()
        if _HEAVY in scene.measured.get(i, {}) and scene.colours[i].effect == Effect.ORDINARY
    )
    question = ("telling strips", scene.paper.id, here, scene.predicted().version)
    return for_version(
        scene.session, question, MARK_TABLES, lambda: telling_strips({i: fitted[i] for i in here}, scene.fit)
    )


def _set_out(scene: Scene) -> Mapping[tuple[Layer[int], ...], int]:
    """The dry scraps of this paper that are not read yet, by their layers."""
    rows = scrap_rows(scene.session, Scrap.paper_id == scene.paper.id, Scrap.finish == Finish.DRY)
    return {row.layers: row.id for row in rows if not row.readings}
