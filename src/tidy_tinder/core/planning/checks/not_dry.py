"""Solvent or water that the next layer does not wait for.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage
from tidy_tinder.core.vocabulary import Finish


def not_dry(recipe: CheckedRecipe) -> Iterator[Finding]:
    """Solvent or water that the next layer does not wait for."""
    for area, steps in recipe.passages.items():
        for at, step in enumerate(steps):
            wet = step.dissolves or step.finish == Finish.WET
            then = next((each for each in steps[at + 1 :] if each.calls or each.waits), None)
            if not wet or step.waits or then is None or (then.waits and not then.calls):
                continue
            with_what = "Solvent" if step.dissolves else "Water"
            yield Finding(
                Rule.NOT_DRY, step.key, None,
                f"{with_what} goes over {passage(area)} in {step.said}, and {then.said} is drawn over it at once.",
                "On a damp sheet the point digs in, the layer below comes off, and the surface is spoilt for good.",
                f"Let it dry before {then.said}.",
                Remedy(Act.WAIT, f"Let it dry after {step.said}", step.key),
            )  # fmt: skip
