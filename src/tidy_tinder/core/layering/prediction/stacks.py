"""Layers of fitted pencils on a fitted paper: what they most likely look like, and how far off that may be.

The doubts of each pencil and of the paper are carried through the stack by steps of one standard deviation along
their principal axes. What a pencil's own marks leave over of the model is not expected again in a stack: with it
stacks of two were no nearer to the truth in any of five worlds.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.stack import Stacked, stack_each
from tidy_tinder.core.layering.optics.tooth import PencilModel
from tidy_tinder.core.layering.prediction.marks import PaperFit, off_model, pencil_on
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab

_Array = NDArray[np.float64]

# Standard deviation in ΔE*ab that each further deposit adds to what a single mark is off the model by. With it nine
# of ten stacks of two lie within their band (docs/benchmarks.md, two layers of two pencils).
_LAYERED_SD = 1.1
# And that solvent adds: of it the model is sure least. With 3, 92 of 100 stacks of two and three lie within their band
# in five worlds, with nothing 73 (docs/model.md).
_SOLVENT_SD = 3.0
# Principal axes of a pencil's doubt that are followed, of eleven: with these nine of ten still lie within the band.
_AXES = 6
# Share of what readings differ from the model by that two stacks on one paper do not have in common.
_UNSHARED = 0.3


FittedLayer: TypeAlias = Layer[PencilFit]
"""Some layers of one fitted pencil."""


@dataclass(frozen=True, eq=False)
class StackPrediction:
    """What N stacks look like: Lab (N, 3), D65, 2°; after[i], Lab (deposits, 3) after each deposit of stack i; the
    ΔE00 (N,) within which nine of ten lie; the share of the tooth (N,) that is still free.

    steps: for each stack, by pencil (its identity; 0 is the paper), what a standard deviation along each axis of its
    doubt moves Lab by (axes, 3). off: covariance (N, 3, 3) by which readings differ from the model.
    """

    lab: Lab
    after: tuple[Lab, ...]
    radius: DeltaE
    room: _Array
    steps: tuple[Mapping[int, _Array], ...]
    off: _Array

    def radius_between(self, i: int, j: int) -> float:
        """The ΔE00 within which the step from stack i to stack j is known, nine times of ten.

        What both rest on moves both, so that two passages that share their layers are told apart better than
        either is known.
        """
        moved = [
            self.steps[j].get(key, _STILL) - self.steps[i].get(key, _STILL) for key in {*self.steps[i], *self.steps[j]}
        ]
        covariance = sum((step.T @ step for step in moved), start=np.zeros((3, 3)))
        covariance = covariance + _UNSHARED * (self.off[i] + self.off[j])
        return float(radius(covariance, self.lab[i]))


_PAPER = 0
_STILL = np.zeros((1, 3))


def predict_stacks(
    stacks: Sequence[Sequence[FittedLayer]],
    paper: PaperFit,
    solvent: bool = False,
    doubted: Sequence[PencilFit] | None = None,
) -> StackPrediction:
    """Predict each stack of at least one layer, the first layer lowest, on one paper.

    doubted: whose doubts count, where only the steps between stacks are asked for and all others are in each of them;
    all by default. Raises OutOfRangeError for an unknown pressure, ShapeError for a stack without a layer.
    """
    if any(not layers for layers in stacks):
        raise ShapeError("A stack has at least one layer.")
    if not stacks:
        return StackPrediction(np.zeros((0, 3)), (), np.zeros(0), np.zeros(0), (), np.zeros((0, 3, 3)))
    models = _Models(paper)
    made = stack_each([_modelled(layers, models) for layers in stacks], paper.model, solvent)
    lab = _labs(made)
    after = tuple(reflectance_to_lab(add_surface(np.stack(one.after))) for one in made)
    counting = None if doubted is None else {id(pencil) for pencil in doubted}
    steps = _steps_by_pencil(stacks, paper, solvent, models, lab, counting)
    for i, by_paper in enumerate(_steps_by_paper(stacks, paper, solvent, lab)):
        steps[i][_PAPER] = by_paper
    off = _off_model(lab, [layers[-1].pencil for layers in stacks], [len(one.after) for one in made], paper, solvent)
    own = np.stack([sum((step.T @ step for step in each.values()), start=np.zeros((3, 3))) for each in steps])
    room = np.array([one.room for one in made])
    return StackPrediction(lab, after, radius(own + off, lab), room, tuple(steps), off)


def off_model_of_stack(lab: Lab, layers: Sequence[FittedLayer], paper: PaperFit, solvent: bool = False) -> _Array:
    """Covariance (3, 3) by which a reading of one stack, predicted as `lab` (3,), differs from the model."""
    return np.asarray(_off_model(np.asarray(lab)[None], [layers[-1].pencil], [_deposits_of(layers)], paper, solvent)[0])


def unshared_off_model(
    labs: Lab, stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit, solvent: bool = False
) -> _Array:
    """Covariance (N, 3, 3) by which readings of stacks, predicted as `labs` (N, 3), differ from the model by what they
    do not have in common with other stacks on the paper.
    """
    uppermost, deposits = [layers[-1].pencil for layers in stacks], [_deposits_of(layers) for layers in stacks]
    return _UNSHARED * _off_model(labs, uppermost, deposits, paper, solvent)


def doubted_models(pencil: PencilFit, paper: PaperFit, axes: int = _AXES) -> list[PencilModel]:
    """A pencil as a paper has it, a standard deviation along each of the longest axes of its doubt."""
    steps = _axes(pencil.covariance)[-axes:]
    return [pencil_on(replace(pencil, unknowns=pencil.unknowns + step), paper) for step in steps]


def doubted_papers(paper: PaperFit) -> list[PaperFit]:
    """A paper, a standard deviation along each axis of its doubt."""
    return [replace(paper, unknowns=paper.unknowns + step) for step in _axes(paper.covariance)]


def _deposits_of(layers: Sequence[FittedLayer]) -> int:
    """How many deposits a stack has."""
    return sum(
        i == 0 or one.pencil is not layers[i - 1].pencil or one.pressure != layers[i - 1].pressure
        for i, one in enumerate(layers)
    )


def _off_model(
    lab: Lab, uppermost: Sequence[PencilFit], deposits: Sequence[int], paper: PaperFit, solvent: bool
) -> _Array:
    """Covariance (N, 3, 3) by which readings of stacks differ from the model."""
    bare = reflectance_to_lab(add_surface(paper.body))
    further = np.maximum(np.asarray(deposits) - 1, 0)[:, None, None]
    variance = further * _LAYERED_SD**2 + solvent * _SOLVENT_SD**2
    return np.asarray(paper.spread * off_model(lab, bare, uppermost) + variance * np.eye(3))


def modelled_layers(layers: Sequence[FittedLayer], paper: PaperFit) -> list[Layer[PencilModel]]:
    """The layers of a stack with each pencil as a paper has it."""
    return _modelled(layers, _Models(paper))


class _Models:
    """Each fitted pencil as the paper has it, once."""

    def __init__(self, paper: PaperFit) -> None:
        self._paper = paper
        self._made: dict[int, PencilModel] = {}

    def of(self, pencil: PencilFit) -> PencilModel:
        if id(pencil) not in self._made:
            self._made[id(pencil)] = pencil_on(pencil, self._paper)
        return self._made[id(pencil)]


def _modelled(
    layers: Sequence[FittedLayer], models: _Models, instead: tuple[PencilFit, PencilModel] | None = None
) -> list[Layer[PencilModel]]:
    """The layers of a stack as models; one pencil's model may be exchanged."""
    return [
        one.of(instead[1] if instead is not None and one.pencil is instead[0] else models.of(one.pencil))
        for one in layers
    ]


def _labs(made: Sequence[Stacked]) -> Lab:
    return reflectance_to_lab(add_surface(np.stack([one.body for one in made])))


def _axes(covariance: _Array) -> _Array:
    """The steps of one standard deviation along the principal axes, the shortest first; one a row."""
    variances, axes = np.linalg.eigh(covariance)
    return np.asarray((axes * np.sqrt(np.maximum(variances, 0.0))).T)


def _steps_by_pencil(
    stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit, solvent: bool, models: _Models, lab: Lab,
    counting: set[int] | None,
) -> list[dict[int, _Array]]:  # fmt: skip
    """For each stack, by pencil, what its doubts move Lab by."""
    tried: list[list[Layer[PencilModel]]] = []
    of: list[tuple[int, int]] = []
    moved: dict[int, list[PencilModel]] = {}
    for i, layers in enumerate(stacks):
        for pencil in {id(one.pencil): one.pencil for one in layers}.values():
            if counting is not None and id(pencil) not in counting:
                continue
            if id(pencil) not in moved:
                moved[id(pencil)] = doubted_models(pencil, paper)
            tried += [_modelled(layers, models, (pencil, model)) for model in moved[id(pencil)]]
            of.append((i, id(pencil)))
    labs = _labs(stack_each(tried, paper.model, solvent)).reshape(-1, _AXES, 3) if tried else np.zeros((0, _AXES, 3))
    by_pencil: list[dict[int, _Array]] = [{} for _ in stacks]
    for (i, key), seen in zip(of, labs, strict=True):
        by_pencil[i][key] = seen - lab[i]
    return by_pencil


def _steps_by_paper(
    stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit, solvent: bool, lab: Lab
) -> _Array:  # fmt: skip
    """What the doubts of the paper move Lab by (N, axes, 3)."""
    seen = []
    for other in doubted_papers(paper):
        models = _Models(other)
        seen.append(_labs(stack_each([_modelled(layers, models) for layers in stacks], other.model, solvent)) - lab)
    return np.stack(seen, axis=1)
