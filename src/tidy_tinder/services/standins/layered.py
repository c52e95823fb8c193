"""What layered stand-ins are: the artist's wishes, an offer in its passage, and the whole answer."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.standins.passage import InPassage, PassageRanking
from tidy_tinder.core.standins.roles import Unfit, is_black
from tidy_tinder.core.swatching.opacity import OpacityTest
from tidy_tinder.services.collection.patches import Patch, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid
from tidy_tinder.services.scraps.view import Tried
from tidy_tinder.services.standins.nearest import ability_of
from tidy_tinder.services.standins.reach import Beyond
from tidy_tinder.storage.queries.colours import ColourRow

# A component is said to be better or worse from this step on; each is about what can just be seen.
_STEP = 0.7


@dataclass(frozen=True)
class Wish:
    """What the artist wants left out: blacks, what fades or is unrated, pencils of other ranges (empty: none)."""

    no_black: bool = False
    lasting: bool = False
    ranges: tuple[int, ...] = ()


# Nothing is left out.
NO_WISH = Wish()


def unwished(scene: Scene, wish: Wish, colour_id: int) -> bool:
    """Whether the artist wants a pencil left out."""
    row = scene.colours[colour_id]
    return (
        (wish.no_black and is_black(ability_of(scene, colour_id)))
        or (wish.lasting and not row.lasts)
        or (bool(wish.ranges) and row.range_id not in wish.ranges)
    )


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
    expected: float
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
class Without:
    """The finished passage with the call left out, and how that differs from the passage as asked for."""

    finished: Patch
    difference: Difference


@dataclass(frozen=True)
class Layered:
    """What there is so far. done of total coats are mixed; until all are (ready) only single pencils are offered.

    problem: why there is nothing to offer, or no pair; failed: the pairs could not be mixed, and can be tried again.
    asked: the passage as asked for, finished and after each layer; below, above: what lies round the call; left_out:
    calls of the area that are not modelled; unfit: how many pencils at hand cannot do what is asked, by the reason;
    without: the finished passage with the call left out, where it has other layers.
    """

    ready: bool
    done: int
    total: int
    problem: str = ""
    failed: bool = False
    asked: Patch | None = None
    asked_covers: OpacityTest | None = None
    asked_after: tuple[Patch, ...] = ()
    below: tuple[Layer[ColourRow], ...] = ()
    above: tuple[Layer[ColourRow], ...] = ()
    left_out: int = 0
    unfit: Mapping[Unfit, int] = field(default_factory=dict)
    offers: tuple[LayeredOffer, ...] = ()
    beyond: tuple[Beyond, ...] = ()
    without: Without | None = None


_COMPARED: tuple[tuple[str, Callable[[Difference], float]], ...] = (
    ("value", lambda d: d.delta_L),
    ("vividness", lambda d: d.delta_C),
    ("hue", lambda d: d.delta_H),
    ("temperature", lambda d: d.delta_temperature),
)


def without_call(ranking: PassageRanking) -> Without | None:
    """The passage with the call left out, where it has other layers."""
    if ranking.without is None:
        return None
    return Without(patch(ranking.without), difference(ranking.asked, ranking.without))


def beside_single(offer: InPassage, single: InPassage) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What an offer does better and worse in the passage than the best single pencil, in words."""
    gains = [(name, abs(of(single.difference)) - abs(of(offer.difference)), "") for name, of in _COMPARED]
    gains.append(("how sure", single.plus_minus - offer.plus_minus, " ΔE"))
    better = tuple(f"{name} by {gain:.1f}{unit}" for name, gain, unit in gains if gain >= _STEP)
    worse = tuple(f"{name} by {-gain:.1f}{unit}" for name, gain, unit in gains if gain <= -_STEP)
    return better, worse
