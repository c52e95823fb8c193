"""Solvent over too few layers.

Common practice, no source: solvent moves wax, so there must be some to move.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, CheckedStep
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, count, passage
from tidy_tinder.core.vocabulary import MOST_LAYERS

LEAST_LAYERS = 3
"""Layers that solvent needs under it."""


def thin_for_solvent(recipe: CheckedRecipe) -> Iterator[Finding]:
    """Solvent over fewer than three layers."""
    for area, steps in recipe.passages.items():
        for at, step in enumerate(steps):
            below = [call for each in steps[: at + 1] for call in each.calls]
            layers = sum(call.passes for call in below)
            if not step.dissolves or not below or layers >= LEAST_LAYERS:
                continue
            last = below[-1]
            more = min(MOST_LAYERS, last.layers[-1].layers + LEAST_LAYERS - layers)
            yield Finding(
                Rule.THIN_FOR_SOLVENT, step.key, last.key,
                f"Solvent goes over {count(layers, 'layer')} in {passage(area)}.",
                f"Under {LEAST_LAYERS} layers there is too little wax to move: it turns streaky, and the paper shows.",
                f"Lay {count(LEAST_LAYERS - layers, 'layer')} more before it.",
                Remedy(
                    Act.LAYERS, f"Lay {last.name} in {count(more, 'layer')}", _step_of(steps, last.key), call=last.key,
                    layers=more,
                ),
            )  # fmt: skip


def _step_of(steps: tuple[CheckedStep, ...], call: int) -> int:
    return next(step.key for step in steps if any(each.key == call for each in step.calls))
