"""Stand-ins for a call or for any colour, from the pencils at hand, on a paper."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.difference.lamps import UnderLamps, under_lamps
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.standins.singles import Basis, Known, Offer, Unranked, rank_singles
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning, at_hand_now
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.marks import Mark, Patch, charted_colours, find_paper, known_marks, marks_on, patch
from tidy_tinder.services.collection.predictions import Predictions, predictions_on
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.papers import find_paper_called
from tidy_tinder.storage.models import Paper, RecipeCall
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour
from tidy_tinder.storage.queries.swatches import MarkKind, MeasuredMark, spectra_that_count

# A call that names no pressure is compared at heavy, one layer (5-optics section 7).
DEFAULT_PRESSURE = "heavy"


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
    plus_minus: float | None
    tie: bool
    lamps: UnderLamps | None = None


@dataclass(frozen=True)
class RankedStandins:
    """The stand-ins for one colour on a paper, in two lists that are never mixed."""

    wanted: ColourRow
    paper_name: str
    pressure: str
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
        call = session.get(RecipeCall, call_id)
        if call is None:
            raise NotFoundError(f"There is no call number {call_id}. It may have been removed in another window.")
        if call.colour_id is None:
            raise RefusedError(f"“{call.as_written}” is not settled yet: say first which colour is meant.")
        paper = find_paper(session, paper_id)
        pressure = call.pressure or DEFAULT_PRESSURE
        return rank_for_colour(session, call.colour_id, paper, pressure, call.layers, closest, limit)


def standins_for_text(
    collection: Collection, text: str, paper: str, pressure: str, closest: Closest, limit: int = 12
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
        return rank_for_colour(
            session, finding.hits[0].key, find_paper_called(session, paper), pressure, 1, closest, limit
        )


def rank_for_colour(
    session: Session, colour_id: int, paper: Paper, pressure: str, layers: int, closest: Closest, limit: int
) -> RankedStandins:
    """Rank every pencil at hand, other than of the colour itself, as a stand-in for it."""
    colours = {row.id: row for row in charted_colours(session)}
    if colour_id not in colours:
        raise NotFoundError(f"There is no colour number {colour_id}. It may have been removed in another window.")
    measured, predicted = known_marks(session, paper), predictions_on(session, paper, layers)
    pencils, hand = pencils_by_colour(session), at_hand_now(session)
    kind: MarkKind = (pressure, layers)
    owned = [i for i, sticks in pencils.items() if i != colour_id and hand.has(sticks)]
    candidates = [_known(colours[i], measured, predicted, kind) for i in sorted(owned)]
    ranking = rank_singles(_known(colours[colour_id], measured, predicted, kind), candidates, closest, limit)
    marks = marks_on(session, paper)
    shown = [colour_id, *(o.key for o in ranking.on_paper)]
    spectra = spectra_that_count(session, paper.id, pressure, layers, shown)
    left_out: dict[Unranked, int] = {}
    for one in ranking.left_out:
        left_out[one.reason] = left_out.get(one.reason, 0) + 1

    def dressed(offers: tuple[Offer, ...]) -> tuple[RankedOffer, ...]:
        return tuple(
            RankedOffer(
                colours[o.key], hand.owning(pencils[o.key]), marks[o.key], o.basis, patch(o.wanted), patch(o.offered),
                o.ranked_by, o.difference, o.plus_minus, o.tie, parting(spectra.get(colour_id), spectra.get(o.key)),
            )
            for o in offers
        )  # fmt: skip

    on_paper, by_chart = dressed(ranking.on_paper), dressed(ranking.by_chart)
    return RankedStandins(
        colours[colour_id], paper.name, pressure, layers, closest, on_paper, by_chart, left_out
    )  # fmt: skip


def parting(one: Sequence[float] | None, other: Sequence[float] | None) -> UnderLamps | None:
    """How two measured spectra part under lamp light; None where one of them was not measured."""
    return under_lamps(one, other) if one is not None and other is not None else None


def _known(
    row: ColourRow, measured: Mapping[int, Mapping[MarkKind, MeasuredMark]], predicted: Predictions, kind: MarkKind
) -> Known:
    """What is known of a colour for a comparison at one pressure and number of layers: measured before predicted."""
    mark = measured.get(row.id, {}).get(kind)
    told = predicted.of(row.id, kind[0]) if mark is None else None
    seen = mark.lab if mark else told.lab if told else None
    return Known(
        row.id,
        np.array(seen) if seen else None,
        np.array(row.lab) if row.lab else None,
        ordinary=row.effect == "ordinary",
        band=told.band if told else None,
    )
