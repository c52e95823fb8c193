"""No passage reaches the darkest value of the picture.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, finished
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage

# Half a step of Munsell value is five of L*, and is seen at arm's length.
_HALF_A_STEP = 5.0


def darkest_missed(recipe: CheckedRecipe) -> Iterator[Finding]:
    """No passage reaches the darkest value of the picture, though a pencil at hand would."""
    ended = [(area, steps, lab) for area, steps in recipe.passages.items() if (lab := finished(steps)) is not None]
    if recipe.darkest_wanted is None or recipe.darkest_here is None or not ended:
        return
    name, reached = recipe.darkest_here
    wanted = max(recipe.darkest_wanted, reached)
    area, steps, lab = min(ended, key=lambda each: float(each[2][0]))
    if lab[0] - wanted < _HALF_A_STEP:
        return
    last = next((step for step in reversed(steps) if step.calls and not step.burnishes), steps[-1])
    yield Finding(
        Rule.DARKEST_MISSED, last.key, None,
        f"The darkest passage, {passage(area)}, ends at L* {lab[0]:.0f}; the picture goes down to "
        f"{recipe.darkest_wanted:.0f}, and {name} reaches {reached:.0f} here.",
        "Without its darkest dark a picture looks flat, however right the rest is.",
        f"Deepen {passage(area)} at the end.",
        Remedy(Act.ADD_AFTER, f"Add a step that deepens with {name}", last.key, text=f"Deepen with {name}, heavy"),
    )  # fmt: skip
