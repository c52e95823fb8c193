"""Ranking single pencils as stand-ins for one call, like with like.

Like with like (ours): a mark on this paper is compared only with marks on this paper at
the same pressure and layers, measured or predicted; where one side is not known there, chart is compared with
chart. The two kinds are never ranked in one list, because a printed chart and a mark on buff card differ by more
than most stand-ins do. Predicted marks carry the band within which they lie, and what a band cannot part from the
nearest is marked as a tie with it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.quantities import Lab, check_limit


class Basis(StrEnum):
    """What a comparison rests on; the value is the word used in the interface and in files."""

    PAPER = "measured on this paper"
    PHOTO = "measured by photo on this paper"
    PREDICTED = "predicted on this paper"
    CHART = "by chart, not on this paper"


class Unranked(StrEnum):
    """Why a pencil was not ranked at all."""

    EFFECT = "metallic, neon and pearl pencils are not modelled, so they are not ranked"
    WANTED_EFFECT = "the wanted colour is metallic, neon or pearl, and how those look is not modelled"
    NO_COLOUR = "neither swatched here nor given a chart value"
    WANTED_NO_COLOUR = "the wanted colour has no value to compare with"
    WANTED_CHART_MISSING = "swatched here, but the wanted colour is not, and this one has no chart value"
    CHART_MISSING = "has no mark here, and the two have no chart values in common"

    @property
    def about_wanted(self) -> bool:
        """Whether it is the wanted colour that cannot be compared, with whatever pencil."""
        return self in (Unranked.WANTED_EFFECT, Unranked.WANTED_NO_COLOUR)


@dataclass(frozen=True)
class Known:
    """What is known of one colour for a comparison.

    key: the caller's identity of it. on_paper: Lab (3,) of its mark on the paper at the pressure and
    layers in question, or None. band: the ΔE00 within which nine of ten lie if that mark is predicted, or, with
    by_photo, was measured by photo; None where a reader measured it. chart: Lab (3,) of its chart value, or None.
    ordinary: False for a metallic, neon or pearl pencil.
    """

    key: int
    on_paper: Lab | None
    chart: Lab | None
    ordinary: bool = True
    band: float | None = None
    by_photo: bool = False


@dataclass(frozen=True)
class Offer:
    """One ranked stand-in with its workings: both Labs (3,), the difference, as a figure by the meaning of closest and
    as it is to be expected, doubts counted, which ranks it.

    plus_minus: how far the difference may be off (ΔE00, nine of ten), None where both were measured or printed. tie:
    it cannot be told from the nearest, which bears the mark too if it has company.
    """

    key: int
    basis: Basis
    wanted: Lab
    offered: Lab
    ranked_by: float
    difference: Difference
    expected: float
    plus_minus: float | None = None
    tie: bool = False


@dataclass(frozen=True)
class LeftOut:
    """A candidate that was not ranked, and why."""

    key: int
    reason: Unranked


@dataclass(frozen=True)
class SinglesRanking:
    """The stand-ins for one call, nearest first, in two lists that are never mixed."""

    closest: Closest
    on_paper: tuple[Offer, ...]
    by_chart: tuple[Offer, ...]
    left_out: tuple[LeftOut, ...]

    @property
    def best(self) -> Offer | None:
        """The nearest on this paper, or by chart where nothing is known on this paper."""
        return next(iter(self.on_paper or self.by_chart), None)


def rank_singles(
    wanted: Known, candidates: Sequence[Known], closest: Closest = Closest.OVERALL, limit: int | None = None
) -> SinglesRanking:
    """Rank `candidates` as stand-ins for `wanted` by the meaning of `closest`.

    Ties keep the order in which the candidates came. limit: how many of each list are returned (all by
    default). The wanted colour itself, if among the candidates, is ranked like any other.
    """
    check_limit(limit)
    left_out: list[LeftOut] = []
    paper_side: list[Known] = []
    chart_side: list[Known] = []
    for candidate in candidates:
        reason = _reason_unranked(wanted, candidate)
        if reason is not None:
            left_out.append(LeftOut(candidate.key, reason))
        elif wanted.on_paper is not None and candidate.on_paper is not None:
            paper_side.append(candidate)
        else:
            chart_side.append(candidate)
    return SinglesRanking(
        closest,
        _on_paper(wanted, paper_side, closest, limit),
        _ranked(wanted.chart, [(c.key, c.chart) for c in chart_side], Basis.CHART, closest, limit),
        tuple(left_out),
    )


# Band of a measured mark: a repeated making and reading of it lies this near nine times of ten (half of the demo's
# repeated marks lie within .57, which makes .9 for one σ along all three axes together).
MEASURED_BAND = 1.3
# A band is about 2.5 σ of its three components, and a gap is believed from 1.28 σ on (nine of ten, one-sided).
BELIEVED = 1.28 / 2.5


def _on_paper(wanted: Known, side: Sequence[Known], closest: Closest, limit: int | None) -> tuple[Offer, ...]:
    """The list of marks on this paper, with bands and ties."""
    bands, by_key = {c.key: c.band for c in side}, {c.key: c for c in side}
    doubts = np.hypot([c.band or 0.0 for c in side], wanted.band or 0.0)
    offers = _ranked(wanted.on_paper, [(c.key, c.on_paper) for c in side], Basis.PAPER, closest, limit, doubts)
    tied = [_tied(offers[0], offer, bands) for offer in offers]
    banded = []
    for place, offer in enumerate(offers):
        band = bands[offer.key]
        unsure = band is not None or wanted.band is not None
        plus_minus = float(np.hypot(band or 0.0, wanted.band or 0.0)) if unsure else None
        tie = tied[place] if place else any(tied[1:])
        predicted = any(known.band is not None and not known.by_photo for known in (wanted, by_key[offer.key]))
        basis = Basis.PREDICTED if predicted else Basis.PHOTO if unsure else Basis.PAPER
        banded.append(replace(offer, basis=basis, plus_minus=plus_minus, tie=tie))
    return tuple(banded)


def _tied(nearest: Offer, offer: Offer, bands: Mapping[int, float | None]) -> bool:
    """Whether the gap to the nearest is within what both marks may be off."""
    first, second = (MEASURED_BAND if (band := bands[o.key]) is None else band for o in (nearest, offer))
    return offer.ranked_by - nearest.ranked_by < BELIEVED * float(np.hypot(first, second))


def _reason_unranked(wanted: Known, candidate: Known) -> Unranked | None:
    """Why this candidate cannot be compared with the wanted colour; None where it can."""
    reasons = (
        (not wanted.ordinary, Unranked.WANTED_EFFECT),
        (not candidate.ordinary, Unranked.EFFECT),
        (wanted.on_paper is None and wanted.chart is None, Unranked.WANTED_NO_COLOUR),
        (candidate.on_paper is None and candidate.chart is None, Unranked.NO_COLOUR),
    )
    if (first := next((why for holds, why in reasons if holds), None)) is not None:
        return first
    if wanted.on_paper is not None and candidate.on_paper is not None:
        return None
    if wanted.chart is not None and candidate.chart is not None:
        return None
    return Unranked.CHART_MISSING if candidate.on_paper is None else Unranked.WANTED_CHART_MISSING


def _ranked(
    wanted: Lab | None, side: list[tuple[int, Lab | None]], basis: Basis, closest: Closest, limit: int | None,
    doubts: NDArray[np.float64] | float = 0.0,
) -> tuple[Offer, ...]:  # fmt: skip
    """One list, the least expected difference first; differences are worked out only for those that are returned."""
    if wanted is None or not side:
        return ()
    labs = np.array([lab for _, lab in side])
    figures = weighted_difference(wanted, labs, closest)
    expected = expected_difference(figures, doubts)
    order = np.argsort(expected, kind="stable")[:limit]
    return tuple(
        Offer(
            side[i][0], basis, wanted, labs[i], float(figures[i]), difference(wanted, labs[i]), float(expected[i])
        )
        for i in order
    )  # fmt: skip
