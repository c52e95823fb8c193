"""Layers of fitted pencils on a fitted paper: what they most likely look like, and how far off that may be.

The doubts of each pencil, of the paper and of the hand are carried through the stack by its slopes. One layer alone is
the mark that `marks` predicts. What a pencil's own marks leave over of the model is not expected again under or over
others: with it stacks of two were no nearer to the truth in any of five worlds.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import TypeAlias, TypeVar

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.layering.fitting.evidence import (
    BASIS,
    COSINES,
    LN_S,
    READING_SD,
    Kind,
    load_follows,
)
from tidy_tinder.core.layering.fitting.misfit import misfit_sd
from tidy_tinder.core.layering.fitting.paper_unknowns import CHANCE, HELD, PAPER_UNKNOWNS, paper_follows
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.stack import Stacked, deposits_of, stack_each
from tidy_tinder.core.layering.optics.stack_response import LayerResponse, StackResponse, stack_responses
from tidy_tinder.core.layering.optics.tooth import PencilModel
from tidy_tinder.core.layering.prediction.marks import (
    AGAIN_SD,
    BURNISHED_SD,
    COMMON_SLIP,
    Looked,
    PaperFit,
    add_paper_slopes,
    ground_variance,
    look,
    pencil_on,
)
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]
P = TypeVar("P")

# Standard deviation in ΔE*ab that each deposit over another pencil adds to what a single mark is off the model by, and
# how unsure it is how much of several layers is one smeared film: what is off goes mostly that way (decision 0041).
_LAYERED_SD = 0.6
# And that n deposits over others add beside it, √(n(n − 1)) times: how layers take to one another the model misses
# alike in each, so that what is missed of many adds up. Stacks on one paper share it (decision 0048).
_ALIKE_SD = 0.7
_SMEARED_SD = 0.2
# And that burnishing over another pencil adds in the stead of what it adds on bare paper: it drags along and presses
# what lies below (decision 0054).
_BURNISHED_OVER_SD = 2.5
# And that solvent adds: of it the model is sure least. With 3, 92 of 100 stacks of two and three lie within their band
# in five worlds, with nothing 73 (docs/model.md).
_SOLVENT_SD = 3.0
# Share of what readings differ from the model by that two stacks on one paper do not have in common (decision 0041).
_UNSHARED = 0.5


FittedLayer: TypeAlias = Layer[PencilFit]
"""Some layers of one fitted pencil."""


@dataclass(frozen=True, eq=False)
class StackPrediction:
    """What N stacks look like: Lab (N, 3), D65, 2°; after[i], Lab (n, 3) after each pencil of stack i; the ΔE00 (N,)
    within which nine of ten lie; the share of the tooth (N,) that is still free.

    covariance: of Lab (N, 3, 3), all doubts together. steps: for each stack, by what is in doubt (a pencil, the paper,
    a slip of the hand), what a standard deviation along each axis of its doubt moves Lab by (axes, 3). off: covariance
    (N, 3, 3) by which readings differ from the model. by_overlap: slopes (N, 3, 2) of Lab by the logit of the share of
    a layer that misses by chance, and by ln of how much more a full tooth holds, with what of the pencils follows them.
    """

    lab: Lab
    after: tuple[Lab, ...]
    radius: DeltaE
    room: _Array
    covariance: _Array
    steps: tuple[Mapping[Hashable, _Array], ...]
    off: _Array
    by_overlap: _Array

    @property
    def of_a_steady_hand(self) -> _Array:
        """Covariance (N, 3, 3) of what the stacks look like when no hand slips and no reader errs."""
        slips = [[step for key, step in each.items() if isinstance(key, Slip)] for each in self.steps]
        by_hand = np.stack([sum((step.T @ step for step in each), start=np.zeros((3, 3))) for each in slips])
        return self.covariance - by_hand - READING_SD**2 * np.eye(3)

    def covariance_between(self, i: int, j: int) -> _Array:
        """Covariance (3, 3) of the step in Lab from stack i to stack j.

        What both rest on moves both, so that two passages that share their layers are told apart better than
        either is known. The hand lays the one or the other, and slips in it as it would in the other.
        """
        moved = [
            self.steps[j].get(key, _STILL) - self.steps[i].get(key, _STILL)
            for key in {*self.steps[i], *self.steps[j]}
            if not isinstance(key, Slip)
        ]
        covariance = sum((step.T @ step for step in moved), start=np.zeros((3, 3)))
        return np.asarray(covariance + _UNSHARED * (self.off[i] + self.off[j]))

    def radius_between(self, i: int, j: int) -> float:
        """The ΔE00 within which the step from stack i to stack j is known, nine times of ten."""
        return float(radius(self.covariance_between(i, j), self.lab[i]))


@dataclass(frozen=True)
class Slip:
    """A slip of the hand in one deposit of a stack, or in all of them together."""

    deposit: int | None


_PAPER, _SMEARED, _ALIKE = "paper", "smeared", "alike"
_STILL = np.zeros((1, 3))


def predict_stacks(
    stacks: Sequence[Sequence[FittedLayer]],
    paper: PaperFit,
    solvent: bool = False,
    doubted: Sequence[PencilFit] | None = None,
) -> StackPrediction:
    """Predict each stack of at least one layer, the first layer lowest, on one paper.

    doubted: whose doubts count, where only the steps between stacks are asked for and all others are in each of them;
    all by default. Raises OutOfRangeError for an unknown pressure and for fewer than one layer of a pencil, ShapeError
    for a stack without a layer.
    """
    if any(not layers for layers in stacks):
        raise ShapeError("A stack has at least one layer.")
    if not stacks:
        none = np.zeros((0, 3, 3))
        return StackPrediction(np.zeros((0, 3)), (), np.zeros(0), np.zeros(0), none, (), none, np.zeros((0, 3, 2)))
    models = _Models(paper)
    modelled = [_modelled(layers, models) for layers in stacks]
    made = stack_each(modelled, paper.model, solvent)
    labs, after = _labs(made), [reflectance_to_lab(add_surface(np.stack(one.after))) for one in made]
    responses = stack_responses(modelled, paper.model, solvent)
    slopes = [_slopes(layers, response, paper) for layers, response in zip(stacks, responses, strict=True)]
    counting = None if doubted is None else frozenset(doubted)
    steps = tuple(
        _steps(layers, response, by, paper, counting)
        for layers, response, by in zip(stacks, responses, slopes, strict=True)
    )
    off = off_model_of_stacks(labs, stacks, paper, solvent)
    own = np.stack([sum((step.T @ step for step in each.values()), start=np.zeros((3, 3))) for each in steps])
    marks = _marks_below(stacks, paper)
    for i, layers in enumerate(stacks):
        after[i][0] = marks.lab[i]
        if len(layers) == 1 and not solvent:
            labs[i], off[i], own[i] = marks.lab[i], marks.parts.rest[i], (marks.parts.whole - marks.parts.rest)[i]
    room = np.array([one.room for one in made])
    by_overlap = np.stack([by.paper[:, [CHANCE, HELD]] for by in slopes])
    return StackPrediction(labs, tuple(after), radius(own + off, labs), room, own + off, steps, off, by_overlap)


def _marks_below(stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit) -> Looked:
    """What is laid first in each stack, as the mark that it is by itself: each has one answer, whoever asks."""
    kinds = [Kind(layers[0].pressure, layers[0].layers) for layers in stacks]
    return look([layers[0].pencil for layers in stacks], paper, kinds)


@dataclass(frozen=True, eq=False)
class _Slopes:
    """Slopes of the Lab of one stack by the unknowns of each of its pencils (3, 14) and by those of its paper (3, 9),
    with what of the pencils follows it.
    """

    pencils: Mapping[PencilFit, _Array]
    paper: _Array


def _slopes(layers: Sequence[FittedLayer], response: StackResponse, paper: PaperFit) -> _Slopes:
    by_pencil: dict[PencilFit, _Array] = {}
    by_paper = np.zeros((3, PAPER_UNKNOWNS))
    for d, (pencil, pressure) in enumerate(deposits_of(layers)):
        of = LayerResponse(response.by_ln_k[d], response.by_ln_s[d], response.by_ln_offered[d])
        by_pencil[pencil] = by_pencil.get(pencil, 0.0) + slopes_of_layer(of, pressure)
        by_paper = by_paper + response.by_ln_offered[d][:, None] * paper_follows(pressure)
    add_paper_slopes(by_paper, response, by_pencil, paper)
    return _Slopes(by_pencil, by_paper)


def _steps(
    layers: Sequence[FittedLayer],
    response: StackResponse,
    by: _Slopes,
    paper: PaperFit,
    counting: frozenset[PencilFit] | None,
) -> dict[Hashable, _Array]:
    """By what is in doubt, what a standard deviation along each axis of its doubt moves the Lab of a stack by."""
    steps: dict[Hashable, _Array] = {
        pencil: axes_of(pencil.covariance) @ slopes.T
        for pencil, slopes in by.pencils.items()
        if counting is None or pencil in counting
    }
    steps[_PAPER] = axes_of(paper.covariance) @ by.paper.T
    steps[_SMEARED] = _SMEARED_SD * response.by_smeared[None]
    steps[_ALIKE] = missed_alike(layers) * np.eye(3)
    slips = paper.hand * response.by_ln_offered
    steps.update({Slip(d): np.sqrt(1.0 - COMMON_SLIP) * slip[None] for d, slip in enumerate(slips)})
    steps[Slip(None)] = np.sqrt(COMMON_SLIP) * slips.sum(axis=0)[None]
    return steps


def slip_variance(layers: Sequence[FittedLayer], paper: PaperFit, solvent: bool = False) -> _Array:
    """Covariance (3, 3) that the hand makes of the Lab of one stack from making to making."""
    response = stack_responses([modelled_layers(layers, paper)], paper.model, solvent)[0]
    slips = paper.hand * response.by_ln_offered
    common = slips.sum(axis=0)
    return np.asarray((1.0 - COMMON_SLIP) * slips.T @ slips + COMMON_SLIP * np.outer(common, common))


def off_model_of_stacks(
    labs: Lab, stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit, solvent: bool = False
) -> _Array:
    """Covariance (N, 3, 3) by which readings of stacks, predicted as `labs` (N, 3), differ from the model beside the
    hand.
    """
    bare = reflectance_to_lab(add_surface(paper.body))
    misfit = misfit_sd(np.asarray(labs), bare) ** 2
    ground = ground_variance(np.asarray(labs), paper, [layers[-1].pencil for layers in stacks])
    further = np.array([_further(layers) for layers in stacks])
    variance = paper.spread * misfit + ground + further + solvent * _SOLVENT_SD**2 + READING_SD**2
    return np.asarray(variance[:, None, None] * np.eye(3))


def _further(layers: Sequence[FittedLayer]) -> float:
    """The variance that deposits add which are not alone on the paper."""
    deposits = deposits_of(layers)
    over = sum(AGAIN_SD**2 if pencil == below else _LAYERED_SD**2 for (below, _), (pencil, _) in pairwise(deposits))
    if any(pressure == Pressure.BURNISH for _, pressure in deposits[1:]):
        return over + _BURNISHED_OVER_SD**2
    return over + BURNISHED_SD**2 * (deposits[0][1] == Pressure.BURNISH)


def missed_alike(layers: Sequence[Layer[P]]) -> float:
    """Standard deviation in ΔE*ab by which a stack is off since the model misses each layer over another alike."""
    over = sum(one.pencil != below.pencil for below, one in pairwise(layers))
    return float(_ALIKE_SD * np.sqrt(over * max(over - 1, 0)))


def unshared_off_model(
    labs: Lab, stacks: Sequence[Sequence[FittedLayer]], paper: PaperFit, solvent: bool = False
) -> _Array:
    """Covariance (N, 3, 3) by which readings of stacks, predicted as `labs` (N, 3), differ from the model by what they
    do not have in common with other stacks on the paper.
    """
    off = off_model_of_stacks(labs, stacks, paper, solvent)
    if alone := [] if solvent else [i for i, layers in enumerate(stacks) if len(layers) == 1]:
        off[alone] = _marks_below([stacks[i] for i in alone], paper).parts.rest
    return _UNSHARED * off


def slopes_of_layer(response: LayerResponse, pressure: Pressure) -> _Array:
    """Slopes of Lab (…, 3, 14) by the unknowns of the pencil of a layer."""
    slopes = response.by_ln_offered[..., None] * load_follows(pressure)
    slopes[..., :COSINES], slopes[..., LN_S] = response.by_ln_k @ BASIS.T, response.by_ln_s
    return np.asarray(slopes)


DOUBT_STEP = 0.05
"""How far `doubted_papers` goes along an axis of the doubt: so little that what is seen moves in proportion."""


def doubted_papers(paper: PaperFit, along: _Array | None = None) -> list[PaperFit]:
    """A paper, DOUBT_STEP of a standard deviation along each axis of its doubt, what is smeared the last of them, or
    along directions (K, axes) in these, each of length 1.
    """
    of_unknowns = axes_of(paper.covariance)
    axes = np.block([[of_unknowns, np.zeros((len(of_unknowns), 1))], [np.zeros(len(of_unknowns)), _SMEARED_SD]])
    steps = DOUBT_STEP * (axes if along is None else along @ axes)
    return [
        replace(paper, unknowns=paper.unknowns + step[:-1], smeared=paper.smeared + float(step[-1])) for step in steps
    ]


def modelled_layers(layers: Sequence[FittedLayer], paper: PaperFit) -> list[Layer[PencilModel]]:
    """The layers of a stack with each pencil as a paper has it."""
    return _modelled(layers, _Models(paper))


class _Models:
    """Each fitted pencil as the paper has it, once."""

    def __init__(self, paper: PaperFit) -> None:
        self._paper = paper
        self._made: dict[PencilFit, PencilModel] = {}

    def of(self, pencil: PencilFit) -> PencilModel:
        if pencil not in self._made:
            self._made[pencil] = pencil_on(pencil, self._paper)
        return self._made[pencil]


def _modelled(layers: Sequence[FittedLayer], models: _Models) -> list[Layer[PencilModel]]:
    """The layers of a stack as models."""
    return [one.of(models.of(one.pencil)) for one in layers]


def _labs(made: Sequence[Stacked]) -> Lab:
    return reflectance_to_lab(add_surface(np.stack([one.body for one in made])))


def axes_of(covariance: _Array) -> _Array:
    """The steps of one standard deviation along the principal axes, the shortest first; one a row."""
    variances, axes = np.linalg.eigh(covariance)
    return np.asarray((axes * np.sqrt(np.maximum(variances, 0.0))).T)
