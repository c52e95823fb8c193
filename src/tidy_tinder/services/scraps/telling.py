"""Strips worth making on a paper: those that tell most of how the artist's layers lie over one another there, and a few
burnished marks, where too few tell how hard she burnishes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.layering.collection_fit.telling_strips import PENCILS_IN_ONE, TellingStrips, telling_strips
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Effect, Finish, Pressure
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.in_layers import far_apart
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, owned_layers
from tidy_tinder.services.scraps.store import strip_in_words
from tidy_tinder.storage.models import Scrap
from tidy_tinder.storage.queries.scraps import scrap_rows

BURNISHED = 2
"""How many pencils are burnished on bare paper: what they tell of others is measured in docs/decisions/0056."""

_HEAVY = (Pressure.HEAVY, 1)


@dataclass(frozen=True)
class StripToMake:
    """A strip worth making: its layers, the lowest first, in words too. band_after: the ΔE00 within which such layers
    will lie, nine times of ten, when it and those before it are read, None of burnished ones; scrap_id: where it is set
    out already.
    """

    laid: tuple[Laid, ...]
    said: str
    band_after: float | None
    scrap_id: int | None


@dataclass(frozen=True)
class TellingView:
    """Strips worth making on a paper, those first that tell most, and pencils to burnish there; none while the
    collection is being fitted (ready is False). band: the ΔE00 within which layers like those of the strips lie now.
    """

    ready: bool
    band: float
    strips: tuple[StripToMake, ...]
    burnished: tuple[StripToMake, ...]


def strips_to_make(collection: Collection, paper_id: int) -> TellingView:
    """Which strips of pencils that are at hand and measured on a paper would tell most. Raises NotFoundError."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        if scene.known is None:
            return TellingView(False, 0.0, (), ())
        tried, pencils = _Tried(scene), _pencils(scene)
        told = _telling(scene, frozenset(pencils))
        strips = tuple(_to_make(scene, tried, one.layers, one.band_after) for one in told.strips)
        to_burnish = [i for i in far_apart(pencils, BURNISHED) if i not in tried.burnished]
        lacking = to_burnish[: max(BURNISHED - len(tried.burnished), 0)]
        burnished = tuple(_to_make(scene, tried, (Layer(i, Pressure.BURNISH),), None) for i in lacking)
        return TellingView(True, told.band, strips, burnished)


class _Tried:
    """What was tried on the paper, dry: what is set out and not read yet, and the pencils that were read burnished."""

    def __init__(self, scene: Scene) -> None:
        rows = scrap_rows(scene.session, Scrap.paper_id == scene.paper.id, Scrap.finish == Finish.DRY)
        self.set_out = {row.layers: row.id for row in rows if not row.readings}
        self.burnished = {row.layers[0].pencil for row in rows if row.readings and row.is_burnished_mark}


def _to_make(scene: Scene, tried: _Tried, layers: tuple[Layer[int], ...], band_after: float | None) -> StripToMake:
    laid = owned_layers(scene, layers)
    return StripToMake(laid, strip_in_words(laid), band_after, tried.set_out.get(layers))


def _pencils(scene: Scene) -> Sequence[int]:
    """The pencils that are at hand, modelled and measured heavy here, in the order of their charts."""
    assert scene.known is not None, "asked only where there is a fit"
    fitted = scene.known.survey.pencils
    return [
        i
        for i, colour in scene.colours.items()
        if i in scene.at_hand and i in fitted and _HEAVY in scene.measured.get(i, {})
        if colour.effect == Effect.ORDINARY
    ]


def _telling(scene: Scene, pencils: frozenset[int]) -> TellingStrips:
    """The strips of these that tell most, on a paper that takes so many layers."""
    assert scene.known is not None, "asked only where there is a fit"
    if scene.paper.most_layers < PENCILS_IN_ONE:
        return TellingStrips(0.0, ())
    fitted = scene.known.survey.pencils
    question = ("telling strips", scene.paper.id, pencils, scene.predicted().version)
    return for_version(
        scene.session, question, MARK_TABLES, lambda: telling_strips({i: fitted[i] for i in pencils}, scene.fit)
    )
