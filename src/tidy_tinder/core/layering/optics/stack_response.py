"""How the Lab of a stack answers to each of its deposits and to its paper: the slopes that every doubt needs.

Bands are independent of each other before they are summed to XYZ, so one step in ln k at all bands together gives
the slope at each.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.optics.film import SURFACE, add_surface
from tidy_tinder.core.layering.optics.heights import Grounds, lay_all
from tidy_tinder.core.layering.optics.response import from_logit, lab_slopes
from tidy_tinder.core.layering.optics.stack import Deposits, by_length
from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import BANDS, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_xyz, weights

_Array = NDArray[np.float64]

# Step of the one-sided differences: small beside every doubt, large beside rounding.
_STEP = 1e-5
# Stacks worked on at once: so few that what is worked on stays near the processor.
_AT_ONCE = 16


@dataclass(frozen=True)
class StackResponse:
    """Slopes of the Lab of a stack of D deposits: by ln k (D, 3, 31), ln s and ln offered (D, 3) of each, by ln grain,
    ln(n − 1), logit chance and hold of the paper, and the share that is one smeared film (3,).
    """

    by_ln_k: _Array
    by_ln_s: _Array
    by_ln_offered: _Array
    by_ln_grain: _Array
    by_ln_over: _Array
    by_logit_chance: _Array
    by_hold: _Array
    by_smeared: _Array


def stack_responses(
    stacks: Sequence[Sequence[Layer[PencilModel]]], paper: PaperModel, solvent: bool = False
) -> list[StackResponse]:
    """The slopes of each stack of at least one layer. Raises OutOfRangeError as `stack` does."""
    found: dict[int, StackResponse] = {}
    for places, deposits in by_length(stacks, paper):
        for start in range(0, len(places), _AT_ONCE):
            part = slice(start, start + _AT_ONCE)
            found.update(zip(places[part], _of(deposits[part], paper, solvent), strict=True))
    return [found[i] for i in range(len(stacks))]


def _of(stacks: Sequence[Deposits], paper: PaperModel, solvent: bool) -> list[StackResponse]:
    """Of stacks that have equally many deposits."""
    count, many = stacks[0].wishes.size, len(stacks)
    tries = 3 * count + 6
    k, s, wishes, burnished = (
        np.stack([getattr(one, of) for one in stacks]) for of in ("absorption", "scattering", "wishes", "burnished")
    )
    by_k, by_s, by_wish = (_each_stepped(tries, 1 + kind * count, count) for kind in range(3))
    flat = (tries * many, count)
    *_, heights = lay_all(
        _grounds(paper, tries, many),
        (k * by_k[..., None]).reshape(*flat, BANDS.size),
        (s * by_s[..., None]).reshape(*flat, BANDS.size),
        (wishes * by_wish).reshape(flat),
        np.broadcast_to(burnished, (tries, *burnished.shape)).reshape(flat),
    )
    body = (heights.dissolve() if solvent else heights.look()).reshape(tries, many, BANDS.size)
    return _slopes(body, count)


def _each_stepped(tries: int, first: int, count: int) -> _Array:
    """Factors (tries, 1, D): in each try from `first` on one more of the deposits is a step larger."""
    factors = np.ones((tries, 1, count))
    factors[first + np.arange(count), 0, np.arange(count)] = np.exp(_STEP)
    return factors


def _grounds(paper: PaperModel, tries: int, many: int) -> Grounds:
    """The paper of each try of each stack: the last five tries have its grain, exponent, chance, hold and what
    is smeared a step larger.
    """
    stepped = np.where(np.arange(tries) == np.arange(tries - 5, tries)[:, None], _STEP, 0.0)
    grain, over, chance, hold, smeared = stepped
    logit = np.log(paper.by_chance / (1.0 - paper.by_chance))
    of = (
        paper.grain * np.exp(grain),
        1.0 + (paper.exponent - 1.0) * np.exp(over),
        from_logit(logit + chance),
        paper.smeared + smeared,
        paper.hold + hold,
    )
    return Grounds(paper.body[None], *(np.repeat(one, many) for one in of))


def _slopes(body: Reflectance, count: int) -> list[StackResponse]:
    """The slopes of each stack from its bodies (tries, N, 31), the first of which is not stepped."""
    to_lab = _to_lab(body[0])
    by = (body[1:] - body[0]) / _STEP
    bandwise = to_lab * by[:count, :, None, :]
    summed = (to_lab @ by[count:, ..., None])[..., 0]
    return [
        StackResponse(
            bandwise[:, i], summed[:count, i], summed[count : 2 * count, i], summed[2 * count, i],
            *summed[2 * count + 1 :, i],
        )
        for i in range(body.shape[1])
    ]  # fmt: skip


def _to_lab(body: Reflectance) -> _Array:
    """Slopes of Lab by body reflectance (N, 3, 31), at bodies (N, 31)."""
    return np.asarray((1.0 - SURFACE) * (lab_slopes(reflectance_to_xyz(add_surface(body))) @ weights().T))


@dataclass(frozen=True)
class LayerResponse:
    """Slopes of the Lab of N stacks by one of their layers: by its ln k (N, 3, 31), ln s and ln offered (N, 3)."""

    by_ln_k: _Array
    by_ln_s: _Array
    by_ln_offered: _Array

    def only(self, at: int) -> LayerResponse:
        """Of one of the stacks."""
        return LayerResponse(self.by_ln_k[at], self.by_ln_s[at], self.by_ln_offered[at])


def stepped(pencil: PencilModel) -> tuple[PencilModel, PencilModel, PencilModel]:
    """A pencil with ln k, ln s or ln of its softness a step larger: laid in a layer's stead, they tell its slopes."""
    step = float(np.exp(_STEP))
    return (
        replace(pencil, absorption=pencil.absorption * step),
        replace(pencil, scattering=pencil.scattering * step),
        replace(pencil, softness=pencil.softness * step),
    )


def layer_response(body: Reflectance, by_step: Reflectance) -> LayerResponse:
    """The slopes by a layer from bodies (N, 31) and from those (N, 3, 31) with it stepped each way (`stepped`)."""
    to_lab = _to_lab(body)
    by = (by_step - body[:, None]) / _STEP
    summed = np.einsum("nib,nsb->nsi", to_lab, by[:, 1:])
    return LayerResponse(to_lab * by[:, :1], summed[:, 0], summed[:, 1])
