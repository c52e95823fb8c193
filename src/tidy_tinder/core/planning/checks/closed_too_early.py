"""A surface that is closed before its last layers.

Common practice, no source; how much tooth is left comes from the optics.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.planning.checks.facts import CheckedRecipe, CheckedStep
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage, sentence
from tidy_tinder.core.vocabulary import Purpose

# Of the tooth so much must be free for a glaze to take; ours, after the model's tooth.
_ROOM_FOR_A_GLAZE = 0.3


def closed_too_early(recipe: CheckedRecipe) -> Iterator[Finding]:
    """Burnishing before the last layers, or heavy pressure that leaves no tooth for a glaze."""
    for area, steps in recipe.passages.items():
        for at, step in enumerate(steps):
            later = [each for each in steps[at + 1 :] if each.calls and not each.burnishes]
            if step.burnishes:
                later = [each for each in later if each.purpose != Purpose.HIGHLIGHT]
            elif _leaves_no_room(step):
                later = [each for each in later if each.glazes]
            else:
                continue
            if later:
                yield _closed(area, step, later[-1])


def _leaves_no_room(step: CheckedStep) -> bool:
    """Whether a glaze over it would find nothing to hold on to."""
    return any(call.heavy and (call.room is None or call.room < _ROOM_FOR_A_GLAZE) for call in step.calls)


def _closed(area: str, step: CheckedStep, last: CheckedStep) -> Finding:
    what = "burnished" if step.burnishes else "pressed hard"
    rooms = [call.room for call in step.calls if call.room is not None]
    left = f"; about {rooms[-1]:.0%} of the tooth is free after it" if rooms else ""
    return Finding(
        Rule.CLOSED_TOO_EARLY, step.key, None,
        f"{sentence(passage(area))} is {what} in {step.said}, and {last.said} still goes over it{left}.",
        "A surface that is rubbed smooth takes no more wax: what comes after slides, and hardly shows.",
        f"Do it after {last.said}.",
        Remedy(Act.MOVE_AFTER, f"Move {step.said} after {last.said}", step.key, beside=last.key),
    )  # fmt: skip
