"""Cameras whose sensitivities were measured and published, and how they render a mark: the tests' own.

Sources: the sensitivities of two cameras by the National Physical Laboratory (Darrodi, Finlayson, Goodman, Mackiewicz
2015), lamps of CIE 15 and the chart of ISO 17321-1, all as colour-science carries them.
"""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reflectance.colorimetry import lab_to_linear_rgb, reflectance_to_lab

Array = NDArray[np.float64]


@cache
def _colour() -> Any:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # it warns of what it could draw
        import colour

    return colour


def _bands(spectrum: Any) -> Array:
    shape = _colour().SpectralShape(400, 700, 10)
    return np.nan_to_num(np.asarray(spectrum.copy().align(shape).values, dtype=np.float64))


@cache
def published_chart(name: str = "ISO 17321-1") -> Array:
    """The reflectances of a published chart, (24, 31)."""
    return np.array([_bands(patch) for patch in _colour().SDS_COLOURCHECKERS[name].values()])


@dataclass(frozen=True)
class Eye:
    """A camera under a lamp, with the matrix that its maker would fit to the published chart; vivid: how much more
    saturated its pictures are than the world.
    """

    camera: str = "Nikon 5100 (NPL)"
    lamp: str = "D65"
    vivid: float = 0.0

    def shares(self, reflectances: Array, paper: Array) -> Array:
        """Linear channels (n, 3) of reflectances (n, 31), as shares of those of a paper (31,)."""
        return self._channels(reflectances) / self._channels(paper[None])

    def _channels(self, reflectances: Array) -> Array:
        eye, lamp = _eye_under(self.camera, self.lamp)
        matrix = _matrix(self.camera, self.lamp)
        luminance = np.array([0.2126, 0.7152, 0.0722])
        vivid = (1 + self.vivid) * np.eye(3) - self.vivid * luminance
        white = lamp @ eye
        return np.maximum(reflectances @ (lamp[:, None] * eye) / white @ matrix.T @ vivid.T, 1e-4)


@cache
def _eye_under(camera: str, lamp: str) -> tuple[Array, Array]:
    colour = _colour()
    return _bands(colour.MSDS_CAMERA_SENSITIVITIES[camera]), _bands(colour.SDS_ILLUMINANTS[lamp])


@cache
def _matrix(camera: str, lamp: str) -> Array:
    """The 3 × 3 matrix nearest to linear sRGB over the chart, white staying white."""
    eye, light = _eye_under(camera, lamp)
    patches = published_chart()
    seen = patches @ (light[:, None] * eye) / (light @ eye)
    wanted = lab_to_linear_rgb(reflectance_to_lab(patches))
    rows = np.eye(3)
    for i in range(3):
        others = [k for k in range(3) if k != i]
        terms = np.linalg.lstsq(seen[:, others] - seen[:, [i]], wanted[:, i] - seen[:, i], rcond=None)[0]
        rows[i, others], rows[i, i] = terms, 1 - terms.sum()
    return rows
