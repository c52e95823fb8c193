"""Solvent on a paper that does not stand it.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe
from tidy_tinder.core.planning.checks.finding import Finding, Rule, sentence


def paper_without_solvent(recipe: CheckedRecipe) -> Iterator[Finding]:
    """Solvent on a paper that does not stand it."""
    if recipe.stands_solvent:
        return
    for step in recipe.steps:
        if step.dissolves:
            yield Finding(
                Rule.PAPER_WITHOUT_SOLVENT, step.key, None,
                f"{sentence(step.said)} takes solvent, and this paper does not stand it.",
                "The sheet cockles or lets the wax through to its back.",
                "Blend it dry, or take another paper.",
            )  # fmt: skip
