"""The palette card of a recipe: each colour that it calls for beside what is laid for it on a paper, and its place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Pressure, Role
from tidy_tinder.formats.palette_card_pdf import CardRow, PaletteCard
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.recipes.supposing import in_words
from tidy_tinder.services.recipes.view import Answer, CallView, StepView, open_recipe

_WORDS = (
    "In each row: the colour that is called for, and edge to edge with it what is laid for it, by itself on the paper, "
    "as it was measured or else is predicted. A printer is no pencil: swatch each in its blank, and trust that."
)


def recipe_card(collection: Collection, recipe_id: int, paper_id: int, closest: Closest) -> PaletteCard:
    """The card of a recipe on a paper, in the order in which its colours go down.

    Raises NotFoundError, RefusedError where no call names a colour whose mark is known.
    """
    recipe = open_recipe(collection, recipe_id, paper_id, closest)
    with collection() as session:
        scene = Scene.on(session, paper_id)
        rows = tuple(_rows(scene, recipe.steps))
        subtitle = f"On {scene.paper.name}"
    if not rows:
        raise RefusedError("No call of this recipe names a colour whose mark is known yet, so there is no card.")
    return PaletteCard(recipe.title, subtitle, _WORDS, rows)


def _rows(scene: Scene, steps: Iterable[StepView]) -> Iterator[CardRow]:
    number = 0
    for step in steps:
        where = f"step {step.number}" if step.number is not None else ""
        foot = ", ".join(part for part in (step.area, where) if part)
        for call in step.calls:
            row = _row(scene, call, foot)
            if row is not None:
                number += 1
                yield replace(row, number=str(number))


def _row(scene: Scene, call: CallView, foot: str) -> CardRow | None:
    """One call; None for what is no colour, or has no known look."""
    if call.colour is None or call.answer in (Answer.UNSETTLED, Answer.DISMISSED):
        return None
    asked = Layer(call.colour.id, Pressure.HEAVY if call.role == Role.BURNISHER else call.compared_at, call.layers)
    seen = scene.look(asked)
    shown = seen.patch if seen is not None else patch(call.colour.lab) if call.colour.lab else None
    if shown is None:
        return None
    called = in_words(call.colour)
    said = ", ".join(
        part for part in (call.pressure or "", f"{call.layers} layers" * (call.layers > 1), call.role) if part
    )
    if call.answer is Answer.OWNED:
        place = scene.place_of(call.colour.id)
        lines = tuple(part for part in (said, f"yours: {place}" if place else "yours") if part)
        return CardRow("", called, shown.hex, shown.hex, lines, foot)
    if call.layered is not None:
        lines = tuple(_laid(scene, one.of(one.pencil.colour.id), i) for i, one in enumerate(call.layered.laid))
        off = f"off by {call.layered.alone_difference.delta_e:.1f} (CIEDE2000)"
        return CardRow("", called, shown.hex, call.layered.alone.hex, lines, f"{foot}: {off}")
    if call.chosen is not None:
        off = f"off by {call.chosen.difference.delta_e:.1f} (CIEDE2000)"
        laid = asked.of(call.chosen.colour.id)
        return CardRow("", called, shown.hex, call.chosen.offered.hex, (_laid(scene, laid, 0),), f"{foot}: {off}")
    words = "; ".join(part for part in (said, "nothing is chosen for it yet") if part)
    return CardRow("", called, shown.hex, None, (words,), foot)


def _laid(scene: Scene, layer: Layer[int], turn: int) -> str:
    colour, place = scene.colours[layer.pencil], scene.place_of(layer.pencil)
    times = f" × {layer.layers}" if layer.layers > 1 else ""
    then = "then " if turn else ""
    where = f" ({place})" if place else ""
    return f"{then}{in_words(colour)}, {layer.pressure}{times}{where}"
