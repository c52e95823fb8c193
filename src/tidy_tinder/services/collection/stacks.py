"""Layers as the artist lays them: which pencils, how, in words, and what they look like on a paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_hand import Owning, at_hand_now
from tidy_tinder.services.collection.marks import Patch, Trust, known_marks, patch
from tidy_tinder.services.collection.predictions import paper_fit, predictions_on
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.tidy.shelves import existing
from tidy_tinder.storage.models import LAID_PRESSURES, PRESSURES, Paper, Scrap
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour
from tidy_tinder.storage.queries.scraps import scrap_rows

# What can be laid over one another at once: more pencils than three are a passage, which a recipe holds.
MOST_PENCILS = 3
MOST_LAYERS = 12
_COUNTS = ("no", "one", "two", "three", "four", "five", "six")


@dataclass(frozen=True)
class Laid:
    """One pencil and how it is laid."""

    colour: ColourRow
    owning: Owning
    pressure: str
    layers: int


@dataclass(frozen=True)
class Seen:
    """What layers look like: measured on a scrap, or predicted, band being the ΔE00 within which nine of ten lie."""

    patch: Patch
    trust: Trust
    band: float | None


def layers_in_words(laid: Sequence[Laid]) -> str:
    """As a person would say it: “two light layers of Heron 119, then one medium layer of Tallow M33 over it”."""
    said = []
    for one in laid:
        count = _COUNTS[one.layers] if one.layers < len(_COUNTS) else str(one.layers)
        plural = "" if one.layers == 1 else "s"
        if one.pressure == "burnish":
            said.append(f"burnished with {one.colour.range_name} {one.colour.code}")
            continue
        said.append(f"{count} {one.pressure} layer{plural} of {one.colour.range_name} {one.colour.code}")
    if len(said) == 1:
        return said[0]
    return ", then ".join(said) + ("" if laid[-1].pressure == "burnish" else " over it")


def dressed(session: Session, layers: Sequence[LaidLayer]) -> tuple[Laid, ...]:
    """Layers with their colours and how these are owned. Raises NotFoundError for an unknown colour."""
    return all_dressed(session, [layers])[0]


def all_dressed(session: Session, stacks: Sequence[Sequence[LaidLayer]]) -> tuple[tuple[Laid, ...], ...]:
    """The same for many stacks at once."""
    rows = existing(session, [one.pencil for layers in stacks for one in layers])
    hand, pencils = at_hand_now(session), pencils_by_colour(session)
    return tuple(
        tuple(
            Laid(rows[one.pencil], hand.owning(pencils.get(one.pencil, ())), one.pressure, one.layers) for one in layers
        )
        for layers in stacks
    )


def check_layers(layers: Sequence[LaidLayer]) -> None:
    """Raises RefusedError where nothing, too much, or something unheard of would be laid."""
    if not 1 <= len(layers) <= MOST_PENCILS + 1:
        raise RefusedError(f"One to {MOST_PENCILS} pencils are laid, and one may burnish them.")
    for i, one in enumerate(layers):
        if one.pressure not in LAID_PRESSURES:
            raise RefusedError(f"“{one.pressure}” is no pressure; it is {', '.join(LAID_PRESSURES)}.")
        if not 1 <= one.layers <= MOST_LAYERS:
            raise RefusedError(f"A pencil is laid in 1 to {MOST_LAYERS} layers, not {one.layers}.")
        if one.pressure == "burnish" and i < len(layers) - 1:
            raise RefusedError("Burnishing comes last: nothing is laid over what is rubbed smooth.")
    if layers[-1].pressure != "burnish" and len(layers) > MOST_PENCILS:
        raise RefusedError(f"One to {MOST_PENCILS} pencils are laid, not {len(layers)}.")


def fitted_layers(known: Fitted, layers: Sequence[LaidLayer]) -> list[FittedLayer] | None:
    """The same with fitted pencils; None where one of them is not modelled."""
    pencils = known.survey.pencils
    if any(one.pencil not in pencils for one in layers):
        return None
    return [FittedLayer(pencils[one.pencil], one.pressure, one.layers) for one in layers]


class Strips:
    """How layers were measured on scraps of one paper, by the layers and whether solvent went over them."""

    def __init__(self, session: Session, paper_id: int) -> None:
        self._seen: dict[tuple[tuple[LaidLayer, ...], bool], Patch] = {}
        for row in reversed(scrap_rows(session, Scrap.paper_id == paper_id)):
            for read in row.readings:
                self._seen[(row.as_read(read), row.finish == "solvent")] = patch(read.lab)

    def of(self, layers: Sequence[LaidLayer], solvent: bool = False) -> Patch | None:
        """The newest reading of exactly these layers, the lowest first."""
        return self._seen.get((tuple(layers), solvent))


def mark_of(session: Session, paper: Paper, layer: LaidLayer) -> Seen | None:
    """The mark of one pencil as it is laid: measured before predicted; None where nothing is known."""
    measured = known_marks(session, paper).get(layer.pencil, {}).get((layer.pressure, layer.layers))
    if measured is not None:
        return Seen(patch(measured.lab), Trust.MEASURED, None)
    told = predictions_on(session, paper, layer.layers).of(layer.pencil, layer.pressure)
    return None if told is None else Seen(patch(told.lab), Trust.PREDICTED, told.band)


def look_at(
    session: Session, paper: Paper, known: Fitted, stacks: Sequence[Sequence[LaidLayer]], solvent: bool = False
) -> tuple[Seen | None, ...]:
    """What stacks look like on a paper: measured before predicted, None where one is not modelled."""
    strips, predicted = Strips(session, paper.id), predicted_stacks(known, paper, stacks, solvent)
    found: list[Seen | None] = []
    for layers, told in zip(stacks, predicted, strict=True):
        measured = strips.of(layers, solvent)
        if measured is not None:
            found.append(Seen(measured, Trust.MEASURED, None))
        elif len(layers) == 1 and not solvent and layers[0].pressure in PRESSURES:
            # One pencil by itself is a mark, as swatches and predictions of marks have it.
            found.append(mark_of(session, paper, layers[0]))
        else:
            found.append(told)
    return tuple(found)


def predicted_stacks(
    known: Fitted, paper: Paper, stacks: Sequence[Sequence[LaidLayer]], solvent: bool
) -> tuple[Seen | None, ...]:
    """The same as predicted, whatever was measured."""
    fitted = [fitted_layers(known, layers) for layers in stacks]
    told = predict_stacks([layers for layers in fitted if layers is not None], paper_fit(known, paper), solvent)
    # No paper shows more than the scale of Lab holds; a doubtful stack may be predicted a hair beyond.
    labs = iter(zip(np.clip(told.lab, (0, -200, -200), (100, 200, 200)), told.radius, strict=True))
    found: list[Seen | None] = []
    for layers in fitted:
        lab, radius = next(labs) if layers is not None else (None, 0.0)
        found.append(None if lab is None else Seen(patch(lab), Trust.PREDICTED, float(radius)))
    return tuple(found)
