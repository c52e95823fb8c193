"""The layering table: two or three pencils laid over one another on the paper at hand, in every order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer, orders
from tidy_tinder.core.standins.roles import Ability, unfit_for
from tidy_tinder.core.vocabulary import Pressure, Role
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.patches import Patch, Seen, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, check_layers, layers_in_words, look_at, owned_layers
from tidy_tinder.storage.queries.swatches import tried_over_black

# Solvent on fewer layers than this finds too little wax to dissolve (common practice, no source).
_LEAST_FOR_SOLVENT = 3


@dataclass(frozen=True)
class Order:
    """One order of the layers, the lowest first: in words, what it gives, and what is seen after each layer.

    after: before solvent, where that goes over it.
    """

    laid: tuple[Laid, ...]
    said: str
    result: Seen
    after: tuple[Seen, ...]


@dataclass(frozen=True)
class Alone:
    """One of the pencils by itself, as it is laid here; seen is None where nothing is known."""

    laid: Laid
    seen: Seen | None


@dataclass(frozen=True)
class LaidOut:
    """Layers on a paper. orders: as asked, the other way round, then the rest; empty while the collection is being
    fitted (ready is False), or with the reason (problem).

    apart: how the second order differs from the first, and plus_minus how far that may be off, None where both were
    measured; passes_left: how many more layers the paper takes; none_layered: whether marks are measured on it,
    but none of several layers; none_over_black: whether none over black is measured at all; warnings: what speaks
    against it.
    """

    ready: bool
    problem: str
    ground: Patch
    alone: tuple[Alone, ...]
    orders: tuple[Order, ...]
    apart: Difference | None
    plus_minus: float | None
    passes_left: int
    none_layered: bool
    none_over_black: bool
    warnings: tuple[str, ...]


def lay_out(collection: Collection, paper_id: int, layers: Sequence[Layer[int]], solvent: bool = False) -> LaidOut:
    """What layers look like on a paper in every order. Raises NotFoundError, RefusedError."""
    check_layers(layers)
    with collection() as session:
        scene = Scene.on(session, paper_id)
        laid, paper = owned_layers(scene, layers), scene.paper
        alone = tuple(Alone(one, scene.look(layer)) for one, layer in zip(laid, layers, strict=True))
        left = paper.most_layers - sum(one.layers for one in layers)
        none_layered = bool(scene.measured) and not scene.layered
        table = LaidOut(
            True, "", patch(paper_lab(paper)), alone, (), None, None, left, none_layered,
            not tried_over_black(session), _warnings(scene, laid, solvent),
        )  # fmt: skip
        if scene.known is None:
            return replace(table, ready=False)
        if scene.modelled(layers) is None:
            pencils = scene.known.survey.pencils
            names = [f"{c.code} {c.name}" for c in (one.pencil.colour for one in laid) if c.id not in pencils]
            problem = f"{' and '.join(names)} cannot be modelled: swatch it, or see why on its page."
            return replace(table, problem=problem)
        return _ordered(scene, layers, solvent, table)


def _ordered(scene: Scene, layers: Sequence[Layer[int]], solvent: bool, table: LaidOut) -> LaidOut:
    """All orders, and how the first two part."""
    each = orders(layers)
    results = look_at(scene, each, solvent)
    steps = [tuple(order[: i + 1]) for order in each for i in range(len(order))]
    after = iter(look_at(scene, steps))
    ordered = []
    for order, result in zip(each, results, strict=True):
        laid = owned_layers(scene, order)
        seen = tuple(one for one in (next(after) for _ in laid) if one is not None)
        assert result is not None, "every pencil is fitted"
        ordered.append(Order(laid, layers_in_words(laid), result, seen))
    if len(ordered) == 1:
        return replace(table, orders=(ordered[0],))
    first, second = (np.array(order.result.patch.lab) for order in ordered[:2])
    table = replace(table, orders=tuple(ordered), apart=difference(first, second))
    if all(order.result.trust is Trust.MEASURED for order in ordered[:2]):
        return table
    both = predict_stacks([scene.modelled(order) or [] for order in each[:2]], scene.fit, solvent)
    return replace(table, plus_minus=both.radius_between(0, 1))


def _warnings(scene: Scene, laid: Sequence[Laid], solvent: bool) -> tuple[str, ...]:
    """What speaks against laying this."""
    warnings, paper = [], scene.paper
    passes = sum(one.layers for one in laid)
    if passes > paper.most_layers:
        warnings.append(f"That is {passes} layers; {paper.name} takes {paper.most_layers}.")
    if solvent and not paper.stands_solvent:
        warnings.append(f"{paper.name} does not stand solvent.")
    if solvent and passes < _LEAST_FOR_SOLVENT:
        warnings.append("Solvent needs at least three layers, or there is too little wax to dissolve.")
    last, colour = laid[-1], laid[-1].pencil.colour
    if last.pressure == Pressure.BURNISH:
        heavy = scene.look(Layer(colour.id, Pressure.HEAVY))
        masstone = np.array(heavy.patch.lab) if heavy is not None else None
        if unfit_for(Role.BURNISHER, Ability(colour.opacity, masstone)) is not None:
            warnings.append(f"{colour.code} {colour.name} is dark for burnishing: it will darken all of it.")
    return tuple(warnings)
