"""The demo's camera told what to photograph: the drawing at the bench as far as it is done, with planted faults."""

from __future__ import annotations

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.devices.simulated_camera.colouring_in import true_paper
from tidy_tinder.devices.simulated_camera.conditions import SHOTS, Condition
from tidy_tinder.devices.simulated_camera.drawn_picture import SimulatedDrawing, photograph_drawing
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.rows import bench_of, find_bench_recipe, first_recipe
from tidy_tinder.services.bench.steps import RecipeAtBench
from tidy_tinder.services.collection.paper import paper_lab, root_name
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.reference.answers import shown_labs
from tidy_tinder.services.reference.store import find_reference
from tidy_tinder.services.reference.view import adjusted_light

__all__ = ["Condition", "photograph_at_bench"]

# As large as it is drawn by the simulated hand.
_SIDE = 900


def photograph_at_bench(
    collection: Collection, drawing_id: int, reference_id: int, condition: Condition, mended: bool, finished: bool
) -> bytes:
    """A photo of the simulated drawing, as JPEG. mended: with some of its faults put right; finished: all of it drawn,
    else with the pencils of its first steps: up to the step at hand, and half of the steps at least. What the recipe
    says nothing of is drawn with what she owns nearest to the picks.

    Raises NotFoundError, RefusedError where there is no recipe to draw along, or its picture is not open.
    """
    with collection() as session:
        drawing, reference = find_drawing(session, drawing_id), find_reference(session, reference_id)
        bench = bench_of(session, drawing_id)
        recipe = find_bench_recipe(session, bench.recipe_id) if bench else first_recipe(session, drawing_id)
        if recipe is None:
            raise RefusedError("The simulated drawing is drawn along a recipe: take one to the bench first.")
        scene = Scene.on(session, drawing.paper_id)
        worked = RecipeAtBench(scene, recipe, drawing_id)
        steps = [[layer.pencil for _, way in worked.ways_of(step) for layer in way] for step in worked.steps]
        at = next((i for i, step in enumerate(worked.steps) if bench and step.id == bench.step_id), 0)
        done = len(steps) if finished else max(at, (len(steps) + 1) // 2)
        names = [[f"{c.range_name} {c.code}" for c in map(scene.colour, pencils)] for pencils in steps]
        laid = [*_for_picks(scene, reference_id), *(name for step in names[:done] for name in step)]
        if not laid:
            raise RefusedError("None of the first steps has a pencil yet: choose stand-ins in the recipe first.")
        return photograph_drawing(
            SimulatedDrawing(
                adjusted_light(session, reference, _SIDE), (drawing.width_mm, drawing.height_mm),
                true_paper(root_name(session, scene.paper), np.array(paper_lab(scene.paper))), laid,
                [name for step in names[done:] for name in step], f"{drawing_id} {reference_id}", mended,
            ),
            SHOTS[condition],
        )  # fmt: skip


def _for_picks(scene: Scene, reference_id: int) -> list[str]:
    """Of her pencils those that come nearest, laid heavily, to what was picked: for what no recipe speaks of."""
    if scene.known is None:
        return []
    predicted, heavy = scene.predicted(), MARK_PRESSURES.index(Pressure.HEAVY)
    mine = [i for i in predicted.places if i in scene.at_hand]
    if not mine:
        return []
    marks = predicted.lab[[predicted.places[i] for i in mine], heavy]
    picks = shown_labs(scene.session, reference_id).values()
    nearest = [mine[int(np.argmin(delta_e_2000(lab, marks)))] for lab in picks]
    return [f"{colour.range_name} {colour.code}" for colour in map(scene.colour, dict.fromkeys(nearest))]
