"""Layers as the artist lays them: what may be laid, in words, and what they look like on a paper."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeAlias

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import MARK_PRESSURES, MOST_LAYERS, MOST_PENCILS, Finish, Pressure
from tidy_tinder.services.collection.at_hand import OwnedColour
from tidy_tinder.services.collection.patches import Patch, Seen, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.storage.models import Scrap
from tidy_tinder.storage.queries.scraps import scrap_rows

Laid: TypeAlias = Layer[OwnedColour]
"""One pencil, how it is owned and how it is laid."""

_COUNTS = ("no", "one", "two", "three", "four", "five", "six")


def layers_in_words(laid: Sequence[Laid]) -> str:
    """As a person would say it: “two light layers of Heron 119, then one medium layer of Tallow M33 over it”."""
    words = []
    for one in laid:
        name = f"{one.pencil.colour.range_name} {one.pencil.colour.code}"
        count = _COUNTS[one.layers] if one.layers < len(_COUNTS) else str(one.layers)
        plural = "" if one.layers == 1 else "s"
        if one.pressure == Pressure.BURNISH:
            words.append(f"burnished with {name}")
        else:
            words.append(f"{count} {one.pressure} layer{plural} of {name}")
    if len(words) == 1:
        return words[0]
    return ", then ".join(words) + ("" if laid[-1].pressure == Pressure.BURNISH else " over it")


def owned_layers(scene: Scene, layers: Sequence[Layer[int]]) -> tuple[Laid, ...]:
    """Layers with their colours and how these are owned. Raises NotFoundError for an unknown colour."""
    return tuple(scene.owned(one) for one in layers)


def check_layers(layers: Sequence[Layer[int]]) -> None:
    """Raises RefusedError where nothing, too much, or something unheard of would be laid."""
    if not 1 <= len(layers) <= MOST_PENCILS + 1:
        raise RefusedError(f"One to {MOST_PENCILS} pencils are laid, and one may burnish them.")
    for i, one in enumerate(layers):
        if one.pressure not in tuple(Pressure):
            raise RefusedError(f"“{one.pressure}” is no pressure; it is {', '.join(Pressure)}.")
        if not 1 <= one.layers <= MOST_LAYERS:
            raise RefusedError(f"A pencil is laid in 1 to {MOST_LAYERS} layers, not {one.layers}.")
        if one.pressure == Pressure.BURNISH and i < len(layers) - 1:
            raise RefusedError("Burnishing comes last: nothing is laid over what is rubbed smooth.")
    if layers[-1].pressure != Pressure.BURNISH and len(layers) > MOST_PENCILS:
        raise RefusedError(f"One to {MOST_PENCILS} pencils are laid, not {len(layers)}.")


class Strips:
    """How layers were measured on scraps of one paper, by the layers and whether solvent went over them."""

    def __init__(self, session: Session, paper_id: int) -> None:
        self._seen: dict[tuple[tuple[Layer[int], ...], bool], Patch] = {}
        for row in reversed(scrap_rows(session, Scrap.paper_id == paper_id)):
            for read in row.readings:
                self._seen[(row.as_read(read), row.finish == Finish.SOLVENT)] = patch(read.lab)

    def of(self, layers: Sequence[Layer[int]], solvent: bool = False) -> Patch | None:
        """The newest reading of exactly these layers, the lowest first."""
        return self._seen.get((tuple(layers), solvent))


def look_at(scene: Scene, stacks: Sequence[Sequence[Layer[int]]], solvent: bool = False) -> tuple[Seen | None, ...]:
    """What stacks look like on a paper: measured before predicted, None where one is not modelled."""
    strips, predicted = Strips(scene.session, scene.paper.id), predicted_stacks(scene, stacks, solvent)
    seen: list[Seen | None] = []
    for layers, as_predicted in zip(stacks, predicted, strict=True):
        measured = strips.of(layers, solvent)
        if measured is not None:
            seen.append(Seen(measured, Trust.MEASURED, None))
        elif len(layers) == 1 and not solvent and layers[0].pressure in MARK_PRESSURES:
            # One pencil by itself is a mark, as swatches and predictions of marks have it.
            seen.append(scene.look(layers[0]))
        else:
            seen.append(as_predicted)
    return tuple(seen)


def predicted_stacks(scene: Scene, stacks: Sequence[Sequence[Layer[int]]], solvent: bool) -> tuple[Seen | None, ...]:
    """The same as predicted, whatever was measured."""
    modelled = [scene.modelled(layers) for layers in stacks]
    prediction = predict_stacks([layers for layers in modelled if layers is not None], scene.fit, solvent)
    # No paper shows more than the scale of Lab holds; a doubtful stack may be predicted a hair beyond.
    labs = iter(zip(np.clip(prediction.lab, (0, -200, -200), (100, 200, 200)), prediction.radius, strict=True))
    seen: list[Seen | None] = []
    for layers in modelled:
        lab, radius = next(labs) if layers is not None else (None, 0.0)
        seen.append(None if lab is None else Seen(patch(lab), Trust.PREDICTED, float(radius)))
    return tuple(seen)
