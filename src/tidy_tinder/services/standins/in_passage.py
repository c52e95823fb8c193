"""Stand-ins for a call in its passage, or for any colour by itself: single pencils at any pressure, and two layered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from tidy_tinder.core.difference.components import difference
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layering.prediction.covering import opacity_of_stacks
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.passage import InPassage, rank_in_passage
from tidy_tinder.core.standins.roles import Unfit, unfit_for
from tidy_tinder.core.swatching.opacity import OpacityTest
from tidy_tinder.core.vocabulary import Effect, Pressure, SaidRole
from tidy_tinder.services.background.pair_tables import MIXING_FAILED, Mixed
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.passage import ALONE, CalledPassage, layer_of, meant, passage_of, settled_call
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Strips, layers_in_words, owned_layers
from tidy_tinder.services.scraps.view import tried_for
from tidy_tinder.services.standins.layered import (
    NO_WISH,
    Layered,
    LayeredOffer,
    StripSeen,
    Wish,
    beside_single,
    unwished,
    without_call,
)
from tidy_tinder.services.standins.nearest import ability_of, look_at_singles, nearest_layered, nearest_singles
from tidy_tinder.services.standins.reach import Beyond, beyond_reach
from tidy_tinder.storage.models import RecipeCall

# Pairs looked at before each two pencils are taken once, and how many of pairs and of single pencils go into the
# passage, where what is expected of each is worked out with its doubts; and how many are shown of them.
_LOOKED_AT, _PAIRS, _SINGLES, _SHOWN = 300, 40, 8, 15
# Up to here an offer is close to the eye (ΔE00, a rule of thumb), and reach is no question.
_CLOSE = 3.5


@dataclass(frozen=True)
class Waiting:
    """How long a question waits for pairs (seconds, None for all it takes), and whether it tries again what failed."""

    seconds: float | None = None
    again: bool = False


# Wait until the pairs are mixed.
UNTIL_MIXED = Waiting()


def layered_for_call(
    collection: Collection,
    call_id: int,
    paper_id: int,
    closest: Closest,
    wish: Wish = NO_WISH,
    waiting: Waiting = UNTIL_MIXED,
) -> Layered:
    """Stand-ins for a call in its passage on a paper, nearest first.

    Raises NotFoundError for an unknown call or paper, RefusedError for a call that is not settled yet.
    """
    with collection() as session:
        call, _ = settled_call(session, call_id)
        scene = Scene.on(session, paper_id)
        if scene.known is None:
            return Layered(False, 0, 0)
        return _Search(scene, scene.known, _sought(scene, call, scene.known), closest, wish).run(waiting)


def layered_for_colour(
    collection: Collection,
    asked: Layer[int],
    paper_id: int,
    closest: Closest,
    wish: Wish = NO_WISH,
    waiting: Waiting = UNTIL_MIXED,
) -> Layered:
    """Stand-ins for any colour as it would be laid on a paper by itself.

    Raises NotFoundError for an unknown colour or paper.
    """
    with collection() as session:
        scene = Scene.on(session, paper_id)
        scene.colour(asked.pencil)
        if scene.known is None:
            return Layered(False, 0, 0)
        return _Search(scene, scene.known, Sought(asked, "", ALONE), closest, wish).run(waiting)


def chosen_layers(
    scene: Scene, known: Fitted, call: RecipeCall, closest: Closest, layers: Sequence[Layer[int]]
) -> LayeredOffer | None:
    """Layers that were chosen for a call, in its passage; None where a pencil is not at hand or not modelled."""
    return _Search(scene, known, _sought(scene, call, known), closest, NO_WISH).of(tuple(layers))


@dataclass(frozen=True)
class Sought:
    """What is to be stood in for: a colour as it is laid, what it must do, and the passage round it."""

    layer: Layer[int]
    role: SaidRole
    passage: CalledPassage


def _sought(scene: Scene, call: RecipeCall, known: Fitted) -> Sought:
    passage = passage_of(scene.session, call, known.survey.pencils, scene.at_hand)
    return Sought(layer_of(call, meant(call, scene.at_hand)), call.role, passage)


_Layers = tuple[Layer[int], ...]


class _Search:
    """One question: who may stand in, what comes near alone, and how that is in the passage."""

    def __init__(self, scene: Scene, known: Fitted, sought: Sought, closest: Closest, wish: Wish) -> None:
        self._scene, self._sought = scene, sought
        self._closest, self._wish = closest, wish
        self._pencils = known.survey.pencils
        self._known = known
        self._asked, self._passage = sought.layer, sought.passage
        self._tried = tried_for(scene.session, scene.paper.id, sought.layer.pencil)
        self._strips = Strips(scene.session, scene.paper.id)

    @property
    def _burnishes(self) -> bool:
        """Whether the call rubs smooth what lies below: one pencil does that, and no layers of two."""
        return self._asked.pressure == Pressure.BURNISH

    @property
    def _mark(self) -> Layer[int]:
        """The mark that is asked for by itself: what burnishes is rubbed in as hard as a heavy one."""
        pressure = Pressure.HEAVY if self._burnishes else self._asked.pressure
        return Layer(self._asked.pencil, pressure, self._asked.layers)

    def run(self, waiting: Waiting) -> Layered:
        """The whole answer, as far as pairs are mixed."""
        if self._asked.pencil not in self._pencils:
            return Layered(True, 0, 0, self._unmodelled())
        scene = self._scene
        self._mixed(Waiting(0.0, waiting.again))
        # Pairs are mixed by a thread of their own: what single pencils look like is worked out beside it.
        at_hand = [i for i in self._pencils if i != self._asked.pencil and i in scene.at_hand]
        unfit = {i: why for i in at_hand if (why := self._unfit(i)) is not None}
        may = {i for i in at_hand if i not in unfit and not unwished(self._scene, self._wish, i)}
        look_at_singles(scene)
        mixed = self._mixed(Waiting(waiting.seconds))
        below, above = (
            tuple(one.of(scene.colours[one.pencil]) for one in side)
            for side in (self._passage.below, self._passage.above)
        )
        so_far = Layered(
            mixed.table is not None or mixed.failed, mixed.done, mixed.total, MIXING_FAILED if mixed.failed else "",
            mixed.failed, below=below, above=above, left_out=self._passage.left_out,
            unfit=dict(Counter(unfit.values())),
        )  # fmt: skip
        if not may:
            problem = "No pencil at hand fits what is asked for and what is left out."
            return replace(so_far, ready=True, problem=problem, failed=False)
        return self._ranked(so_far, mixed.table, may)

    def _mixed(self, waiting: Waiting) -> Mixed:
        """The pairs on this paper, begun to be mixed where they are not, and waited for so long."""
        scene = self._scene
        return mixed_pairs(scene.session, self._known, scene.fit, scene.paper.id, waiting.seconds, waiting.again)

    def _unmodelled(self) -> str:
        """Why layers cannot be compared with the colour that is asked for, and what to do."""
        effect = self._scene.colours[self._asked.pencil].effect
        if effect != Effect.ORDINARY:
            return f"It is a {effect} pencil: how those look is not modelled, so layers cannot be compared with it."
        return (
            "A chart value does not say how a pencil layers, and this one is not swatched yet. Swatch it once, heavy, "
            "on any paper, or type in a value on its page; from then on layers are compared with it on every paper."
        )

    def of(self, layers: _Layers) -> LayeredOffer | None:
        """These layers in the passage, beside no others."""
        gone = any(one.pencil not in self._pencils or one.pencil not in self._scene.at_hand for one in layers)
        if gone or self._asked.pencil not in self._pencils:
            return None
        asked, passage = [self._modelled(self._asked)], self._passage.modelled(self._pencils)
        stack = [self._modelled(one) for one in layers]
        ranking = rank_in_passage(passage, asked, {0: stack}, self._scene.fit, self._closest)
        alone = predict_stacks([stack], self._scene.fit).lab[0]
        covers = opacity_of_stacks([stack], self._scene.fit)[0]
        return self._offer(ranking.offers[0], layers, alone, self._wanted(), covers, None)

    def _unfit(self, colour_id: int) -> Unfit | None:
        """Why a pencil cannot do what is asked of it here."""
        return unfit_for(self._sought.role, ability_of(self._scene, colour_id), self._passage.water)

    def _wanted(self) -> Lab:
        """The mark that is asked for, as predicted: marks and layers are compared like with like."""
        mark = self._scene.predicted(self._mark.layers).of(self._mark.pencil, self._mark.pressure)
        assert mark is not None, "a fitted pencil has a prediction"
        return np.array(mark.lab)

    def _ranked(self, so_far: Layered, table: PairTable | None, may: set[int]) -> Layered:
        """Single pencils at once, pairs as soon as they are mixed."""
        wanted = self._wanted()
        candidates_laid = nearest_singles(self._scene, may, wanted, self._closest, _SINGLES, self._burnishes)
        mask = np.array([key in may for key in table.keys], dtype=bool) if table is not None else np.zeros(0, bool)
        if table is not None and not self._burnishes:
            candidates_laid += nearest_layered(table, mask, wanted, self._closest, _PAIRS, _LOOKED_AT)
        candidates_laid += self._tried_before(may, {layers for layers, _ in candidates_laid})
        candidates = {i: [self._modelled(one) for one in layers] for i, (layers, _) in enumerate(candidates_laid)}
        asked = [self._modelled(self._asked)]
        passage = self._passage.modelled(self._pencils)
        ranking = rank_in_passage(passage, asked, candidates, self._scene.fit, self._closest)
        single = next((o for o in ranking.offers if len(candidates_laid[o.key][0]) == 1), None)
        asked_covers, *covers = opacity_of_stacks([asked, *candidates.values()], self._scene.fit)
        shown = {one.key for one in ranking.offers[:_SHOWN]} | {
            key for key, (layers, _) in enumerate(candidates_laid) if layers in self._tried
        }
        offers = tuple(
            self._offer(one, *candidates_laid[one.key], wanted, covers[one.key], single)
            for one in ranking.offers
            if one.key in shown or one is single
        )
        return replace(
            so_far, asked=patch(ranking.asked), asked_covers=asked_covers,
            asked_after=tuple(patch(lab) for lab in ranking.asked_after),
            offers=offers, beyond=self._beyond(table, may, wanted, offers) if table is not None else (),
            without=without_call(ranking),
        )  # fmt: skip

    def _modelled(self, layer: Layer[int]) -> FittedLayer:
        return layer.of(self._pencils[layer.pencil])

    def _tried_before(self, may: set[int], offered: set[_Layers]) -> list[tuple[_Layers, Lab]]:
        """What was tried for this colour on this paper stays in sight, wherever it ranks."""
        tried = [
            layers
            for layers in self._tried
            if len(layers) <= 2 and layers not in offered and all(one.pencil in may for one in layers)
        ]
        predicted = predict_stacks([[self._modelled(one) for one in layers] for layers in tried], self._scene.fit)
        return list(zip(tried, predicted.lab, strict=True))

    def _offer(
        self, ranked: InPassage, layers: _Layers, alone: Lab, wanted: Lab, covers: OpacityTest, single: InPassage | None
    ) -> LayeredOffer:  # fmt: skip
        laid = owned_layers(self._scene, layers)
        better, worse = ((), ()) if single is None or single.key == ranked.key else beside_single(ranked, single)
        used = self._passage.passes + sum(one.layers for one in laid)
        return LayeredOffer(
            laid, layers_in_words(laid), patch(alone), difference(wanted, alone), patch(ranked.finished),
            ranked.difference, ranked.ranked_by, ranked.expected, ranked.plus_minus, ranked.tie,
            tuple(patch(lab) for lab in ranked.after), self._scene.paper.most_layers - used, better, worse,
            covers, self._measured(layers), self._tried.get(layers),
        )  # fmt: skip

    def _measured(self, layers: _Layers) -> StripSeen | None:
        """What a strip of these layers showed, beside the mark that is asked for."""
        strip = self._strips.of(layers)
        if strip is None:
            return None
        asked = self._scene.look(self._mark)
        assert asked is not None, "a fitted pencil has a prediction"
        return StripSeen(strip, difference(np.array(asked.patch.lab), np.array(strip.lab)), asked.trust)

    def _beyond(
        self, table: PairTable, may: set[int], wanted: Lab, offers: Sequence[LayeredOffer]
    ) -> tuple[Beyond, ...]:
        """Where the call lies beyond all that can be laid here; nowhere where an offer is close to it."""
        if offers and min(o.alone_difference.delta_e for o in offers) < _CLOSE:
            return ()
        return beyond_reach(self._scene, table, may, wanted)
