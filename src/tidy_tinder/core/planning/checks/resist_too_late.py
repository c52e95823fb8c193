"""A resist that comes after the colours from which it should keep the paper.

Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage, sentence
from tidy_tinder.core.vocabulary import Purpose


def resist_too_late(recipe: CheckedRecipe) -> Iterator[Finding]:
    """A resist that comes after the colours from which it should keep the paper."""
    for area, steps in recipe.passages.items():
        laid = [step for step in steps if step.calls and step.purpose != Purpose.RESIST]
        for step in steps:
            if step.purpose != Purpose.RESIST or not laid or steps.index(laid[0]) > steps.index(step):
                continue
            yield Finding(
                Rule.RESIST_TOO_LATE, step.key, None,
                f"{sentence(step.said)} keeps white in {passage(area)}, and {laid[0].said} has been laid before it.",
                "What is to stay white is kept before colour comes; over colour a white resist keeps the colour.",
                f"Do it before {laid[0].said}.",
                Remedy(Act.MOVE_BEFORE, f"Move {step.said} before {laid[0].said}", step.key, beside=laid[0].key),
            )  # fmt: skip
