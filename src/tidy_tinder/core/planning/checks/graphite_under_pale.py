"""A graphite outline that stays under a pale passage.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, finished
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage
from tidy_tinder.core.vocabulary import Material, Purpose

# What is finished no darker than this is pale: graphite under it is seen.
_PALE = 70.0


def graphite_under_pale(recipe: CheckedRecipe) -> Iterator[Finding]:
    """A graphite outline that stays under a pale passage."""
    for at, step in enumerate(recipe.steps):
        if Material.GRAPHITE not in step.materials or step.purpose == Purpose.LIFT:
            continue
        over = [each for each in recipe.steps[at:] if not step.area or each.area == step.area]
        lifted = next((i for i, each in enumerate(over) if i and each.purpose == Purpose.LIFT), len(over))
        drawn = next((i for i, each in enumerate(over) if each.calls), len(over))
        pale = [
            (area, float(lab[0]))
            for area in dict.fromkeys(each.area for each in over)
            if (lab := finished(recipe.passages[area])) is not None and lab[0] >= _PALE
        ]
        if pale and drawn <= lifted:
            area, value = pale[0]
            yield Finding(
                Rule.GRAPHITE_UNDER_PALE, step.key, None,
                f"Graphite lies under {passage(area)}, which ends as pale as L* {value:.0f}.",
                "It shines through pale layers, muddies them, and cannot be taken out once wax lies on it.",
                "Lift it to a trace before the first colour, or draw the outline with a pencil of the passage.",
                Remedy(
                    Act.ADD_AFTER, "Add a step that lifts it", step.key,
                    text="Lift off the graphite lines until they are just seen",
                ),
            )  # fmt: skip
