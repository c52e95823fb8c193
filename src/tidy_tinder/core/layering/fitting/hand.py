"""How much a hand varies: the standard deviation of ln load from making to making, learned from the artist's marks.

Every mark's fit has a slip of the hand among its unknowns. What the marks tell of these slips, apart from what was
taken for granted of the hand beforehand, is weighed for every size of hand, and the likeliest is taken (maximum
marginal likelihood, as in MacKay, “Bayesian interpolation”, 1992; from memory). Makings of one mark that were repeated
tell most: no pencil and no paper can be the cause of their difference.
"""

from __future__ import annotations

from collections.abc import Iterable
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
    for one in slips:
        precision = np.linalg.inv(one.covariance)
        told = precision - np.eye(len(one.likely)) / one.hand**2
        for i, hand in enumerate(hands):
            with_hand = told + np.eye(len(one.likely)) / hand**2
            pulled = precision @ one.likely
            evidence[i] -= 0.5 * np.linalg.slogdet(with_hand * hand**2)[1]
            evidence[i] += 0.5 * pulled @ np.linalg.solve(with_hand, pulled)
    return HANDS[int(np.argmax(evidence))]
