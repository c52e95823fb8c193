"""The drawing pair of a zone of a mark: which grain mask, and which film colour under it.

A zone on the screen is a film colour seen through a grain mask, on the paper's colour. The pair is
chosen so that the zone's average light is that of the zone's Lab. Averages are taken in linear light,
because that is what the eye does with grain too fine to see (Murray–Davies on a screen).
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import Lab, as_lab
from tidy_tinder.core.reflectance.colorimetry import (
    decode_srgb,
    encode_srgb,
    lab_to_linear_rgb,
    linear_rgb_to_lab,
    on_screen,
)
from tidy_tinder.core.vocabulary import Pressure

# How much of the paper a pencil usually covers at heavy, medium and light pressure (ours).
USUAL_COVERAGE = {Pressure.HEAVY: 0.9, Pressure.MEDIUM: 0.7, Pressure.LIGHT: 0.45}

_STEPS = np.arange(5, 101, 5)

# Halvings of [0, 1] until the film's 8-bit code cannot change any more.
_HALVINGS = 12

# Share of linear light by which a zone may miss its Lab before the next denser mask is tried.
_REACHED = 0.0008


@dataclass(frozen=True)
class DrawingPairs:
    """How N zones are drawn.

    mask_step: (N,) grain mask in percent, 5 to 100. film: (N, 3) encoded sRGB as 0 … 255. mean: (N, 3)
    the Lab that the screen's average gives. on_screen: (N,) False where the screen cannot show the Lab.
    """

    mask_step: NDArray[np.int64]
    film: NDArray[np.int64]
    mean: Lab
    on_screen: NDArray[np.bool_]


@cache
def _masks() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Opacities (5,) as 0 … 1 and the share of each in every mask, (20, 5) (tools/derive_grain.py)."""
    text = resources.files(__package__).joinpath("grain_masks.json").read_text(encoding="utf-8")
    table = json.loads(text)
    shares = np.array([table["shares"][str(step)] for step in _STEPS])
    return np.asarray(table["opacities"]) / 255.0, shares


def drawing_pairs(lab: ArrayLike, paper: ArrayLike, coverage: ArrayLike) -> DrawingPairs:
    """Mask and film for zones of mean `lab` (N, 3) on `paper` (N, 3) or (3,), D65, 2°.

    coverage (N,) or a number: the share of paper that the pencil covers; the mask starts there and is
    raised in steps of 5 % until a film that the screen can show gives the mean, to 100 % if need be.
    Colours beyond the screen's range get the nearest that each channel can do and are flagged.

    Raises ShapeError where `lab` is not (N, 3).
    """
    target = as_lab(lab)
    if target.ndim != 2:
        raise ShapeError(f"lab must be (N, 3), not {target.shape}.")
    wanted = lab_to_linear_rgb(target)
    screen_paper = np.broadcast_to(np.rint(encode_srgb(lab_to_linear_rgb(paper)) * 255) / 255, target.shape)
    opacities, shares = _masks()
    start = np.clip(np.rint(np.broadcast_to(coverage, target.shape[:1]) * 20).astype(int) - 1, 0, 19)
    chosen = _first_that_reaches(wanted, screen_paper, start, opacities, shares)
    film = _solve_film(wanted, screen_paper, shares[chosen], opacities)
    mean = _mean_light(film / 255.0, screen_paper, shares[chosen], opacities)
    return DrawingPairs(_STEPS[chosen], film, linear_rgb_to_lab(mean), on_screen(wanted))


def _mean_light(
    film: NDArray[np.float64], paper: NDArray[np.float64], shares: NDArray[np.float64], opacities: NDArray[np.float64]
) -> NDArray[np.float64]:  # fmt: skip
    """Mean linear light (N, 3) of `film` (N, 3) through masks (N, 5): the browser blends encoded values."""
    blended = film[:, None, :] * opacities[:, None] + paper[:, None, :] * (1.0 - opacities[:, None])
    result: NDArray[np.float64] = np.einsum("ns,nsc->nc", shares, decode_srgb(blended))
    return result


def _first_that_reaches(
    wanted: NDArray[np.float64], paper: NDArray[np.float64], start: NDArray[np.int64],
    opacities: NDArray[np.float64], shares: NDArray[np.float64],
) -> NDArray[np.int64]:  # fmt: skip
    """Index of the first mask from `start` up through which some film gives `wanted`; else the last."""
    chosen = start.copy()
    reachable = np.clip(wanted, 0.0, 1.0)
    lacking = np.arange(len(chosen))
    for _ in _STEPS:
        here, ground = shares[chosen[lacking]], paper[lacking]
        darkest = _mean_light(np.zeros_like(ground), ground, here, opacities)
        lightest = _mean_light(np.ones_like(ground), ground, here, opacities)
        inside = (reachable[lacking] >= darkest - _REACHED) & (reachable[lacking] <= lightest + _REACHED)
        lacking = lacking[~np.all(inside, axis=-1) & (chosen[lacking] < len(_STEPS) - 1)]
        if not lacking.size:
            break
        chosen[lacking] += 1
    return chosen


def _solve_film(
    wanted: NDArray[np.float64], paper: NDArray[np.float64], shares: NDArray[np.float64], opacities: NDArray[np.float64]
) -> NDArray[np.int64]:  # fmt: skip
    """Film (N, 3) as 0 … 255 whose mean light is `wanted`, by bisection: the mean rises with the film."""
    low, high = np.zeros_like(wanted), np.ones_like(wanted)
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        too_dark = _mean_light(middle, paper, shares, opacities) < wanted
        low, high = np.where(too_dark, middle, low), np.where(too_dark, high, middle)
    return np.rint(0.5 * (low + high) * 255).astype(np.int64)
