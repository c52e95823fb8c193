"""The darkest dark of a passage, put in first and hard.

Common practice, no source; those who work dark first are not told.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, calls_of
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage
from tidy_tinder.core.vocabulary import Pressure

# A darkest dark: no lighter than this, and darker than the next by half a step of Munsell value.
_DARK, _DARKER = 40.0, 5.0
# A passage of fewer calls is not built up, and its one dark is not its darkest.
_BUILT_UP = 3


def darkest_first(recipe: CheckedRecipe) -> Iterator[Finding]:
    """The darkest dark of a passage, put in first and hard."""
    if recipe.dark_first:
        return
    for area, steps in recipe.passages.items():
        laid = [(step, call) for step, call in calls_of(steps) if call.alone is not None and not call.burnishes]
        if len(laid) < _BUILT_UP or not laid[0][1].heavy:
            continue
        step, first = laid[0]
        values = [float(call.alone[0]) for _, call in laid if call.alone is not None]
        if values[0] > _DARK or min(values[1:]) - values[0] < _DARKER:
            continue
        yield Finding(
            Rule.DARKEST_FIRST, step.key, first.key,
            f"{first.name} (L* {values[0]:.0f}) is the darkest of {passage(area)}, and goes in first and heavy.",
            "Hard pressure cannot be taken back: the dark stays where it is too dark, and smears into what follows.",
            "Put it in lightly and come back to it at the end.",
            Remedy(Act.PRESS, f"Lay {first.name} lightly", step.key, call=first.key, pressure=Pressure.LIGHT),
        )  # fmt: skip
