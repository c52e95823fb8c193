"""How much a hand varies: the standard deviation of ln load from making to making, learned from the artist's marks.

Every mark's fit has a slip of the hand among its unknowns. What the marks tell of these slips, apart from what was
taken for granted of the hand beforehand, is weighed for every size of hand, and the likeliest is taken (maximum
marginal likelihood, as in MacKay, “Bayesian interpolation”, 1992; from memory). Makings of one mark that were repeated
tell most: no pencil and no paper can be the cause of their difference.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_Array = NDArray[np.float64]

# The hand of whom nothing is known, and how many marks that counts for (ours).
USUAL_HAND = 0.12
_COUNTS_FOR = 8.0
# Hands that are told apart, an eighth from each to the next: a new swatch mostly leaves the hand as it was, and with it
# all that was fitted.
HANDS: tuple[float, ...] = tuple(float(np.round(USUAL_HAND * 1.125**i, 4)) for i in range(-12, 9))


@dataclass(frozen=True)
class Slips:
    """What is known of the slips of one pencil's marks: the most likely (S,), and their covariance (S, S), where the
    hand was taken to be `hand`.
    """

    likely: _Array
    covariance: _Array
    hand: float


def learn_hand(slips: Iterable[Slips]) -> float:
    """The likeliest of HANDS, the usual one where nothing is known."""
    hands = np.array(HANDS)
    evidence = -_COUNTS_FOR * (np.log(hands) + 0.5 * (USUAL_HAND / hands) ** 2)
    by_marks: dict[int, list[Slips]] = {}
    for one in slips:
        by_marks.setdefault(len(one.likely), []).append(one)
    for alike in by_marks.values():
        evidence = evidence + _evidence(alike, hands)
    return HANDS[int(np.argmax(evidence))]


def _evidence(slips: Sequence[Slips], hands: _Array) -> _Array:
    """What pencils (N) that have equally many marks (S) tell of hands (H,): ln of their marginal likelihood, up to what
    is the same for all.
    """
    precision = np.linalg.inv(np.stack([one.covariance for one in slips]))
    unit = np.eye(precision.shape[-1])
    told = precision - unit / np.array([one.hand for one in slips])[:, None, None] ** 2
    pulled = (precision @ np.stack([one.likely for one in slips])[..., None])[None]
    variance = hands[:, None, None, None] ** 2
    with_hand = told[None] + unit / variance  # (H, N, S, S)
    by_size = -0.5 * np.linalg.slogdet(with_hand * variance)[1]
    by_slips = 0.5 * (pulled * np.linalg.solve(with_hand, np.broadcast_to(pulled, (*with_hand.shape[:3], 1))))
    return np.asarray((by_size + by_slips.sum(axis=(-1, -2))).sum(axis=1))
