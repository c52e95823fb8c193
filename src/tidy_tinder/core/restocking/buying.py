"""What to buy: the few colours that together bring the most calls closer, proven best.

Facility location: min Σ_c w_c·min(base_c, min_{u∈S} D_cu) + least·|S|, |S| ≤ b and Σ price_u ≤ budget, as a
mixed-integer linear program with one binary y_u for each colour and x_cu ≤ y_u; solved by HiGHS through scipy (Q.
Huangfu, J. A. J. Hall, Math. Prog. Comp. 10 (2018) 119). The greedy answer stands until the proven one is there.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import DeltaE, check_limit

_Array = NDArray[np.float64]

# New colours that are mixed with all that are owned: 20 keep 94.6 to 100 % of the value of mixing all (the design's).
# Where very many are owned, fewer: no more than so many pairs of pencils, so that the answer comes in time.
_MOST_MIXED, _LEAST_MIXED, _PAIRS = 20, 10, 3_600


@dataclass(frozen=True, eq=False)
class Purchase:
    """What may be bought. base (C,): expected ΔE00 of each call's best answer now; offers (C, U): with each of U
    colours; weights (C,); least: what a colour must improve in all to be worth buying; prices (U,): NaN where nobody
    said.
    """

    base: DeltaE
    offers: DeltaE
    weights: _Array
    least: float = 0.0
    prices: _Array | None = None

    def __post_init__(self) -> None:
        calls, colours = self.offers.shape
        if self.base.shape != (calls,) or self.weights.shape != (calls,):
            raise OutOfRangeError("Each call has one answer now and one weight.")
        if self.prices is not None and self.prices.shape != (colours,):
            raise OutOfRangeError("Each colour has one price, or none.")

    def gain(self, chosen: Sequence[int]) -> float:
        """By how much these together bring the calls closer, weighted, in ΔE00."""
        if not len(chosen):
            return 0.0
        after = np.minimum(self.base, self.offers[:, list(chosen)].min(axis=1))
        return float((self.weights * (self.base - after)).sum())

    def worth(self, chosen: Sequence[int]) -> float:
        """The gain less what each must be worth."""
        return self.gain(chosen) - self.least * len(chosen)

    def serves(self, chosen: Sequence[int]) -> NDArray[np.int64]:
        """For each call (C,) the place in `chosen` of the colour that serves it, -1 where none comes closer."""
        if not len(chosen):
            return np.full(len(self.base), -1)
        offers = self.offers[:, list(chosen)]
        best = offers.argmin(axis=1)
        return np.where(offers.min(axis=1) < self.base, best, -1)


@dataclass(frozen=True)
class Bought:
    """The colours, by their places, what they gain together, and whether that is proven to be the most."""

    chosen: tuple[int, ...]
    gain: float
    proven: bool


def buy_greedily(purchase: Purchase, most: int, budget: float | None = None) -> Bought:
    """One after the other the colour that gains most beside those before it: quick, and up to a tenth off."""
    check_limit(most)
    chosen: list[int] = []
    left = np.inf if budget is None else budget
    prices = _prices(purchase, budget)
    now = purchase.base
    while len(chosen) < most:
        gains = (purchase.weights[:, None] * np.maximum(now[:, None] - purchase.offers, 0.0)).sum(axis=0)
        gains[chosen] = 0.0
        gains[prices > left] = 0.0
        best = int(gains.argmax()) if len(gains) else 0
        if not len(gains) or gains[best] <= purchase.least:
            break
        chosen.append(best)
        left -= prices[best]
        now = np.minimum(now, purchase.offers[:, best])
    return Bought(tuple(chosen), purchase.gain(chosen), False)


def buy_best(purchase: Purchase, most: int, budget: float | None = None, seconds: float = 10.0) -> Bought:
    """The best colours of all that can be put together; the greedy ones where the time is up before any are found.

    budget: what they may cost together; colours without a price are left out then.
    """
    check_limit(most)
    greedy = buy_greedily(purchase, most, budget)
    helps = purchase.offers < purchase.base[:, None] - 1e-12
    usable = np.flatnonzero(helps.any(axis=0) & np.isfinite(_prices(purchase, budget)))
    if not len(usable):
        return Bought((), 0.0, True)
    found = _solve(purchase, usable, helps[:, usable], most, budget, seconds)
    if found is None:
        return greedy
    chosen, proven = found
    better = purchase.worth(chosen) >= purchase.worth(greedy.chosen) - 1e-9
    best = chosen if better else greedy.chosen
    return Bought(best, purchase.gain(best), proven and better)


def how_many_to_mix(owned: int) -> int:
    """How many new colours are mixed with all that are owned: as many as the time for an answer allows, 20 at most."""
    return min(_MOST_MIXED, max(_LEAST_MIXED, _PAIRS // max(owned, 1)))


def most_helpful(purchase: Purchase, count: int) -> tuple[int, ...]:
    """Places of the colours that help most by themselves; of what helps nothing, what comes nearest: that may help once
    it is layered.
    """
    base, offers, weights = purchase.base[:, None], purchase.offers, purchase.weights[:, None]
    gains = (weights * np.maximum(base - offers, 0.0)).sum(axis=0)
    near = (weights / (1.0 + np.maximum(offers - base, 0.0))).sum(axis=0)
    return tuple(int(u) for u in np.lexsort((-near, -gains))[:count])


def _prices(purchase: Purchase, budget: float | None) -> _Array:
    """Prices (U,) as they count: nothing without a budget, and beyond any budget where nobody said."""
    if budget is None:
        return np.zeros(purchase.offers.shape[1])
    prices = np.full(purchase.offers.shape[1], np.nan) if purchase.prices is None else purchase.prices
    return np.where(np.isnan(prices), np.inf, prices)


def _solve(
    purchase: Purchase, usable: NDArray[np.int64], helps: NDArray[np.bool_], most: int, budget: float | None,
    seconds: float,
) -> tuple[tuple[int, ...], bool] | None:  # fmt: skip
    """Places of the best, by importance, and whether they are proven; None where none were found in time."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # noqa: PLC0415 -- loaded when something is to be bought
    from scipy.sparse import csr_array  # noqa: PLC0415 -- the same

    calls, colours = np.nonzero(helps)
    count, links = len(usable), len(calls)
    saved = purchase.weights[calls] * (purchase.base[calls] - purchase.offers[calls, usable[colours]])
    rows = np.arange(links)
    # Each call is served once at most, by a colour that is bought; so many colours; so much money.
    at_most_once = csr_array((np.ones(links), (calls, count + rows)), shape=(len(purchase.base), count + links))
    only_bought = csr_array(
        (np.r_[np.ones(links), -np.ones(links)], (np.r_[rows, rows], np.r_[count + rows, colours])),
        shape=(links, count + links),
    )
    so_many = csr_array((np.ones(count), (np.zeros(count, int), np.arange(count))), shape=(1, count + links))
    limits = [
        LinearConstraint(at_most_once, -np.inf, 1.0),
        LinearConstraint(only_bought, -np.inf, 0.0),
        LinearConstraint(so_many, -np.inf, most),
    ]
    if budget is not None:
        costs = _prices(purchase, budget)[usable]
        money = csr_array((costs, (np.zeros(count, int), np.arange(count))), shape=(1, count + links))
        limits.append(LinearConstraint(money, -np.inf, budget))
    found = milp(
        np.r_[np.full(count, purchase.least), -saved],
        constraints=limits, integrality=np.r_[np.ones(count), np.zeros(links)], bounds=Bounds(0.0, 1.0),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )  # fmt: skip
    if found.x is None:
        return None
    chosen = [int(u) for u in usable[np.flatnonzero(found.x[:count] > 0.5)]]
    return _by_importance(purchase, chosen), found.status == 0


def _by_importance(purchase: Purchase, chosen: list[int]) -> tuple[int, ...]:
    """What would be missed most, first; what nothing needs is left out, one after the other: of two that serve the same
    calls alike one is needed.
    """
    needed = list(chosen)
    for u in chosen:
        others = [v for v in needed if v != u]
        if purchase.gain(others) >= purchase.gain(needed) - 1e-9:
            needed = others
    missed = {u: purchase.gain(needed) - purchase.gain([v for v in needed if v != u]) for u in needed}
    return tuple(sorted(needed, key=lambda u: (-missed[u], u)))
