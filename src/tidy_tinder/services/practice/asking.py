"""The next question of a round, as it is kept and shown: on one's own colours, as hard as the answers so far say."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

import numpy as np

from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.practice.asking import Asked, Known, ask_closest, ask_order, ask_result, ask_two, ask_value
from tidy_tinder.core.practice.drills import CHOICES, SCALES, Drill
from tidy_tinder.core.practice.staircase import next_level
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.collection.patches import Seen, Trust, patch
from tidy_tinder.services.collection.predictions import WELL_WITHIN
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.practice.stock import Stock, stock_on
from tidy_tinder.storage.models import PracticeAnswer

Question = dict[str, Any]

# A region is weak by at least so many answers about it.
_LEAST_ANSWERS = 5
_TRIES = 6

_WORDS = {
    Drill.LIGHTER: "Which is lighter?",
    Drill.WARMER: "Which is warmer?",
    Drill.CLOSEST: "Which of the four is closest to the large one?",
    Drill.ORDER: "Put them in order, the lightest first.",
    Drill.VALUE_STEP: "Which step of value is it? 0 is black, 10 is white.",
    Drill.LAYER: "What will this give?",
    Drill.TIN: "In which tin is it?",
}


class Asker:
    """Asks on one paper, after the answers so far."""

    def __init__(self, scene: Scene, answers: Sequence[PracticeAnswer]) -> None:
        self._scene = scene
        self._stock = stock_on(scene)
        self._answers: dict[Drill, list[PracticeAnswer]] = defaultdict(list)
        for answer in answers:
            self._answers[answer.drill].append(answer)

    def ask(self, drills: Sequence[Drill], rng: np.random.Generator) -> Question | None:
        """A question of one of these kinds; None where none of them can be asked of what is owned."""
        for drill in rng.permutation(np.array(drills, dtype=object)):
            asked = self._ways()[drill](rng)
            if asked is not None:
                return {"drill": drill.value, "words": _WORDS[drill], **asked}
        return None

    def can_ask(self) -> tuple[Drill, ...]:
        """The kinds that can be asked of what is owned."""
        rng = np.random.default_rng(0)
        return tuple(drill for drill, ask in self._ways().items() if ask(rng) is not None)

    @property
    def stock(self) -> Stock:
        """What can be asked about."""
        return self._stock

    def _ways(self) -> Mapping[Drill, Callable[[np.random.Generator], Question | None]]:
        known, level = self._stock.known, self._level
        few = len(self._stock.colours) < 2
        return {
            Drill.LIGHTER: lambda rng: self._two(None if few else self._ask_two(Drill.LIGHTER, rng)),
            Drill.WARMER: lambda rng: self._two(None if few else self._ask_two(Drill.WARMER, rng)),
            Drill.CLOSEST: lambda rng: self._many(None if few else ask_closest(known, level(Drill.CLOSEST), rng)),
            Drill.ORDER: lambda rng: self._many(None if few else ask_order(known, level(Drill.ORDER), rng)),
            Drill.VALUE_STEP: lambda rng: self._value(
                None if few else ask_value(known, self._weakest(Drill.VALUE_STEP), rng)
            ),
            Drill.LAYER: self._layer,
            Drill.TIN: self._tin,
        }

    def _ask_two(self, drill: Drill, rng: np.random.Generator) -> Asked | None:
        return ask_two(self._stock.known, drill, self._level(drill), self._weakest(drill), rng)

    def _level(self, drill: Drill) -> float:
        return next_level([answer.right for answer in self._answers[drill]], SCALES[drill])

    def _weakest(self, drill: Drill) -> str:
        """The region in which the fewest were right; "" while too little is answered."""
        by_region: dict[str, list[bool]] = defaultdict(list)
        for answer in self._answers[drill]:
            for region in {answer.region, answer.other} - {""}:
                by_region[region].append(answer.right)
        shares = {region: sum(them) / len(them) for region, them in by_region.items() if len(them) >= _LEAST_ANSWERS}
        return min(shares, key=lambda region: shares[region], default="")

    def _item(self, place: int, words: str = "") -> Question:
        return _item(self._stock.seen[place], self._stock.colours[place], words)

    def _two(self, asked: Asked | None) -> Question | None:
        if asked is None:
            return None
        return {**_facts(asked), "shown": [], "choices": [self._item(i) for i in asked.choices]}

    def _many(self, asked: Asked | None) -> Question | None:
        if asked is None:
            return None
        shown = [self._item(i) for i in asked.shown]
        return {**_facts(asked), "shown": shown, "choices": [self._item(i) for i in asked.choices]}

    def _value(self, asked: Asked | None) -> Question | None:
        if asked is None:
            return None
        steps = [_text(str(step)) for step in asked.choices]
        return {**_facts(asked), "shown": [self._item(asked.shown[0])], "choices": steps}

    def _tin(self, rng: np.random.Generator) -> Question | None:
        places = {colour: self._tin_of(colour) for colour in self._stock.colours}
        tins = sorted({tin for tin in places.values() if tin})
        kept = [i for i, colour in enumerate(self._stock.colours) if places[colour]]
        if len(tins) < 2 or not kept:
            return None
        at = int(rng.choice(kept))
        right = places[self._stock.colours[at]]
        others = [tin for tin in tins if tin != right]
        choices = [right, *(str(tin) for tin in rng.permutation(others)[: CHOICES - 1])]
        rng.shuffle(choices)
        return {
            "level": 1.0, "region": "", "other": "", "signed": None, "right": [choices.index(right)],
            "shown": [self._item(at, self._named(self._stock.colours[at]))], "choices": [_text(tin) for tin in choices],
        }  # fmt: skip

    def _tin_of(self, colour: int) -> str:
        return next((p.tin for p in self._scene.pencils.get(colour, ()) if p.drawable and p.tin), "")

    def _named(self, colour: int) -> str:
        row = self._scene.colours[colour]
        return f"{row.range_name} {row.code} {row.name}"

    def _layer(self, rng: np.random.Generator) -> Question | None:
        """What one pencil over another gives; the others are turned round, alone, or of another pencil."""
        if self._scene.known is None:
            return None
        pencils = [i for i in self._stock.colours if i in self._scene.known.survey.pencils]
        if len(pencils) < CHOICES:
            return None
        for _ in range(_TRIES):
            below, above, other, another = (int(i) for i in rng.choice(pencils, CHOICES, replace=False))
            stacks = list(_stacks(below, above, other, another))
            seen = self._laid(stacks)
            if seen is None:
                continue
            results = Known(np.array([one.patch.lab for one in seen]), np.array([one.band or 0.0 for one in seen]))
            found = ask_result(results, self._level(Drill.LAYER), rng)
            if found is not None:
                choices, right, level = found
                return {
                    "level": level, "region": results.regions[0], "other": "", "signed": None, "right": [right],
                    "shown": [
                        self._item(self._stock.colours.index(below), f"first {self._named(below)}, heavy"),
                        self._item(self._stock.colours.index(above), f"then {self._named(above)}, medium"),
                    ],
                    "choices": [_item(seen[i], None) for i in choices],
                }  # fmt: skip
        return None

    def _laid(self, stacks: Sequence[Sequence[Layer[int]]]) -> list[Seen] | None:
        """Results, the right one first; None where that is not known well, or is beyond the screen."""
        modelled = [layers for each in stacks if (layers := self._scene.modelled(each)) is not None]
        made = predict_stacks(modelled, self._scene.fit)
        seen = [
            Seen(patch(lab), Trust.PREDICTED, float(radius))
            for lab, radius in zip(np.clip(made.lab, (0, -200, -200), (100, 200, 200)), made.radius, strict=True)
        ]
        if not seen[0].patch.on_screen or (seen[0].band or 0.0) > 2 * WELL_WITHIN:
            return None
        return [one for one in seen if one.patch.on_screen]


def _stacks(below: int, above: int, other: int, another: int) -> Iterator[tuple[Layer[int], ...]]:
    """The stack that is asked about, then what it might be taken for."""
    heavy, medium = Pressure.HEAVY, Pressure.MEDIUM
    yield (Layer(below, heavy), Layer(above, medium))
    yield (Layer(above, heavy), Layer(below, medium))
    yield (Layer(above, heavy),)
    yield (Layer(below, heavy),)
    for one in (other, another):
        yield (Layer(below, heavy), Layer(one, medium))
        yield (Layer(one, heavy), Layer(above, medium))


def _facts(asked: Asked) -> Question:
    return {
        "level": asked.level, "region": asked.region, "other": asked.other, "signed": asked.signed,
        "right": list(asked.right),
    }  # fmt: skip


def _item(seen: Seen, colour: int | None, words: str = "") -> Question:
    return {
        "colour": colour, "lab": list(seen.patch.lab), "trust": seen.trust.value, "band": seen.band, "words": words,
    }  # fmt: skip


def _text(words: str) -> Question:
    return {"colour": None, "lab": None, "trust": Trust.NONE.value, "band": None, "words": words}
