"""Which words of a line say how hard its colours are laid."""

from __future__ import annotations

from collections.abc import Sequence

from tidy_tinder.core.vocabulary import SaidPressure
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_words import pressure_in


def pressed_each(line: str, calls: Sequence[ReadCall], part: tuple[int, int], words: str) -> list[SaidPressure]:
    """How hard each call of a part is laid; words: those of the part beside its calls.

    Where each of several has its own behind it (“124 (M) 126 (H)”), that; else what is said in the part holds for all.
    """
    ends = [*(call.start for call in calls[1:]), part[1]]
    behind = [pressure_in(line[call.end : end]) for call, end in zip(calls, ends, strict=True)]
    if pressure_in(line[part[0] : calls[0].start]) or not all(behind):
        return [pressure_in(words) for _ in calls]
    return behind


def in_brackets(line: str, at: int) -> bool:
    """Whether brackets are open there: what stands in them belongs to the colour before them alone."""
    return line.rfind("(", 0, at) > line.rfind(")", 0, at)
