"""How much layers cover: the opacity test of a stack as the model foretells it, over white and over a black bar."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tidy_tinder.core.layering.fitting.evidence import BLACK_BAR
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.stack import stack_each
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, modelled_layers
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.swatching.opacity import OpacityTest, opacity_test

# White drawing paper, whatever paper is at hand: on a toned one the ratio would say nothing of the layers.
_WHITE = strip_surface(np.full(BANDS.size, 0.85))


def opacity_of_stacks(stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit) -> tuple[OpacityTest, ...]:
    """The opacity test of each stack on the tooth of a paper. Raises OutOfRangeError for an unknown pressure."""
    if not stacks:
        return ()
    layered = [modelled_layers(layers, paper) for layers in stacks]
    white, black = (
        reflectance_to_lab(
            add_surface(np.stack([one.body for one in stack_each(layered, replace(paper.model, body=body))]))
        )
        for body in (_WHITE, BLACK_BAR)
    )
    return tuple(opacity_test(over_white, over_black) for over_white, over_black in zip(white, black, strict=True))
