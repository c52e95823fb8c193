"""Stand-ins for a call or for any colour, from the pencils at hand, mark beside mark on a paper."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.difference.lamps import UnderLamps, parting
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Coat
from tidy_tinder.core.standins.singles import Basis, Offer, Unranked, rank_singles
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.marks import Mark
from tidy_tinder.services.collection.paper import find_paper_called
from tidy_tinder.services.collection.passage import DEFAULT_PRESSURE, settled_call
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class RankedOffer:
    """One stand-in as the interface shows it: the pencil, its mark, both patches, the difference.

    lamps: how both part under lamp light, where the spectra of both were measured.
    """

    colour: ColourRow
    owning: Owning
    mark: Mark
    basis: Basis
    wanted: Patch
    offered: Patch
    ranked_by: float
    difference: Difference
    expected: float
    plus_minus: float | None
    tie: bool
    lamps: UnderLamps | None = None


@dataclass(frozen=True)
class RankedStandins:
    """The stand-ins for one colour on a paper, in two lists that are never mixed."""

    wanted: ColourRow
    paper_name: str
    pressure: Pressure
    layers: int
    closest: Closest
    on_paper: tuple[RankedOffer, ...]
    by_chart: tuple[RankedOffer, ...]
    left_out: Mapping[Unranked, int]

    @property
    def best(self) -> RankedOffer | None:
        """The nearest on this paper; by chart where nothing is known on this paper."""
        return next(iter(self.on_paper or self.by_chart), None)


def standins_for_call(
    collection: Collection, call_id: int, paper_id: int, closest: Closest, limit: int = 12
) -> RankedStandins:
    """Ranked stand-ins for one call of a recipe, at its pressure and layers.

    Raises NotFoundError for an unknown call or paper, RefusedError for a call that is not settled yet.
    """
    with collection() as session:
        call, colour_id = settled_call(session, call_id)
        coat = Coat(call.pressure or DEFAULT_PRESSURE, call.layers)
        return rank_for_colour(Scene.on(session, paper_id), colour_id, coat, closest, limit)


def standins_for_text(
    collection: Collection, text: str, paper: str, pressure: Pressure, closest: Closest, limit: int = 12
) -> RankedStandins:
    """Ranked stand-ins for a colour and a paper as a person writes them (the command line).

    Raises NotFoundError where the text means no colour or no paper, RefusedError where it means several.
    """
    with collection() as session:
        finding = catalogue_of(session).resolve(text)
        if finding.conflict:
            raise RefusedError(finding.conflict.message)
        if not finding.hits:
            raise NotFoundError(f"No colour is called “{text}”. Write a code, a name, or range and code.")
        if len(finding.hits) > 1:
            meant = "; ".join(hit.label for hit in finding.hits[:6])
            raise RefusedError(f"“{text}” can mean {meant}. Write the range too.")
        scene = Scene(session, find_paper_called(session, paper))
        return rank_for_colour(scene, finding.hits[0].key, Coat(pressure), closest, limit)


def rank_for_colour(scene: Scene, colour_id: int, coat: Coat, closest: Closest, limit: int | None) -> RankedStandins:
    """Rank every pencil at hand, other than of the colour itself, as a stand-in for it laid in a coat.

    limit: how many of each list, all by default. Raises NotFoundError for an unknown colour.
    """
    wanted = scene.compared(colour_id, coat)
    candidates = [scene.compared(i, coat) for i in sorted(scene.at_hand - {colour_id})]
    ranking = rank_singles(wanted, candidates, closest, limit)
    spectra = scene.spectra(coat, [colour_id, *(offer.key for offer in ranking.on_paper)])

    def ranked(offer: Offer) -> RankedOffer:
        return RankedOffer(
            scene.colours[offer.key], scene.owning(offer.key), scene.marks[offer.key], offer.basis,
            patch(offer.wanted), patch(offer.offered), offer.ranked_by, offer.difference, offer.expected,
            offer.plus_minus, offer.tie,
            parting(spectra.get(colour_id), spectra.get(offer.key)),
        )  # fmt: skip

    return RankedStandins(
        scene.colours[colour_id], scene.paper.name, coat.pressure, coat.layers, closest,
        tuple(map(ranked, ranking.on_paper)), tuple(map(ranked, ranking.by_chart)),
        dict(Counter(one.reason for one in ranking.left_out)),
    )  # fmt: skip
