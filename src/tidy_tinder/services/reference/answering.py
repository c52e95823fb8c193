"""How colours of a picture can be laid on one paper with what is at hand."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.components import Band, Difference, difference, value_step
from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.mapping import RangeMap, range_map
from tidy_tinder.core.reference.picking import band_of_spread
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.roles import is_black, unfit_for
from tidy_tinder.core.standins.singles import BELIEVED
from tidy_tinder.core.vocabulary import Pressure, SaidRole
from tidy_tinder.services.background.pair_tables import MIXING_FAILED
from tidy_tinder.services.background.runtime import mixed_pairs
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_work import papers_in_order
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, layers_in_words, owned_layers
from tidy_tinder.services.standins.nearest import Layers, ability_of, nearest_layered, nearest_singles
from tidy_tinder.services.standins.reach import Beyond, beyond_reach
from tidy_tinder.storage.models import Paper, Pick

_MOST_LAYERS = 3
# Looked at: the nearest single pencils, and the nearest pairs, each two pencils once; shown of them.
_SINGLES, _LOOKED_AT, _PAIRS, _SHOWN = 8, 240, 30, 12
# Up to here an offer is close to the eye (ΔE00, a rule of thumb), and reach is no question.
_CLOSE = 3.5
# The picture goes beyond the paper where its end does by more than the eye forgives, in L*.
_FORGIVEN_L = 2.0
_MOST_PAPERS = 3


@dataclass(frozen=True)
class PickAnswer:
    """One way to lay a pick: the layers, the lower pencil first; how they look, how that differs from what is wanted,
    how much it is expected to, doubts counted, and how far the difference may be off (ΔE00, nine of ten; the pick's own
    spread is in both).
    """

    laid: tuple[Laid, ...]
    said: str
    offered: Patch
    difference: Difference
    ranked_by: float
    expected: float
    plus_minus: float
    tie: bool


@dataclass(frozen=True)
class PickAnswers:
    """The answers to one pick on a paper, as far as pairs are mixed (done of total). wanted: what is looked for, laid
    into the paper's range where that is asked; problem: why there is nothing; chosen: the place in the offers of the
    way that was chosen for the pick.
    """

    ready: bool
    done: int
    total: int
    problem: str
    wanted: Patch
    mapped: bool
    offers: tuple[PickAnswer, ...] = ()
    beyond: tuple[Beyond, ...] = ()
    chosen: int | None = None

    @property
    def used(self) -> PickAnswer | None:
        """The way that is used: the chosen one, else the nearest, unless it is another colour to the eye."""
        if self.chosen is not None:
            return self.offers[self.chosen]
        nearest = self.offers[0] if self.offers else None
        return None if nearest is None or nearest.difference.band is Band.ANOTHER else nearest


@dataclass(frozen=True)
class PickWish:
    """What is asked of the answers: what closest means, what the pencil must do, whether black pencils are left out,
    and whether the picture's range is laid into what the paper reaches.
    """

    closest: Closest = Closest.OVERALL
    role: SaidRole = ""
    no_black: bool = False
    mapped: bool = False


@dataclass(frozen=True)
class End:
    """One end of a picture's range beside that of a paper, as Munsell values; said: the layers that come nearest to it;
    ways: other ways to reach it, in words; reached: whether it is.
    """

    picture: float
    paper: float
    said: str
    reached: bool
    ways: tuple[str, ...]


class Answering:
    """What can be laid on one paper with what is at hand."""

    def __init__(self, scene: Scene, known: Fitted, wish: PickWish) -> None:
        self._scene, self._known, self._wish = scene, known, wish
        self._pencils = known.survey.pencils
        self._may = {i for i in self._pencils if i in scene.at_hand and self._suits(i)}

    def run(self, pick: Pick, wanted: Lab, picks: Mapping[int, Lab], wait: float | None) -> PickAnswers:
        """The whole answer, as far as pairs are mixed. picks: all of the picture, whose range is laid into the paper's.

        wait: seconds for pairs to be mixed, None for all it takes.
        """
        scene = self._scene
        mixed = mixed_pairs(scene.session, self._known, scene.fit, scene.paper.id, wait, False)
        ready, problem = mixed.table is not None or mixed.failed, MIXING_FAILED if mixed.failed else ""
        if not self._may:
            return PickAnswers(True, mixed.done, mixed.total, self._why_none(), patch(wanted), False)
        aim, bent = wanted, False
        if self._wish.mapped and mixed.table is not None:
            curve = self._curve(mixed.table, np.array(list(picks.values())))
            aim, bent = curve.lab(wanted), curve.bends
        chosen = self._still_laid(pick)
        candidates = list(dict.fromkeys([*([chosen] if chosen else []), *self._near(mixed.table, aim)]))
        offers = self._offers(candidates, aim, pick.spread, chosen)
        near = bool(offers) and min(o.difference.delta_e for o in offers) < _CLOSE
        beyond = () if mixed.table is None or near else beyond_reach(scene, mixed.table, self._may, aim)
        at = next((i for i, o in enumerate(offers) if chosen and _layers_of(o) == chosen), None)
        return PickAnswers(ready, mixed.done, mixed.total, problem, patch(aim), bent, offers, beyond, at)

    def _suits(self, colour_id: int) -> bool:
        """Whether a pencil can do what is asked, and is wished for."""
        ability = ability_of(self._scene, colour_id)
        return unfit_for(self._wish.role, ability) is None and not (self._wish.no_black and is_black(ability))

    def _why_none(self) -> str:
        if any(i in self._scene.at_hand for i in self._pencils):
            return "No pencil at hand does what is asked of it here. Ask for less, or see what a chart offers."
        return "None of the pencils at hand is swatched or modelled yet. Swatch some, and ask again."

    def _still_laid(self, pick: Pick) -> Layers | None:
        """The way that was chosen for a pick, as long as its pencils are at hand and modelled."""
        layers = chosen_layers_of(pick)
        usable = all(one.pencil in self._pencils and one.pencil in self._scene.at_hand for one in layers)
        return layers if layers and usable else None

    def end(self, table: PairTable, picture: float, dark: bool) -> End | None:
        """One end of the paper's range beside the picture's (L*)."""
        rows = self._rows(table)
        if not len(rows):
            return None
        row = int(rows[0] if dark else rows[-1])
        paper = self._scene.paper.lab_L
        pair = table.pair(row)
        said = layers_in_words(owned_layers(self._scene, [pair.below, pair.above]))
        reached = float(pair.lab[0])
        # Nothing that is laid is as pale as the bare paper may be.
        if not dark and paper >= reached:
            reached, said = paper, "the bare paper"
        short = reached - picture if dark else picture - reached
        ways = tuple(self._other_papers(reached, dark)) if short > _FORGIVEN_L else ()
        return End(_value(picture), _value(reached), said, short <= _FORGIVEN_L, ways)

    def _other_papers(self, reached: float, dark: bool) -> Iterator[str]:
        """Papers on which one pencil, or the bare paper, comes further than all that can be laid here; the one that
        comes furthest first.
        """
        sign = 1.0 if dark else -1.0
        further = []
        for paper in papers_in_order(self._scene.session):
            L, said = self._furthest_on(paper, sign)
            if paper.id != self._scene.paper.id and sign * L < sign * reached - _FORGIVEN_L:
                further.append((sign * L, f"{paper.name}, where {said} comes to value {_value(L):.1f}"))
        for _, words in sorted(further)[:_MOST_PAPERS]:
            yield words

    def _furthest_on(self, paper: Paper, sign: float) -> tuple[float, str]:
        """The darkest (sign 1) or lightest of the bare paper and of single pencils in heavy layers, as predicted."""
        predicted = predictions_on(self._scene.session, paper, _MOST_LAYERS)
        keys = [i for i in sorted(self._may) if i in predicted.places]
        found = [(sign * paper.lab_L, paper.lab_L, "the bare paper")]
        if keys:
            heavy = predicted.lab[[predicted.places[i] for i in keys], -1, 0]
            at = int(np.argmin(sign * heavy))
            colour = self._scene.colours[keys[at]]
            found.append((float(sign * heavy[at]), float(heavy[at]), f"{colour.range_name} {colour.code}"))
        _, L, said = min(found)
        return L, said

    def _curve(self, table: PairTable, picks: Lab) -> RangeMap:
        rows = self._rows(table)
        light = max(float(table.L[rows[-1]]), self._scene.paper.lab_L)
        return range_map(picks, float(table.L[rows[0]]), light)

    def _rows(self, table: PairTable) -> NDArray[np.int64]:
        """The rows of pencils at hand, in order of L*."""
        allowed = self._mask(table)
        return np.flatnonzero(allowed[table.lower] & allowed[table.upper])

    def _mask(self, table: PairTable) -> NDArray[np.bool_]:
        return np.array([key in self._may for key in table.keys], dtype=bool)

    def _near(self, table: PairTable | None, aim: Lab) -> list[Layers]:
        """Single pencils and pairs that come near, in no order."""
        found = nearest_singles(self._scene, self._may, aim, self._wish.closest, _SINGLES)
        if table is not None:
            found.extend(nearest_layered(table, self._mask(table), aim, self._wish.closest, _PAIRS, _LOOKED_AT))
        return [layers for layers, _ in found]

    def _offers(
        self, candidates: list[Layers], wanted: Lab, spread: float, chosen: Layers | None
    ) -> tuple[PickAnswer, ...]:
        """The least expected difference first; what was chosen and the best single pencil are among them. A single
        pencil comes with what was measured of it, where that is known.
        """
        if not candidates:
            return ()
        predicted = predict_stacks(
            [[one.of(self._pencils[one.pencil]) for one in layers] for layers in candidates], self._scene.fit
        )
        labs, radii = predicted.lab.copy(), np.array(predicted.radius, dtype=np.float64)
        steady = np.array(radius(predicted.of_a_steady_hand, predicted.lab), dtype=np.float64)
        for i, layers in enumerate(candidates):
            seen = self._scene.look(layers[0]) if len(layers) == 1 else None
            if seen is not None:
                labs[i], radii[i] = seen.patch.lab, seen.band if seen.band is not None else 0.0
                steady[i] = radii[i]
        figures = np.atleast_1d(weighted_difference(wanted, labs, self._wish.closest))
        doubts = np.hypot(radii, band_of_spread(spread))
        expected = np.asarray(expected_difference(figures, np.hypot(steady, band_of_spread(spread))))
        ranked = np.argsort(expected, kind="stable").tolist()
        single = next((i for i in ranked if len(candidates[i]) == 1), None)
        order = [i for place, i in enumerate(ranked) if place < _SHOWN or i == single or candidates[i] == chosen]
        tied = [figures[i] - figures[order[0]] < BELIEVED * np.hypot(radii[i], radii[order[0]]) for i in order]
        made = []
        for place, i in enumerate(order):
            laid = owned_layers(self._scene, candidates[i])
            tie = bool(tied[place]) if place else any(tied[1:])
            made.append(
                PickAnswer(
                    laid, layers_in_words(laid), patch(labs[i]), difference(wanted, labs[i]), float(figures[i]),
                    float(expected[i]), float(doubts[i]), tie,
                )
            )  # fmt: skip
        return tuple(made)


def chosen_layers_of(pick: Pick) -> Layers:
    """The layers that were chosen for a pick, the lowest first; none while none are."""
    return tuple(Layer(int(one["colour"]), Pressure(one["pressure"]), int(one["layers"])) for one in pick.laid or [])


def _layers_of(offer: PickAnswer) -> Layers:
    return tuple(one.of(one.pencil.colour.id) for one in offer.laid)


def _value(L: float) -> float:
    return float(value_step(np.array([L, 0.0, 0.0])))
