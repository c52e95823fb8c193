"""What of hers comes nearest to the picks of a picture on a paper, and first whether the paper reaches them at all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference, value_step
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.adjusting import adjusted_lab
from tidy_tinder.core.reference.mapping import RangeMap, range_map
from tidy_tinder.core.standins.pairs import PairTable, nearest_pairs
from tidy_tinder.core.standins.singles import BELIEVED
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.services.background.pair_tables import MIXING_FAILED
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_work import papers_in_order
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, layers_in_words, owned_layers
from tidy_tinder.services.reference.picks import find_pick
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.services.standins.reach import Beyond, beyond_reach
from tidy_tinder.storage.models import Paper, Pick

_Layers = tuple[Layer[int], ...]

_MOST_LAYERS = 3
# Offered: the nearest single pencils, and the nearest pairs, each two pencils once.
_SINGLES, _LOOKED_AT, _PAIRS = 5, 120, 7
# Nine of ten of a cloud in three dimensions lie within so many of its root mean squares (χ², three degrees: 6.25).
_NINE_OF_TEN = (6.251 / 3.0) ** 0.5
# Up to here an offer is close to the eye (ΔE00, a rule of thumb), and reach is no question.
_CLOSE = 3.5
# The picture goes beyond the paper where its end does by more than the eye forgives, in L*.
_FORGIVEN_L = 2.0
_MOST_PAPERS = 3


@dataclass(frozen=True)
class PickAnswer:
    """One way to lay a pick: the layers, the lower pencil first; how they look, how that differs from what is wanted,
    and how far the difference may be off (ΔE00, nine of ten; the pick's own spread is in it).
    """

    laid: tuple[Laid, ...]
    said: str
    offered: Patch
    difference: Difference
    ranked_by: float
    plus_minus: float
    tie: bool


@dataclass(frozen=True)
class PickAnswers:
    """The answers to one pick on a paper, as far as pairs are mixed (done of total). wanted: what is looked for, laid
    into the paper's range where that is asked; problem: why there is nothing.
    """

    ready: bool
    done: int
    total: int
    problem: str
    wanted: Patch
    mapped: bool
    offers: tuple[PickAnswer, ...] = ()
    beyond: tuple[Beyond, ...] = ()


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


@dataclass(frozen=True)
class PictureReach:
    """How far a paper reaches what was picked; None until pairs are mixed or where nothing is picked."""

    ready: bool
    done: int
    total: int
    darkest: End | None = None
    lightest: End | None = None


def answers_for_pick(
    collection: Collection, pick_id: int, paper_id: int, closest: Closest, mapped: bool, wait: float | None
) -> PickAnswers:
    """The nearest ways to lay a pick on a paper. wait: seconds for pairs to be mixed, None for all it takes.

    Raises NotFoundError.
    """
    with collection() as session:
        pick = find_pick(session, pick_id)
        picks = _shown_labs(session, pick.reference_id)
        scene = Scene.on(session, paper_id)
        wanted = picks[pick.id]
        if scene.known is None:
            return PickAnswers(False, 0, 0, "", patch(wanted), False)
        return _Answering(scene, scene.known, closest).run(pick, wanted, picks, mapped, wait)


def picture_reach(collection: Collection, reference_id: int, paper_id: int, wait: float | None) -> PictureReach:
    """The darkest and the lightest pick beside what the paper reaches with what is owned. Raises NotFoundError."""
    with collection() as session:
        find_reference(session, reference_id)
        picks = _shown_labs(session, reference_id)
        scene = Scene.on(session, paper_id)
        if not picks or scene.known is None:
            return PictureReach(scene.known is not None, 0, 0)
        mixed = mixed_pairs(session, scene.known, scene.fit, scene.paper.id, wait, False)
        if mixed.table is None:
            return PictureReach(mixed.failed, mixed.done, mixed.total)
        L = np.array([lab[0] for lab in picks.values()])
        answering = _Answering(scene, scene.known, Closest.OVERALL)
        return PictureReach(
            True, mixed.done, mixed.total, answering.end(mixed.table, float(L.min()), dark=True),
            answering.end(mixed.table, float(L.max()), dark=False),
        )  # fmt: skip


def _shown_labs(session: Session, reference_id: int) -> dict[int, Lab]:
    """The picks of a picture as they are in it when it is adjusted, by their numbers."""
    steps = steps_of(find_reference(session, reference_id))
    rows = session.scalars(select(Pick).where(Pick.reference_id == reference_id).order_by(Pick.number)).all()
    return {row.id: adjusted_lab(np.array([row.lab_L, row.lab_a, row.lab_b]), steps) for row in rows}


class _Answering:
    """What can be laid on one paper with what is at hand."""

    def __init__(self, scene: Scene, known: Fitted, closest: Closest) -> None:
        self._scene, self._known, self._closest = scene, known, closest
        self._pencils = known.survey.pencils
        self._may = {i for i in self._pencils if i in scene.at_hand}

    def run(self, pick: Pick, wanted: Lab, picks: dict[int, Lab], mapped: bool, wait: float | None) -> PickAnswers:
        """The whole answer, as far as pairs are mixed."""
        scene = self._scene
        mixed = mixed_pairs(scene.session, self._known, scene.fit, scene.paper.id, wait, False)
        ready, problem = mixed.table is not None or mixed.failed, MIXING_FAILED if mixed.failed else ""
        if not self._may:
            problem = "None of the pencils at hand is swatched or modelled yet. Swatch some, and ask again."
            return PickAnswers(True, mixed.done, mixed.total, problem, patch(wanted), False)
        aim, bent = wanted, False
        if mapped and mixed.table is not None:
            curve = self._curve(mixed.table, np.array(list(picks.values())))
            aim, bent = curve.lab(wanted), curve.bends
        layers = [*self._singles(aim), *(self._pairs(mixed.table, aim) if mixed.table is not None else ())]
        offers = self._offers(layers, aim, pick.spread)
        near = bool(offers) and min(o.difference.delta_e for o in offers) < _CLOSE
        beyond = () if mixed.table is None or near else beyond_reach(scene, mixed.table, self._may, aim)
        return PickAnswers(ready, mixed.done, mixed.total, problem, patch(aim), bent, offers, beyond)

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

    def _singles(self, wanted: Lab) -> list[_Layers]:
        """The nearest single pencils, each at the pressure and layers in which it comes nearest."""
        predicted = [self._scene.predicted(layers) for layers in range(1, _MOST_LAYERS + 1)]
        keys = sorted(i for i in self._may if i in predicted[0].places)
        labs = np.stack([by.lab[[by.places[i] for i in keys]] for by in predicted], axis=2)
        apart = np.asarray(weighted_difference(wanted, labs, self._closest)).reshape(len(keys), -1)
        best = np.argsort(apart.min(axis=1), kind="stable")[:_SINGLES]
        found: list[_Layers] = []
        for i in best.tolist():
            place, layers = divmod(int(apart[i].argmin()), _MOST_LAYERS)
            found.append((Layer(keys[i], MARK_PRESSURES[place], layers + 1),))
        return found

    def _pairs(self, table: PairTable, wanted: Lab) -> Iterator[_Layers]:
        """The nearest pairs, each two pencils in one order once."""
        mask = self._mask(table)
        seen: set[tuple[int, int]] = set()
        for near in nearest_pairs(table, wanted, self._closest, _LOOKED_AT, mask, mask):
            both = (near.pair.below.pencil, near.pair.above.pencil)
            if both not in seen and len(seen) < _PAIRS:
                seen.add(both)
                yield near.pair.below, near.pair.above

    def _offers(self, candidates: list[_Layers], wanted: Lab, spread: float) -> tuple[PickAnswer, ...]:
        """Nearest first. A single pencil comes with what was measured of it, where that is known."""
        if not candidates:
            return ()
        predicted = predict_stacks(
            [[one.of(self._pencils[one.pencil]) for one in layers] for layers in candidates], self._scene.fit
        )
        labs, radii = predicted.lab.copy(), np.array(predicted.radius, dtype=np.float64)
        for i, layers in enumerate(candidates):
            seen = self._scene.look(layers[0]) if len(layers) == 1 else None
            if seen is not None:
                labs[i], radii[i] = seen.patch.lab, seen.band if seen.band is not None else 0.0
        figures = np.atleast_1d(weighted_difference(wanted, labs, self._closest))
        doubts = np.hypot(radii, _NINE_OF_TEN * spread)
        order = np.argsort(figures, kind="stable").tolist()
        tied = [figures[i] - figures[order[0]] < BELIEVED * np.hypot(radii[i], radii[order[0]]) for i in order]
        made = []
        for place, i in enumerate(order):
            laid = owned_layers(self._scene, candidates[i])
            tie = bool(tied[place]) if place else any(tied[1:])
            made.append(
                PickAnswer(
                    laid, layers_in_words(laid), patch(labs[i]), difference(wanted, labs[i]), float(figures[i]),
                    float(doubts[i]), tie,
                )
            )  # fmt: skip
        return tuple(made)


def _value(L: float) -> float:
    return float(value_step(np.array([L, 0.0, 0.0])))
