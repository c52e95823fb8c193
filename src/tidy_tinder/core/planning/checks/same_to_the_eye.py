"""Two calls of different colours that cannot be told apart on this paper.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.planning.checks.facts import CheckedCall, CheckedRecipe, CheckedStep
from tidy_tinder.core.planning.checks.finding import Finding, Rule
from tidy_tinder.core.quantities import Lab

# Two heavy marks nearer than this are taken for one side by side (ΔE00 of about 1).
_ALIKE = 1.0


def same_to_the_eye(recipe: CheckedRecipe) -> Iterator[Finding]:
    """Two calls of different colours that cannot be told apart on this paper."""
    once: dict[int, tuple[CheckedStep, CheckedCall, Lab]] = {}
    for step, call in recipe.calls:
        if call.masstone is not None:
            once.setdefault(call.colour, (step, call, call.masstone))
    for (_, one, mark), (step, other, other_mark) in combinations(once.values(), 2):
        apart = float(delta_e_2000(mark, other_mark))
        if apart < _ALIKE:
            yield Finding(
                Rule.SAME_TO_THE_EYE, step.key, other.key,
                f"{one.asked or one.name} and {other.asked or other.name} are {apart:.1f} ΔE apart on this paper.",
                "Nobody will tell them apart; one pencil does the work of two.",
                f"Use {one.asked or one.name} for both, unless they lie differently.",
            )  # fmt: skip
