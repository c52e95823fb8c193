"""Stand-ins for a call in its passage, or for any colour by itself: single pencils at any pressure, and two layered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.prediction.covering import opacity_of_stacks
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import Coat, PairTable, nearest_pairs
from tidy_tinder.core.standins.passage import InPassage, PassageRanking, rank_in_passage
from tidy_tinder.core.standins.roles import Ability, Unfit, is_black, unfit_for
from tidy_tinder.core.swatching.opacity import OpacityTest
from tidy_tinder.services.background.runtime import Collection, fitted, mixed_pairs
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.marks import Patch, Trust, charted_colours, find_paper, patch
from tidy_tinder.services.collection.passage import ALONE, CalledPassage, CallLayer, layer_of, passage_of
from tidy_tinder.services.collection.predictions import paper_fit, predictions_on
from tidy_tinder.services.collection.stacks import Laid, Strips, layers_in_words, mark_of
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.scraps.strips import Tried, tried_for
from tidy_tinder.services.standins.reach import Beyond, beyond_reach
from tidy_tinder.services.tidy.shelves import existing
from tidy_tinder.storage.models import PRESSURES, Paper, RecipeCall
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour

# Pairs looked at before each two pencils are taken once, and how many of pairs and of single pencils go into the
# passage; the nearest alone are nearly always among the nearest there.
_LOOKED_AT, _PAIRS, _SINGLES = 240, 10, 5
_MOST_LAYERS = 3
# Classes of lightfastness that a chart prints for what lasts.
_LASTING = frozenset({"I", "II"})
# A component is said to be better or worse from this step on; each is about what can just be seen.
_STEP = 0.7


@dataclass(frozen=True)
class Wish:
    """What the artist wants left out: blacks, what fades or is unrated, pencils of other ranges (empty: none)."""

    no_black: bool = False
    lasting: bool = False
    ranges: tuple[int, ...] = ()


@dataclass(frozen=True)
class StripSeen:
    """The layers by themselves as their strip was measured, and how that differs from the mark that is asked for, which
    is measured or predicted (trust).
    """

    strip: Patch
    difference: Difference
    asked_trust: Trust


@dataclass(frozen=True)
class LayeredOffer:
    """One stand-in in the passage. laid: the lower pencil first. alone: the layers by themselves, and how they differ
    from the mark that is asked for; finished: the passage with them; after: the passage after each layer.

    passes_left: how many more layers the paper takes; better, worse: than the best single pencil, in words; measured:
    what a strip of the layers by themselves showed; tried: what was said of them when they were tried for this colour;
    covers: how much the layers by themselves hide of what lies below them, as predicted.
    """

    laid: tuple[Laid, ...]
    said: str
    alone: Patch
    alone_difference: Difference
    finished: Patch
    difference: Difference
    ranked_by: float
    plus_minus: float
    tie: bool
    after: tuple[Patch, ...]
    passes_left: int
    better: tuple[str, ...]
    worse: tuple[str, ...]
    covers: OpacityTest
    measured: StripSeen | None = None
    tried: Tried | None = None


@dataclass(frozen=True)
class PassageLayer:
    """A layer below or above the call, as the recipe asks for it."""

    colour: ColourRow
    pressure: str
    layers: int


@dataclass(frozen=True)
class Without:
    """The finished passage with the call left out, and how that differs from the passage as asked for."""

    finished: Patch
    difference: Difference


@dataclass(frozen=True)
class Layered:
    """What there is so far. done of total coats are mixed; until all are (ready) only single pencils are offered.

    problem: why there is nothing to offer. asked: the passage as asked for, finished and after each layer; below,
    above: what lies round the call; left_out: calls of the area that are not modelled; unfit: how many pencils at hand
    cannot do what is asked, by the reason; without: the finished passage with the call left out, where it has other
    layers.
    """

    ready: bool
    done: int
    total: int
    problem: str = ""
    asked: Patch | None = None
    asked_covers: OpacityTest | None = None
    asked_after: tuple[Patch, ...] = ()
    below: tuple[PassageLayer, ...] = ()
    above: tuple[PassageLayer, ...] = ()
    left_out: int = 0
    unfit: Mapping[Unfit, int] = field(default_factory=dict)
    offers: tuple[LayeredOffer, ...] = ()
    beyond: tuple[Beyond, ...] = ()
    without: Without | None = None


def layered_for_call(
    collection: Collection,
    call_id: int,
    paper_id: int,
    closest: Closest,
    wish: Wish = Wish(),
    wait: float | None = None,
) -> Layered:
    """Stand-ins for a call in its passage on a paper, nearest first. wait: seconds for pairs, None for all it takes.

    Raises NotFoundError for an unknown call or paper, RefusedError for a call that is not settled yet.
    """
    with collection() as session:
        call, paper = session.get(RecipeCall, call_id), find_paper(session, paper_id)
        if call is None:
            raise NotFoundError(f"There is no call number {call_id}. It may have been removed in another window.")
        if call.colour_id is None:
            raise RefusedError(f"“{call.as_written}” is not settled yet: say first which colour is meant.")
        known = fitted(session)
        if known is None:
            return Layered(False, 0, 0)
        return _Search(session, known, paper, _called(session, call, known), closest, wish).run(wait)


def layered_for_colour(
    collection: Collection,
    asked: LaidLayer,
    paper_id: int,
    closest: Closest,
    wish: Wish = Wish(),
    wait: float | None = None,
) -> Layered:
    """Stand-ins for any colour as it would be laid on a paper by itself. wait: as above.

    Raises NotFoundError for an unknown colour or paper.
    """
    with collection() as session:
        paper = find_paper(session, paper_id)
        existing(session, [asked.pencil])
        known = fitted(session)
        if known is None:
            return Layered(False, 0, 0)
        sought = Sought(CallLayer(0, asked.pencil, asked.pressure, asked.layers), "", ALONE)
        return _Search(session, known, paper, sought, closest, wish).run(wait)


def chosen_layers(
    session: Session,
    known: Fitted,
    paper: Paper,
    call: RecipeCall,
    closest: Closest,
    layers: Sequence[tuple[int, Coat]],
) -> LayeredOffer | None:
    """Layers that were chosen for a call, in its passage; None where a pencil is not at hand or not modelled."""
    search = _Search(session, known, paper, _called(session, call, known), closest, Wish())
    return search.of(tuple(layers))


@dataclass(frozen=True)
class Sought:
    """What is to be stood in for: a colour as it is laid, what it must do, and the passage round it."""

    layer: CallLayer
    role: str
    passage: CalledPassage


def _called(session: Session, call: RecipeCall, known: Fitted) -> Sought:
    return Sought(layer_of(call), call.role, passage_of(session, call, known.survey.pencils))


_Layers = tuple[tuple[int, Coat], ...]


class _Search:
    """One question: who may stand in, what comes near alone, and how that is in the passage."""

    def __init__(
        self, session: Session, known: Fitted, paper: Paper, sought: Sought, closest: Closest, wish: Wish
    ) -> None:
        self._session, self._known, self._paper, self._sought = session, known, paper, sought
        self._closest, self._wish = closest, wish
        self._colours: Mapping[int, ColourRow] = {row.id: row for row in charted_colours(session)}
        self._pencils = pencils_by_colour(session)
        self._hand = at_hand_now(session)
        self._fit: PaperFit = paper_fit(known, paper)
        self._predicted = [predictions_on(session, paper, layers) for layers in range(1, _MOST_LAYERS + 1)]
        self._asked, self._passage = sought.layer, sought.passage
        self._tried = tried_for(session, paper.id, sought.layer.colour_id)
        self._strips = Strips(session, paper.id)

    @property
    def _burnishes(self) -> bool:
        """Whether the call rubs smooth what lies below: one pencil does that, and no layers of two."""
        return self._asked.pressure == "burnish"

    def run(self, wait: float | None) -> Layered:
        if self._asked.colour_id not in self._known.survey.pencils:
            return Layered(True, 0, 0, "This colour is not modelled, so layers cannot be compared with it.")
        mixed = mixed_pairs(self._session, self._known, self._fit, self._paper.id, wait)
        at_hand = [i for i in self._known.survey.pencils if i != self._asked.colour_id and self._has(i)]
        unfit = {i: why for i in at_hand if (why := self._unfit(i)) is not None}
        may = {i for i in at_hand if i not in unfit and not self._unwished(i)}
        so_far = replace(
            self._around(), ready=mixed.table is not None, done=mixed.done, total=mixed.total,
            unfit=dict(Counter(unfit.values())),
        )  # fmt: skip
        if not may:
            return replace(so_far, ready=True, problem="No pencil at hand fits what is asked for and what is left out.")
        return self._ranked(so_far, mixed.table, may)

    def of(self, layers: _Layers) -> LayeredOffer | None:
        """These layers in the passage, beside no others."""
        pencils = self._known.survey.pencils
        gone = any(i not in pencils or not self._has(i) for i, _ in layers)
        if gone or self._asked.colour_id not in pencils:
            return None
        asked, passage = [self._fitted_call(self._asked)], self._passage.fitted(pencils)
        ranking = rank_in_passage(passage, asked, {0: self._fitted(layers)}, self._fit, self._closest)
        alone = predict_stacks([self._fitted(layers)], self._fit).lab[0]
        covers = opacity_of_stacks([self._fitted(layers)], self._fit)[0]
        return self._offer(ranking.offers[0], layers, alone, self._wanted(), covers, None)

    def _around(self) -> Layered:
        below, above = (
            tuple(PassageLayer(self._colours[one.colour_id], one.pressure, one.layers) for one in side)
            for side in (self._passage.below, self._passage.above)
        )
        return Layered(True, 0, 0, below=below, above=above, left_out=self._passage.left_out)

    def _has(self, colour_id: int) -> bool:
        return self._hand.has(self._pencils.get(colour_id, ()))

    def _ability(self, colour_id: int) -> Ability:
        row, masstone = self._colours[colour_id], self._predicted[0].of(colour_id, "heavy")
        return Ability(row.opacity, np.array(masstone.lab) if masstone else None, row.holds_point, row.water_soluble)

    def _unfit(self, colour_id: int) -> Unfit | None:
        """Why a pencil cannot do what is asked of it here."""
        return unfit_for(self._sought.role, self._ability(colour_id), self._passage.water)

    def _unwished(self, colour_id: int) -> bool:
        """Whether the artist wants it left out."""
        row, wish = self._colours[colour_id], self._wish
        return (
            (wish.no_black and is_black(self._ability(colour_id)))
            or (wish.lasting and row.lightfastness not in _LASTING)
            or (bool(wish.ranges) and row.range_id not in wish.ranges)
        )

    def _wanted(self) -> Lab:
        """The mark that is asked for, as predicted: marks and layers are compared like with like."""
        pressure = "heavy" if self._burnishes else self._asked.pressure
        told = predictions_on(self._session, self._paper, self._asked.layers).of(self._asked.colour_id, pressure)
        assert told is not None, "a fitted pencil has a prediction"
        return np.array(told.lab)

    def _ranked(self, so_far: Layered, table: PairTable | None, may: set[int]) -> Layered:
        """Single pencils at once, pairs as soon as they are mixed."""
        wanted = self._wanted()
        found = self._singles(wanted, may)
        mask = np.array([key in may for key in table.keys]) if table is not None else np.zeros(0, dtype=bool)
        if table is not None and not self._burnishes:
            found += self._pairs(table, wanted, mask)
        found += self._tried_before(may, {layers for layers, _ in found})
        candidates = {i: self._fitted(layers) for i, (layers, _) in enumerate(found)}
        asked = [self._fitted_call(self._asked)]
        passage = self._passage.fitted(self._known.survey.pencils)
        ranking = rank_in_passage(passage, asked, candidates, self._fit, self._closest)
        single = next((o for o in ranking.offers if len(found[o.key][0]) == 1), None)
        asked_covers, *covers = opacity_of_stacks([asked, *candidates.values()], self._fit)
        offers = tuple(self._offer(o, *found[o.key], wanted, covers[o.key], single) for o in ranking.offers)
        return replace(
            so_far, asked=patch(ranking.asked), asked_covers=asked_covers,
            asked_after=tuple(patch(lab) for lab in ranking.asked_after),
            offers=offers, beyond=self._beyond(table, may, wanted, offers) if table is not None else (),
            without=_left_out(ranking),
        )  # fmt: skip

    def _fitted(self, layers: _Layers) -> list[FittedLayer]:
        return [FittedLayer(self._known.survey.pencils[i], coat.pressure, coat.layers) for i, coat in layers]

    def _fitted_call(self, call: CallLayer) -> FittedLayer:
        return FittedLayer(self._known.survey.pencils[call.colour_id], call.pressure, call.layers)

    def _singles(self, wanted: Lab, may: set[int]) -> list[tuple[_Layers, Lab]]:
        """The nearest single pencils, each at the pressure and layers in which it comes nearest."""
        keys = sorted(i for i in may if i in self._predicted[0].places)
        if not keys:
            return []
        labs = np.stack([told.lab[[told.places[i] for i in keys]] for told in self._predicted], axis=2)
        if self._burnishes:
            # Rubbed in as hard as a heavy mark, once.
            labs = labs[:, -1:, :1]
        apart = np.asarray(weighted_difference(wanted, labs, self._closest)).reshape(len(keys), -1)
        at = apart.argmin(axis=1)
        found: list[tuple[_Layers, Lab]] = []
        for i in np.argsort(apart.min(axis=1), kind="stable")[:_SINGLES]:
            pressure, layers = divmod(int(at[i]), _MOST_LAYERS)
            coat = Coat("burnish") if self._burnishes else Coat(PRESSURES[pressure], layers + 1)
            found.append((((keys[i], coat),), labs[i, pressure, layers]))
        return found

    def _pairs(self, table: PairTable, wanted: Lab, mask: NDArray[np.bool_]) -> Iterator[tuple[_Layers, Lab]]:
        """The nearest pairs, each two pencils in one order once."""
        seen: set[tuple[int, int]] = set()
        for near in nearest_pairs(table, wanted, self._closest, _LOOKED_AT, mask, mask):
            pair = near.pair
            if (pair.lower, pair.upper) in seen:
                continue
            seen.add((pair.lower, pair.upper))
            yield ((pair.lower, pair.below), (pair.upper, pair.above)), pair.lab
            if len(seen) == _PAIRS:
                return

    def _tried_before(self, may: set[int], offered: set[_Layers]) -> list[tuple[_Layers, Lab]]:
        """What was tried for this colour on this paper stays in sight, wherever it ranks."""
        found: list[_Layers] = []
        for layers in self._tried:
            coats = tuple((one.pencil, Coat(one.pressure, one.layers)) for one in layers)
            if len(coats) <= 2 and coats not in offered and all(one.pencil in may for one in layers):
                found.append(coats)
        told = predict_stacks([self._fitted(layers) for layers in found], self._fit)
        return list(zip(found, told.lab, strict=True))

    def _laid(self, layers: _Layers) -> tuple[Laid, ...]:
        return tuple(
            Laid(self._colours[i], self._hand.owning(self._pencils[i]), coat.pressure, coat.layers)
            for i, coat in layers
        )

    def _offer(
        self, ranked: InPassage, layers: _Layers, alone: Lab, wanted: Lab, covers: OpacityTest, single: InPassage | None
    ) -> LayeredOffer:  # fmt: skip
        laid = self._laid(layers)
        better, worse = ((), ()) if single is None or single.key == ranked.key else _beside(ranked, single)
        used = self._passage.passes + sum(one.layers for one in laid)
        key = tuple(LaidLayer(i, coat.pressure, coat.layers) for i, coat in layers)
        return LayeredOffer(
            laid, layers_in_words(laid), patch(alone), difference(wanted, alone), patch(ranked.finished),
            ranked.difference, ranked.ranked_by, ranked.plus_minus, ranked.tie,
            tuple(patch(lab) for lab in ranked.after), self._paper.most_layers - used, better, worse,
            covers, self._measured(key), self._tried.get(key),
        )  # fmt: skip

    def _measured(self, layers: tuple[LaidLayer, ...]) -> StripSeen | None:
        """What a strip of these layers showed, beside the mark that is asked for."""
        strip = self._strips.of(layers)
        if strip is None:
            return None
        pressure = "heavy" if self._burnishes else self._asked.pressure
        asked = mark_of(self._session, self._paper, LaidLayer(self._asked.colour_id, pressure, self._asked.layers))
        assert asked is not None, "a fitted pencil has a prediction"
        return StripSeen(strip, difference(np.array(asked.patch.lab), np.array(strip.lab)), asked.trust)

    def _beyond(
        self, table: PairTable, may: set[int], wanted: Lab, offers: Sequence[LayeredOffer]
    ) -> tuple[Beyond, ...]:
        """Where the call lies beyond all that can be laid here; nowhere where an offer is close to it."""
        if offers and min(o.alone_difference.delta_e for o in offers) < _CLOSE:
            return ()
        return beyond_reach(self._session, self._paper, table, may, wanted)


# Up to here an offer is close to the eye (5-optics section 1), and reach is no question.
_CLOSE = 3.5


_COMPARED: tuple[tuple[str, Callable[[Difference], float]], ...] = (
    ("value", lambda d: d.delta_L),
    ("vividness", lambda d: d.delta_C),
    ("hue", lambda d: d.delta_H),
    ("temperature", lambda d: d.delta_temperature),
)


def _left_out(ranking: PassageRanking) -> Without | None:
    if ranking.without is None:
        return None
    return Without(patch(ranking.without), difference(ranking.asked, ranking.without))


def _beside(offer: InPassage, single: InPassage) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What an offer does better and worse in the passage than the best single pencil, in words."""
    gains = [(name, abs(of(single.difference)) - abs(of(offer.difference)), "") for name, of in _COMPARED]
    gains.append(("how sure", single.plus_minus - offer.plus_minus, " ΔE"))
    better = tuple(f"{name} by {gain:.1f}{unit}" for name, gain, unit in gains if gain >= _STEP)
    worse = tuple(f"{name} by {-gain:.1f}{unit}" for name, gain, unit in gains if gain <= -_STEP)
    return better, worse
