"""A dark that covers, called as a shadow's glaze.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, calls_of
from tidy_tinder.core.planning.checks.finding import Finding, Rule, passage
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Opacity, Purpose, Role

# A glaze that is so much darker than what it lies on shades it (one step of Munsell value).
_SHADES = 10.0


def opaque_glaze(recipe: CheckedRecipe) -> Iterator[Finding]:
    """A dark that covers, called as a shadow's glaze."""
    for area, steps in recipe.passages.items():
        below: Lab | None = None
        for step, call in calls_of(steps):
            glaze = step.purpose == Purpose.GLAZE or call.role == Role.GLAZE
            covers = glaze and call.opacity == Opacity.OPAQUE
            if covers and below is not None and call.alone is not None and below[0] - call.alone[0] >= _SHADES:
                yield Finding(
                    Rule.OPAQUE_GLAZE, step.key, call.key,
                    f"{call.name} is opaque, and is glazed over {passage(area)} as a shadow "
                    f"(L* {call.alone[0]:.0f} over {below[0]:.0f}).",
                    "What covers kills the colour below; a shadow wants to let it through.",
                    "Take a transparent one of the same hue: its stand-ins say which are.",
                )  # fmt: skip
            below = call.after
