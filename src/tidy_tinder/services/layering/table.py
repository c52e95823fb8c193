"""The layering table: two or three pencils laid over one another on the paper at hand, in every order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import LaidLayer, orders
from tidy_tinder.core.standins.roles import Ability, unfit_for
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.marks import Patch, Trust, find_paper, paper_lab, patch
from tidy_tinder.services.collection.predictions import paper_fit
from tidy_tinder.services.collection.stacks import (
    Laid,
    Seen,
    all_dressed,
    check_layers,
    dressed,
    fitted_layers,
    layers_in_words,
    look_at,
    mark_of,
)
from tidy_tinder.storage.models import PRESSURES, Paper

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
    measured; passes_left: how many
    more layers the paper takes; warnings: what speaks against it.
    """

    ready: bool
    problem: str
    ground: Patch
    alone: tuple[Alone, ...]
    orders: tuple[Order, ...]
    apart: Difference | None
    plus_minus: float | None
    passes_left: int
    warnings: tuple[str, ...]


def lay_out(
    collection: Collection, paper_id: int, layers: Sequence[LaidLayer], solvent: bool = False
) -> LaidOut:  # fmt: skip
    """What layers look like on a paper in every order. Raises NotFoundError, RefusedError."""
    check_layers(layers)
    with collection() as session:
        paper, laid = find_paper(session, paper_id), dressed(session, layers)
        alone = tuple(
            Alone(one, mark_of(session, paper, layer) if layer.pressure in PRESSURES else None)
            for one, layer in zip(laid, layers, strict=True)
        )
        left = paper.most_layers - sum(one.layers for one in layers)
        told = LaidOut(
            True, "", patch(paper_lab(paper)), alone, (), None, None, left, _warnings(session, paper, laid, solvent)
        )  # fmt: skip
        known = fitted(session)
        if known is None:
            return replace(told, ready=False)
        if fitted_layers(known, layers) is None:
            names = [f"{x.colour.code} {x.colour.name}" for x in laid if x.colour.id not in known.survey.pencils]
            return replace(
                told, problem=f"{' and '.join(names)} cannot be modelled: swatch it, or see why on its page."
            )
        return _ordered(session, known, paper, layers, solvent, told)


def _ordered(
    session: Session, known: Fitted, paper: Paper, layers: Sequence[LaidLayer], solvent: bool, told: LaidOut
) -> LaidOut:
    """All orders, and how the first two part."""
    each = orders(layers)
    results = look_at(session, paper, known, each, solvent)
    steps = [tuple(order[: i + 1]) for order in each for i in range(len(order))]
    after = iter(look_at(session, paper, known, steps))
    found = []
    for laid, result in zip(all_dressed(session, each), results, strict=True):
        seen = tuple(one for one in (next(after) for _ in laid) if one is not None)
        assert result is not None, "every pencil is fitted"
        found.append(Order(laid, layers_in_words(laid), result, seen))
    if len(found) == 1:
        return replace(told, orders=(found[0],))
    first, second = (np.array(order.result.patch.lab) for order in found[:2])
    told = replace(told, orders=tuple(found), apart=difference(first, second))
    if all(order.result.trust is Trust.MEASURED for order in found[:2]):
        return told
    fit = paper_fit(known, paper)
    both = predict_stacks([fitted_layers(known, order) or [] for order in each[:2]], fit, solvent)
    return replace(told, plus_minus=both.radius_between(0, 1))


def _warnings(session: Session, paper: Paper, laid: Sequence[Laid], solvent: bool) -> tuple[str, ...]:
    """What speaks against laying this."""
    found = []
    passes = sum(one.layers for one in laid)
    if passes > paper.most_layers:
        found.append(f"That is {passes} layers; {paper.name} takes {paper.most_layers}.")
    if solvent and not paper.stands_solvent:
        found.append(f"{paper.name} does not stand solvent.")
    if solvent and passes < _LEAST_FOR_SOLVENT:
        found.append("Solvent needs at least three layers, or there is too little wax to dissolve.")
    last = laid[-1]
    if last.pressure == "burnish":
        heavy = mark_of(session, paper, LaidLayer(last.colour.id, "heavy"))
        masstone = np.array(heavy.patch.lab) if heavy is not None else None
        if unfit_for("burnisher", Ability(last.colour.opacity, masstone)) is not None:
            found.append(f"{last.colour.code} {last.colour.name} is dark for burnishing: it will darken all of it.")
    return tuple(found)
