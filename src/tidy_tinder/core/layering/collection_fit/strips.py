"""What a strip of layers, made on a scrap and measured, tells of the pencils in it.

The measured stack is one more look at what its pencils' own swatches leave open, their scattering above all. Its
unknowns are moved to the most likely ones by the steps of an iterated extended Kalman filter (Bell and Cathey 1993;
from memory), beginning from the fits and their covariance. Papers learn from swatches alone: what is doubtful of the
paper is noise here (Schmidt 1966, a filter that considers but does not estimate; from memory).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.layering.collection_fit.overlap import check_measured
from tidy_tinder.core.layering.fitting.evidence import READING_SD, UNKNOWNS
from tidy_tinder.core.layering.fitting.paper_unknowns import PAPER_UNKNOWNS, SHIFT
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.stack import stack_each
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import (
    FittedLayer,
    missed_alike,
    modelled_layers,
    off_model_of_stacks,
    slip_variance,
)
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab

_Array = NDArray[np.float64]

# Steps of an unknown over which slopes are taken; all unknowns are logarithms or coefficients of one.
_STEP = 1e-3
_ROUNDS = 2
# What a strip differs from the model by is for the greater part how layers take to one another, which the strip of the
# other order shares: its variance counts this much more. With 1 single marks of the demo grew worse by .1 ΔE00, with 4
# none did and stacks gained nearly as much (docs/model.md).
_SHARED = 4.0
# A reading farther from what was expected than this many standard deviations (of three numbers together) is believed
# less and less: a strip that was made or read otherwise than it says must not bend its pencils.
_KNEE = 3.0
# The shift of a paper moves pencils by what they leave open, whatever they followed.
_BUT_SHIFT = np.arange(PAPER_UNKNOWNS) != SHIFT


@dataclass(frozen=True)
class SeenStrip:
    """A measured stack: its layers, the lowest first, on a paper by its key; Lab (3,), D65, 2°, with its noise in
    ΔE*ab; whether solvent dissolved it.
    """

    paper: int
    layers: tuple[Layer[int], ...]
    lab: Lab
    noise: float = READING_SD
    solvent: bool = False


def learn_from_strips(
    strips: Sequence[SeenStrip], pencils: Mapping[int, PencilFit], papers: Mapping[int, PaperFit]
) -> dict[int, PencilFit]:
    """Pencils after these strips, one strip after another; a pencil that is in none stays as it is.

    Strips of pencils or papers that are not known are passed over. Raises OutOfRangeError for an unknown pressure,
    ShapeError for a strip without a layer.
    """
    known = dict(pencils)
    for strip in strips:
        if not strip.layers:
            raise ShapeError("A strip has at least one layer.")
        check_measured(strip.lab, strip.noise)
        keys = tuple(dict.fromkeys(one.pencil for one in strip.layers))
        if strip.paper in papers and all(key in known for key in keys):
            learned = _Strip(strip, keys, papers[strip.paper]).learn([known[key] for key in keys])
            known.update(zip(keys, learned, strict=True))
    return known


@dataclass(frozen=True)
class _Strip:
    """One strip, the keys of its pencils without repetition, and the paper it is on."""

    seen: SeenStrip
    keys: tuple[int, ...]
    paper: PaperFit

    def learn(self, pencils: Sequence[PencilFit]) -> list[PencilFit]:
        """Its pencils, the most likely after it, each with its own part of the doubt that is left."""
        before = np.concatenate([pencil.unknowns for pencil in pencils])
        covariance = _block_diagonal([pencil.covariance for pencil in pencils])
        at = before
        for _ in range(_ROUNDS):
            lab, slopes = self._look(pencils, at)
            by_paper = self._by_paper(pencils, at, lab)
            noise = self._noise(pencils, lab) + by_paper @ self.paper.covariance @ by_paper.T
            missed = self.seen.lab - lab - slopes @ (before - at)
            noise = noise * _doubt(missed, slopes @ covariance @ slopes.T + noise)
            gain = covariance @ slopes.T @ np.linalg.inv(slopes @ covariance @ slopes.T + noise)
            at = before + gain @ missed
        left = np.eye(before.size) - gain @ slopes
        # Joseph's form, which stays a covariance whatever is rounded.
        after = left @ covariance @ left.T + gain @ noise @ gain.T
        follows = np.concatenate([pencil.follows for pencil in pencils])
        # Were the paper at home another, the strip would have been expected otherwise, and would have told otherwise.
        by_home = slopes @ follows if self.paper.fitted_at is None else by_paper * _BUT_SHIFT
        follows = follows - gain @ by_home
        own = [slice(i * UNKNOWNS, (i + 1) * UNKNOWNS) for i in range(len(pencils))]
        return [
            replace(
                p, unknowns=at[s], covariance=after[s, s], follows=follows[s],
                erred_alike=left[s, s] @ p.erred_alike @ left[s, s].T,
            )
            for p, s in zip(pencils, own, strict=True)
        ]  # fmt: skip

    def _look(self, pencils: Sequence[PencilFit], at: _Array) -> tuple[Lab, _Array]:
        """Lab (3,) of the strip with these unknowns, and its slopes (3, unknowns)."""
        labs = self._labs(pencils, [at, *(at + _STEP * row for row in np.eye(at.size))], self.paper)
        return labs[0], (labs[1:] - labs[0]).T / _STEP

    def _by_paper(self, pencils: Sequence[PencilFit], at: _Array, lab: Lab) -> _Array:
        """Slopes (3, 9) of the strip's Lab by the paper's unknowns."""
        moved = [replace(self.paper, unknowns=self.paper.unknowns + _STEP * row) for row in np.eye(PAPER_UNKNOWNS)]
        return np.stack([(self._labs(pencils, [at], paper)[0] - lab) / _STEP for paper in moved], axis=1)

    def _noise(self, pencils: Sequence[PencilFit], lab: Lab) -> _Array:
        """Covariance (3, 3) of what is neither the pencils' nor the paper's: the model, the hand, the reading."""
        layers = self._layers(pencils)
        off = _SHARED * off_model_of_stacks(lab[None], [layers], self.paper, self.seen.solvent)[0]
        off = off + slip_variance(layers, self.paper, self.seen.solvent)
        alike = missed_alike(layers) ** 2 + self.seen.noise**2
        return np.asarray(off + alike * np.eye(3))

    def _labs(self, pencils: Sequence[PencilFit], tried: Sequence[_Array], paper: PaperFit) -> Lab:
        """Lab (N, 3) of the strip at each of these unknowns of its pencils."""
        stacks = []
        for at in tried:
            moved = [replace(p, unknowns=at[i * UNKNOWNS : (i + 1) * UNKNOWNS]) for i, p in enumerate(pencils)]
            stacks.append(modelled_layers(self._layers(moved), paper))
        made = stack_each(stacks, paper.model, self.seen.solvent)
        return reflectance_to_lab(add_surface(np.stack([one.body for one in made])))

    def _layers(self, pencils: Sequence[PencilFit]) -> list[FittedLayer]:
        by_key = dict(zip(self.keys, pencils, strict=True))
        return [one.of(by_key[one.pencil]) for one in self.seen.layers]


def _doubt(missed: _Array, expected: _Array) -> float:
    """By how much the noise is raised for a reading that lies far from what was expected."""
    away = float(np.sqrt(missed @ np.linalg.solve(expected, missed)))
    return max(1.0, away / _KNEE) ** 2


def _block_diagonal(blocks: Sequence[_Array]) -> _Array:
    size = sum(len(block) for block in blocks)
    whole, start = np.zeros((size, size)), 0
    for block in blocks:
        whole[start : start + len(block), start : start + len(block)] = block
        start += len(block)
    return whole
