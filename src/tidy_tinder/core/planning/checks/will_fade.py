"""What fades, or what nobody has tested, in a drawing that is for sale.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.fading.classes import lasts
from tidy_tinder.core.planning.checks.facts import CheckedRecipe
from tidy_tinder.core.planning.checks.finding import Finding, Rule, sentence
from tidy_tinder.core.vocabulary import Material


def will_fade(recipe: CheckedRecipe) -> Iterator[Finding]:
    """What fades, or what nobody has tested, in a drawing that is for sale."""
    if not recipe.for_sale:
        return
    for step in recipe.steps:
        for call in step.calls:
            if not lasts(call.rated):
                rated = f"is rated {call.rated}" if call.rated else "is not rated"
                if call.own_test:
                    rated = f"came out as {call.rated} in your own fade test"
                yield Finding(
                    Rule.WILL_FADE, step.key, call.key,
                    f"{call.name} {rated}{'' if call.own_test else ' for light'}, and the drawing is for sale.",
                    "A buyer hangs it in a lit room for years.",
                    "Take a stand-in that lasts: the wish “only what lasts” shows them.",
                )  # fmt: skip
        if Material.WHITE_INK in step.materials:
            yield Finding(
                Rule.WILL_FADE, step.key, None,
                f"{sentence(step.said)} adds white by ink or paint, and the drawing is for sale.",
                "Many white inks yellow or flake; few are made to last.",
                "Take one whose maker calls it archival, or keep the paper white there.",
            )  # fmt: skip
