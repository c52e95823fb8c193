"""“What is this?”: which charted colours a measured mark can be, and how sure that is.

Each candidate is weighed by how well the reading fits it, under the spread that two makings of one mark show,
against the possibility that it is none of them. Marks measured at the same paper and pressure are one list;
chart values are another, since a chart tells only roughly what a mark here looks like.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.quantities import Lab, check_finite, check_limit

# Spread in ΔE00 of a making and a reading against another of the same pencil: half of the demo's repeated
# marks lie within .57, which is .67 σ; with the reading's own .16 that makes .9. One's own repeated swatches
# are the better source once there are some.
SPREAD_MEASURED = 0.9
# Spread of a heavy mark against its printed chart: half of the demo's lie within 1.6 on a white paper.
SPREAD_CHART = 2.4
# Nine of ten of a normal cloud in three dimensions lie within 2.5 σ (χ² of three degrees of freedom).
_SIGMAS_IN_A_BAND = 2.5
# “None of these” is believed as much as a candidate this many spreads away.
_NONE_AT = 3.5
# Two candidates whose weights differ by less than this factor cannot be told apart: ours, “substantial”
# evidence begins about there (Jeffreys 1961, from memory).
_TOLD_APART_BY = 3.0


@dataclass(frozen=True)
class Candidate:
    """A colour that the mark may be: key is the caller's, lab (3,) what its mark looks like.

    band: the ΔE00 within which nine of ten lie, where that look is predicted; None where it was measured.
    """

    key: int
    lab: Lab
    owned: bool
    band: float | None = None


@dataclass(frozen=True)
class Likely:
    """One possible answer. share: how much of the belief it takes, 0 to 1; difference: reading minus it."""

    key: int
    owned: bool
    share: float
    difference: Difference


@dataclass(frozen=True)
class Identification:
    """The likely colours, owned first, then by share; none_share: belief that it is none of them.

    alike: keys of the likeliest and of all that the reading cannot tell from it; empty where it stands alone.
    """

    likely: tuple[Likely, ...]
    none_share: float
    alike: tuple[int, ...]

    @property
    def best(self) -> Likely | None:
        """The likeliest, owned or not; None where nothing fits better than “none of these”."""
        top = max(self.likely, key=lambda one: one.share, default=None)
        return top if top is not None and top.share > self.none_share else None


def identify(reading: Lab, candidates: Sequence[Candidate], spread: float, limit: int = 8) -> Identification:
    """What a reading Lab (3,), D65, 2°, can be. spread: ΔE00 in which a repeated mark lies (one σ).

    Raises ShapeError for a reading that is no Lab, OutOfRangeError for one that is no number and a limit below 1.
    """
    check_limit(limit)
    seen = check_finite(reading, "The reading")
    if not candidates:
        return Identification((), 1.0, ())
    labs = np.asarray([c.lab for c in candidates])
    apart = delta_e_2000(labs, seen)
    bands = np.array([c.band or 0.0 for c in candidates])
    spreads = np.hypot(spread, bands / _SIGMAS_IN_A_BAND)
    # The less sure a look is, the thinner its weight is spread over the three dimensions of colour.
    weights = np.exp(-0.5 * (apart / spreads) ** 2) * (spread / spreads) ** 3
    none = float(np.exp(-0.5 * _NONE_AT**2))
    shares = weights / (weights.sum() + none)
    nearest = np.argsort(apart, kind="stable")[:limit]
    likely = [
        Likely(candidates[i].key, candidates[i].owned, float(shares[i]), difference(labs[i], seen))
        for i in nearest.tolist()
    ]
    likely.sort(key=lambda one: (not one.owned, -one.share))
    # Not the nearest: a wide guess that happens to lie near is less likely than a measured mark a little farther off.
    most = float(weights[nearest].max())
    rivals = tuple(
        candidates[i].key for i in nearest.tolist() if weights[i] * _TOLD_APART_BY > most and weights[i] > none
    )
    return Identification(tuple(likely), none / float(weights.sum() + none), rivals if len(rivals) > 1 else ())
