"""How much a hand varies: the standard deviation of ln load from making to making, learned from the artist's marks.

Every mark's fit has a slip of the hand among its unknowns. What the marks tell of these slips, apart from what was
taken for granted of the hand beforehand, is weighed for every size of hand (marginal likelihood, as in MacKay,
“Bayesian interpolation”, 1992; from memory). Makings of one mark that were repeated tell most: no pencil and no paper
can be the cause of their difference. A next mark slips by what is known of the hand and by what is not, so that the
variances of all hands are averaged as likely as each is: few marks of a steady hand do not make it a steady one.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_Array = NDArray[np.float64]

# The hand of whom nothing is known, and by how much hands differ from each other, as a standard deviation of its
# logarithm (both ours; two of three hands slip by 7 to 19 %).
USUAL_HAND = 0.15
_HANDS_DIFFER = 0.5
# Hands that are told apart, an eighth from each to the next: a new swatch mostly leaves the hand as it was, and with it
# all that was fitted.
HANDS: tuple[float, ...] = tuple(float(np.round(USUAL_HAND * 1.125**i, 4)) for i in range(-14, 12))


@dataclass(frozen=True)
class Slips:
    """What is known of the slips of one pencil's marks: the most likely (S,), and their covariance (S, S), where the
    hand was taken to be `hand`.
    """

    likely: _Array
    covariance: _Array
    hand: float


def learn_hand(slips: Iterable[Slips]) -> float:
    """That of HANDS whose variance comes nearest to what is expected of a next mark, the usual one where nothing is
    known.
    """
    hands = np.array(HANDS)
    # Of hands whose ln is normal the mean variance is exp(2 s²) times that of the middle one.
    middle = USUAL_HAND * np.exp(-(_HANDS_DIFFER**2))
    evidence = -0.5 * (np.log(hands / middle) / _HANDS_DIFFER) ** 2
    by_marks: dict[int, list[Slips]] = {}
    for one in slips:
        by_marks.setdefault(len(one.likely), []).append(one)
    for alike in by_marks.values():
        evidence = evidence + _evidence(alike, hands)
    likely = np.exp(evidence - evidence.max())
    expected = np.sqrt(likely @ hands**2 / likely.sum())
    return HANDS[int(np.argmin(np.abs(np.log(hands / expected))))]


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
