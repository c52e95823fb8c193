"""A pale layer over a dark one, where it will not show.

Common practice, no source; whether it shows is taken from the optics, not from a rule of thumb.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.planning.checks.facts import CheckedCall, CheckedRecipe, CheckedStep, calls_of
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule, passage
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Opacity, Purpose

# So much lighter than what it lies on is meant to be seen as light (two steps of Munsell value); and so little of a
# change is taken for none on a drawing: 2 ΔE is seen only edge to edge, and what a thin layer does over a heavy one is
# not known to better than half of it.
_LIGHTER, _SHOWS = 20.0, 1.5


def light_over_dark(recipe: CheckedRecipe) -> Iterator[Finding]:
    """A pale layer over a dark one, where it will not show."""
    for area, steps in recipe.passages.items():
        below: Lab | None = None
        for step, call in calls_of(steps):
            if below is not None and not step.burnishes and _hides(call, below) and not _elsewhere(steps, step, call):
                yield _hidden(area, steps, step, call, below)
            below = call.after


def _hides(call: CheckedCall, below: Lab) -> bool:
    """Whether a call that is meant to be seen as light changes nothing that could be seen."""
    if call.alone is None or call.alone[0] - below[0] < _LIGHTER or call.opacity == Opacity.OPAQUE:
        return False
    return call.after is None or bool(delta_e_2000(below, call.after) < _SHOWS)


def _elsewhere(steps: tuple[CheckedStep, ...], step: CheckedStep, call: CheckedCall) -> bool:
    """Whether the words put one of both in places, so that they may never meet; a highlight is put on the dark."""
    dark = _made_dark(steps, call)
    return (step.in_places and step.purpose != Purpose.HIGHLIGHT) or (dark is not None and dark.in_places)


def _made_dark(steps: tuple[CheckedStep, ...], call: CheckedCall) -> CheckedStep | None:
    """The first step after which the passage is so dark that the call is meant to be seen on it."""
    for step, each in calls_of(steps):
        if each is call:
            return None
        if call.alone is not None and each.after is not None and call.alone[0] - each.after[0] >= _LIGHTER:
            return step
    return None


def _hidden(
    area: str, steps: tuple[CheckedStep, ...], step: CheckedStep, call: CheckedCall, below: Lab
) -> Finding:  # fmt: skip
    value = f"L* {call.alone[0]:.0f}" if call.alone is not None else "pale"
    changes = f", and changes it by {float(delta_e_2000(below, call.after)):.1f} ΔE" if call.after is not None else ""
    dark = _made_dark(steps, call)
    return Finding(
        Rule.LIGHT_OVER_DARK, step.key, call.key,
        f"{call.name} ({value}) goes over {passage(area)} when that is at L* {below[0]:.0f}{changes}.",
        "Pencil is translucent: a pale layer over a dark one hardly shows.",
        "Lay it first, keep its place free, or take ink or paint for it.",
        Remedy(Act.MOVE_BEFORE, f"Move {step.said} before {dark.said}", step.key, beside=dark.key)
        if dark is not None and dark.key != step.key
        else None,
    )  # fmt: skip
