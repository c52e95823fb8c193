"""More layers than the paper takes.

Common practice, no source: each layer fills some of the tooth, and where none is left nothing holds.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, calls_of
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, count, passage, sentence


def too_many_layers(recipe: CheckedRecipe) -> Iterator[Finding]:
    """A passage with more layers than the paper takes."""
    for area, steps in recipe.passages.items():
        laid = calls_of(steps)
        layers = sum(call.passes for _, call in laid)
        if layers <= recipe.most_layers:
            continue
        step, thickest = max(laid, key=lambda both: both[1].layers[-1].layers)
        fewer = thickest.layers[-1].layers - 1
        yield Finding(
            Rule.TOO_MANY_LAYERS, step.key, thickest.key,
            f"{sentence(passage(area))} has {layers} layers, and this paper takes about {recipe.most_layers}.",
            "When the tooth is full the next layer slides over the last one and lifts it.",
            "Lay fewer or lighter layers, or take a paper with more tooth.",
            Remedy(
                Act.LAYERS, f"Lay {thickest.name} in {count(fewer, 'layer')}", step.key, call=thickest.key, layers=fewer
            )
            if fewer
            else None,
        )  # fmt: skip
