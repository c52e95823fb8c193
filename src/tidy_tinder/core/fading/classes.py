"""Classes of lightfastness, from I to V, by how far a mark has changed; and which of them may be held for true.

Source of the limits: ASTM D4303, which ASTM D6901 uses for coloured pencils: lightfastness I up to ΔE*ab 4, II up to 8,
III up to 16, IV up to 24, V beyond (from memory). Source of the blue wools: ISO 105-B01; which wool stands for which
class is common practice among artists' materials (from memory).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from enum import StrEnum

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.vocabulary import LASTING


class FadeClass(StrEnum):
    """Classes of lightfastness, the best first."""

    I = "I"  # noqa: E741 -- the class's own name
    II = "II"
    III = "III"
    IV = "IV"
    V = "V"


LIMITS = (4.0, 8.0, 16.0, 24.0)
"""The largest ΔE*ab of classes I to IV."""

WOOLS = 8
"""Blue wools are numbered from 1, which fades first, to 8."""

_ORDER = tuple(FadeClass)
_OR = " or "
# The class that is told apart by the time each blue wool has faded visibly: what holds out as long is no worse.
_BY_WOOL = (
    FadeClass.V, FadeClass.IV, FadeClass.IV, FadeClass.III, FadeClass.III, FadeClass.II, FadeClass.I, FadeClass.I,
)  # fmt: skip


def class_of(delta_e_ab: float) -> FadeClass:
    """The class of a change. Raises OutOfRangeError for one that is negative or no number."""
    if not delta_e_ab >= 0.0:
        raise OutOfRangeError("A change of colour is not negative.")
    return _ORDER[sum(delta_e_ab > limit for limit in LIMITS)]


def classes_within(low: float, high: float) -> tuple[FadeClass, ...]:
    """The classes of all changes from low to high, the best first. Raises OutOfRangeError."""
    first, last = _ORDER.index(class_of(low)), _ORDER.index(class_of(high))
    return _ORDER[first : last + 1]


def worse(one: FadeClass, other: FadeClass) -> bool:
    """Whether one class is worse than another."""
    return _ORDER.index(one) > _ORDER.index(other)


def shown_by_wool(wool: int) -> FadeClass:
    """The best class that light can have shown which has faded this blue wool. Raises OutOfRangeError."""
    if not 1 <= wool <= WOOLS:
        raise OutOfRangeError(f"Blue wools are numbered from 1 to {WOOLS}.")
    return _BY_WOOL[wool - 1]


def held_classes(read: Sequence[FadeClass], wool: int | None, charted: str) -> tuple[FadeClass, ...]:
    """What an own test may be held to have shown: the classes that its reading may mean; none where it shows nothing.

    read: the classes that the reading may mean; wool: the highest blue wool beside it that has faded, None without one;
    charted: as the chart prints it. What has faded counts at once. What has not faded yet may still do so: a class is
    believed only if it is no better than the light can have shown, or than the chart says itself.
    """
    shown = None if wool is None else shown_by_wool(wool)
    printed = FadeClass(charted) if charted in _ORDER else None
    known = [one for one in (shown, printed) if one is not None]
    best = min(known, key=_ORDER.index, default=FadeClass.III)
    return tuple(read) if read and not worse(best, read[0]) else ()


def worst_of(held: Iterable[Sequence[FadeClass]]) -> tuple[FadeClass, ...]:
    """Of what several tests show the worst; those that show nothing say nothing."""
    return max((tuple(one) for one in held if one), key=_badness, default=())


def _badness(classes: Sequence[FadeClass]) -> tuple[int, int]:
    return _ORDER.index(classes[-1]), _ORDER.index(classes[0])


def in_one_word(classes: Sequence[FadeClass]) -> str:
    """“III”, or “III or IV” where a reading cannot tell; "" where there are none."""
    return _OR.join(classes)


def lasts(rated: str) -> bool:
    """Whether what is rated so, by a chart or by an own test, is held to last; what may be worse is not."""
    return rated != "" and all(one in LASTING for one in rated.split(_OR))
