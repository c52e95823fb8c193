"""From what a camera shows to Lab: its tone curve undone, then its colours, each as far as the page itself tells.

A camera's picture is a curve of three channels that are not the eye's. Undone is first the tone: on absolute levels,
and on the light of bare paper likewise, so that uneven light stays a matter of shares. What a phone did to the
brightness alone, all channels by one share, comes next: a power of the brightness beside that of bare paper, which a
ramp of greys cannot tell from a curve of each channel. Then a root-polynomial of degree 2 (Finlayson, Mackiewicz,
Hurlbert 2015) brings the three shares to those of linear sRGB; grey stays grey.

What is not known has a prior: how cameras are (tools/derive_camera_prior.py). Whatever the page tells narrows it:
printed black a little, a ramp or cells that a reader measured much. So one computation serves every kind of evidence,
and its covariance says how far each colour may be off.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import encode_srgb, lab_to_linear_rgb, linear_rgb_to_lab

Array: TypeAlias = NDArray[np.float64]

TONE_TERMS, EVENED_TERMS, COLOUR_TERMS, WHITE_TERMS = 3, 1, 15, 3
"""Unknowns: of the tone curve; of what was done to the brightness alone; of the root-polynomial, five for each channel;
of the paper that the page is printed on."""
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
"""What the channels of linear sRGB give to the luminance (IEC 61966-2-1)."""

_DARKEST = 0.008  # of an encoded channel: two levels of 255, below which a camera says nothing
_LEAST_SHARE = 1e-3
_ROUNDS = 12
_STEP = 1e-4
# Degrees of freedom of the t-distribution by which a patch is believed: one that was coloured in otherwise than it was
# measured does not lead the others.
_FREEDOM = 4.0
# How many readings what was thought of the spread weighs as much as; and the least that patches may say of it.
_USUAL, _LEAST_WIDER = 12.0, 0.6
# The most that one patch says of it, in variances of three readings: it may have been coloured in otherwise.
_MOST_TOLD = 60.0
# Chroma from which a patch says something of how well colours are followed; greys say nothing of it.
_COLOURED = 12.0


@dataclass(frozen=True)
class Prior:
    """What is known before: mean and covariance of the terms of tone, brightness and colour; left_sd: what a
    root-polynomial leaves of a camera's colours, in L*, a*, b*.
    """

    mean: Array
    covariance: Array
    left_sd: Array


@dataclass(frozen=True)
class White:
    """The paper that the page is printed on: Lab and its standard deviations in L*, a*, b*."""

    lab: tuple[float, float, float]
    sd: tuple[float, float, float]


OFFICE_PAPER = White((93.5, 1.5, -5.0), (1.8, 1.3, 3.0))
"""Ordinary printing paper, brightened: common practice, no source."""


@dataclass(frozen=True)
class Patch:
    """A place whose colour is known. seen, bare: its linear light and that of bare paper there, (3,), 1 the most that
    the camera can say; lab: its colour; sd: how far off it may be, in L*, a*, b*.
    """

    seen: Array
    bare: Array
    lab: tuple[float, float, float]
    sd: tuple[float, float, float]


@dataclass(frozen=True)
class Correction:
    """A camera undone. terms: tone, brightness, colour, logarithm of the paper's linear sRGB; covariance: theirs;
    patches: how many places it rests on; believed: how far each was believed, 0 to 1; matrix: of the picture's channels
    to linear sRGB.
    """

    terms: Array
    covariance: Array
    left_sd: Array
    patches: int
    believed: tuple[float, ...]
    matrix: Array

    def labs(self, seen: Array, bare: Array) -> Lab:
        """Lab (n, 3) of places (n, 3) beside bare paper (n, 3)."""
        return _labs(self.terms, seen, bare, self.matrix)

    def colours(self, seen: Array, bare: Array, light_sd: Array) -> tuple[Lab, Array]:
        """Lab (n, 3) and its covariance (n, 3, 3) of places (n, 3) beside bare paper (n, 3).

        light_sd: (n,), standard deviation of the logarithm of the light there.
        """
        lab = self.labs(seen, bare)
        slopes = _slopes(self.terms, seen, bare, self.matrix)  # (n, 3, terms)
        covariance = slopes @ self.covariance @ slopes.swapaxes(-1, -2)
        brighter = (self.labs(seen * np.exp(light_sd)[:, None], bare) - lab)[..., None]
        covariance = covariance + brighter @ brighter.swapaxes(-1, -2) + np.diag(self.left_sd**2) * _away(lab)
        return lab, np.asarray(covariance, dtype=np.float64)


@cache
def camera_prior() -> Prior:
    """How cameras are, from tools/derive_camera_prior.py."""
    text = resources.files(__package__).joinpath("camera_prior.json").read_text(encoding="utf-8")
    kept = json.loads(text)
    mean = np.array([*kept["tone_mean"], kept["evened_mean"], *kept["colour_mean"]])
    covariance = np.zeros((mean.size, mean.size))
    covariance[:TONE_TERMS, :TONE_TERMS] = kept["tone_covariance"]
    covariance[TONE_TERMS, TONE_TERMS] = kept["evened_sd"] ** 2
    covariance[-COLOUR_TERMS:, -COLOUR_TERMS:] = kept["colour_covariance"]
    return Prior(mean, covariance, np.array(kept["left_sd"]))


def correct(white: White, patches: Sequence[Patch], matrix: Array | None = None) -> Correction:
    """Undo a camera by what is known of its picture: the most probable terms, found by Gauss and Newton's way, patches
    weighted anew each time (Student's t, Lange, Little and Taylor 1989).

    matrix: (3, 3), of the picture's linear channels to linear sRGB, grey staying grey; sRGB's own without one.
    """
    mean, held = _held(white)
    to_srgb = np.eye(3) if matrix is None else matrix
    terms = mean.copy()
    if not patches:
        return Correction(terms, _inverse(held), camera_prior().left_sd, 0, (), to_srgb)
    seen, bare = np.array([p.seen for p in patches]), np.array([p.bare for p in patches])
    lab, sd = np.array([p.lab for p in patches]), np.array([p.sd for p in patches])
    # What a root-polynomial cannot follow is no fault of a patch.
    sd = np.sqrt(sd**2 + (camera_prior().left_sd ** 2) * _away(lab)[:, 0])
    believed, normal, rows = np.ones(len(patches)), held, np.zeros((len(patches), 3, mean.size))
    for _ in range(_ROUNDS):
        off = (lab - _labs(terms, seen, bare, to_srgb)) / sd
        believed = (_FREEDOM + 3) / (_FREEDOM + (off**2).sum(-1))
        rows = _slopes(terms, seen, bare, to_srgb) / sd[..., None]
        normal = held + np.einsum("nlk,nlm,n->km", rows, rows, believed)
        way = np.einsum("nlk,nl,n->k", rows, off, believed) - held @ (terms - mean)
        step = np.linalg.solve(normal, way)
        terms = terms + step
        if np.abs(step).max() < _STEP:
            break
    off = np.asarray((lab - _labs(terms, seen, bare, to_srgb)) / sd, dtype=np.float64)
    covariance = _inverse(normal)
    coloured = np.hypot(lab[:, 1], lab[:, 2]) > _COLOURED
    wider = _wider(off[coloured], rows[coloured], covariance, believed[coloured])
    shares = tuple(float(min(one, 1.0)) for one in believed)
    return Correction(terms, covariance * wider, camera_prior().left_sd * np.sqrt(wider), len(patches), shares, to_srgb)


def _wider(off: Array, rows: Array, covariance: Array, believed: Array) -> float:
    """By what the variances are larger than was thought: what is left of the patches, each told by the others, beside
    what was to be left; never much smaller than was thought.
    """
    own = np.eye(3) - np.einsum("nlk,km,njm,n->nlj", rows, covariance, rows, believed)
    told = np.minimum(np.einsum("nl,nlj,nj->n", off, _inverse(own), off), _MOST_TOLD).sum()
    return float(max((_USUAL + told) / (_USUAL + 3 * len(off)), _LEAST_WIDER))


def tone_parts(encoded: Array) -> tuple[Array, Array]:
    """What the logarithm of undone light is made of: that of the light as shown, and the tone's parts (…, 3)."""
    e = np.maximum(encoded, _DARKEST)
    linear = np.where(e <= 0.04045, e / 12.92, ((e + 0.055) / 1.055) ** 2.4)
    return np.log(linear), np.stack([np.log(e), e, e * e], -1)


def colour_parts(shares: Array) -> Array:
    """What is added to each channel, (n, 3, 5): every other root part less the channel's own, so grey adds nothing."""
    r, g, b = np.moveaxis(np.maximum(shares, _LEAST_SHARE), -1, 0)
    parts = np.stack([r, g, b, np.sqrt(r * g), np.sqrt(g * b), np.sqrt(r * b)], -1)
    return np.stack([np.delete(parts - parts[:, [own]], own, axis=-1) for own in range(3)], 1)


def _labs(terms: Array, seen: Array, bare: Array, matrix: Array) -> Lab:
    """Lab (n, 3) of places beside bare paper, both (n, 3) as shown."""
    tone, evened, colour, white = np.split(terms, np.cumsum([TONE_TERMS, EVENED_TERMS, COLOUR_TERMS]))
    log_seen, parts_seen = tone_parts(encode_srgb(seen))
    log_bare, parts_bare = tone_parts(encode_srgb(bare))
    shares = np.exp(log_seen - log_bare + (parts_seen - parts_bare) @ tone) @ matrix.T
    shares = shares * np.maximum(shares @ LUMINANCE, _LEAST_SHARE)[..., None] ** evened
    told = shares + (colour_parts(shares) * colour.reshape(3, -1)).sum(-1)
    return linear_rgb_to_lab(np.maximum(told, _LEAST_SHARE / 4) * np.exp(white))


def _slopes(terms: Array, seen: Array, bare: Array, matrix: Array) -> Array:
    """How Lab follows each term, (n, 3, terms), by differences."""
    ends = [
        (_labs(terms + _STEP * axis, seen, bare, matrix) - _labs(terms - _STEP * axis, seen, bare, matrix))
        / (2 * _STEP)
        for axis in np.eye(terms.size)
    ]
    return np.stack(ends, -1)


def _held(white: White) -> tuple[Array, Array]:
    """Mean of all terms before anything is seen, and the inverse of their covariance."""
    prior = camera_prior()
    linear = np.maximum(lab_to_linear_rgb(white.lab), _LEAST_SHARE)
    slopes = np.stack(
        [(linear_rgb_to_lab(linear * np.exp(_STEP * axis)) - linear_rgb_to_lab(linear)) / _STEP for axis in np.eye(3)],
        -1,
    )
    held = np.zeros((prior.mean.size + WHITE_TERMS,) * 2)
    held[: prior.mean.size, : prior.mean.size] = np.linalg.inv(prior.covariance)
    held[prior.mean.size :, prior.mean.size :] = slopes.T @ np.diag(1 / np.array(white.sd) ** 2) @ slopes
    return np.concatenate([prior.mean, np.log(linear)]), held


def _inverse(matrix: Array) -> Array:
    return np.asarray(np.linalg.inv(matrix), dtype=np.float64)


def _away(lab: Lab) -> Array:
    """How much of what a root-polynomial leaves a colour has, (n, 1, 1): nothing at the paper's own white, where it is
    exact, all of it from a chroma of 40 on, and more beyond.
    """
    chroma, value = np.hypot(lab[..., 1], lab[..., 2]), lab[..., 0]
    share = np.minimum(np.hypot(chroma / 40.0, np.maximum(95.0 - value, 0.0) / 90.0), 1.6)
    return np.asarray(share[..., None, None] ** 2, dtype=np.float64)
