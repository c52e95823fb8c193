"""A drawing made from a picture with pencils of the hidden world: so far as it is done, and with planted faults.

The hand lays what comes nearest in optical density, one pencil and another over it; what is not laid yet is left out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.devices.simulated_camera.coloured_page import Channels, Image
from tidy_tinder.devices.simulated_camera.colouring_in import chance_about, true_pencil
from tidy_tinder.devices.simulated_camera.conditions import Shot
from tidy_tinder.devices.simulated_camera.eye import channels
from tidy_tinder.devices.simulated_camera.shooting import Flatwork, photograph_flat
from tidy_tinder.devices.truth.world import demo_world

_Field = NDArray[np.float32]

FAULTS, MENDED = 5, 3
"""Places that are planted too light or too dark; how many of them are right once it was gone over again."""
# All of what follows is ours. Of the picture's width: radius of a fault; of the density there: what is laid instead.
_FAULT_SIZE = (0.09, 0.13)
_TOO_LIGHT, _TOO_DARK = 0.4, 1.8
# Faults are planted where there is enough to leave out, too much only where it still shows, and apart.
_LEAST_DENSITY, _DARK_ALREADY, _APART = 0.35, 1.2, 0.3
_TRIES = 400
# Bare paper round the picture, of its longer side, on a sheet that fills the camera's picture.
_MARGIN, _SHEET_ASPECT = 0.12, 4 / 3
_LONGEST_PX = 2400
# The most of a pencil that one place takes, of what it is when laid heavily; pencils over one another in one place.
_MOST_LAID, _LAYERS = 1.3, 3
_TOOTH, _STROKE = 0.06, 0.07  # as shares of the density
_DARKEST = 0.004  # light of a picture below which nothing is told apart


@dataclass(frozen=True, eq=False)
class SimulatedDrawing:
    """A drawing to be. picture: (h, w, 3) linear light that it is drawn from; size_mm: width and height; paper: of the
    hidden world; laid, to_come: names of pencils that are used already, and of those that are not yet; about: what
    makes its faults the same each time; mended: whether some of these are put right.
    """

    picture: Image
    size_mm: tuple[float, float]
    paper: str
    laid: Sequence[str]
    to_come: Sequence[str]
    about: str
    mended: bool = False


def photograph_drawing(drawing: SimulatedDrawing, shot: Shot) -> bytes:
    """A photo of it on its sheet, as JPEG. Raises KeyError for a paper that is not of the hidden world."""
    world = demo_world()
    pencils = dict.fromkeys(true_pencil(name) for name in (*drawing.laid, *drawing.to_come))
    marks = [world.reflectance(drawing.paper, ((pencil, Pressure.HEAVY),)) for pencil in pencils]
    seen = channels(np.array([world.reflectance(drawing.paper, ()), *marks]), shot.kelvin)
    densities = np.log(seen[0] / seen[1:])
    laid = {true_pencil(name) for name in drawing.laid}
    field = _by_hand(drawing, densities, np.array([pencil in laid for pencil in pencils], dtype=bool))
    if (drawing.size_mm[0] > drawing.size_mm[1]) != (shot.size[0] > shot.size[1]):
        shot = replace(shot, size=shot.size[::-1])
    return photograph_flat(_on_its_sheet(field, seen[0], drawing), shot)


def _by_hand(drawing: SimulatedDrawing, densities: Channels, laid: NDArray[np.bool_]) -> _Field:
    """Density of the drawing (h, w, 3) by channel: what the pencils give, with faults, tooth and strokes."""
    wanted = -np.log(np.clip(drawing.picture, _DARKEST, 1.0)).astype(np.float32)
    # What is darker than any pencil here is pressed into what they reach.
    reached, asked = float(densities.mean(axis=1).max()), float(np.percentile(wanted.mean(axis=-1), 99.0))
    wanted *= min(1.0, reached / max(asked, 1e-6))
    field = _laid(wanted.reshape(-1, 3), densities.astype(np.float32), laid).reshape(wanted.shape)
    rng = chance_about("drawing", drawing.about)
    for x, y, radius, factor in _faults(field, rng)[MENDED if drawing.mended else 0 :]:
        field *= _where(field.shape, x, y, radius, factor)[..., None]
    return np.asarray(field * _uneven(field.shape, rng)[..., None], dtype=np.float32)


def _laid(wanted: _Field, densities: _Field, laid: NDArray[np.bool_]) -> _Field:
    """Densities (n, 3) of what is laid at places that want other ones: one pencil after the other, each the one that
    leaves least open.
    """
    lengths = (densities**2).sum(axis=1)
    given, left = np.zeros_like(wanted), wanted.copy()
    for _ in range(_LAYERS):
        amounts = np.clip(left @ densities.T / lengths, 0.0, _MOST_LAID)
        gain = 2.0 * amounts * (left @ densities.T) - amounts**2 * lengths
        best = gain.argmax(axis=1)
        amount = np.take_along_axis(amounts, best[:, None], axis=1)
        left = left - amount * densities[best]
        given += np.where(laid[best][:, None], amount * densities[best], np.float32(0.0))
    return given


def _faults(field: _Field, rng: np.random.Generator) -> list[tuple[float, float, float, float]]:
    """Where it is laid too thinly or too thickly: x, y, radius as shares of the width, and the factor."""
    high, wide = field.shape[:2]
    found: list[tuple[float, float, float, float]] = []
    for _ in range(_TRIES):
        if len(found) == FAULTS:
            break
        x, y = rng.uniform(0.1, 0.9), rng.uniform(0.1, 0.9) * high / wide
        row, column = int(y * wide), int(x * wide)
        half = max(1, wide // 20)
        near = field[max(row - half, 0) : row + half, max(column - half, 0) : column + half]
        clear = all(np.hypot(x - other[0], y - other[1]) > _APART for other in found)
        density = float(np.median(near))
        if clear and density > _LEAST_DENSITY:
            too_dark = density < _DARK_ALREADY and len(found) % 2 == 1
            found.append((x, y, float(rng.uniform(*_FAULT_SIZE)), _TOO_DARK if too_dark else _TOO_LIGHT))
    return found


def _where(shape: tuple[int, ...], x: float, y: float, radius: float, factor: float) -> _Field:
    """The factor inside a round place with a soft edge, 1 outside."""
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32) / shape[1]
    inside = 0.5 - 0.5 * np.tanh((np.hypot(columns - x, rows - y) - radius) / (0.16 * radius))
    return np.asarray(1.0 + (factor - 1.0) * inside, dtype=np.float32)


def _uneven(shape: tuple[int, ...], rng: np.random.Generator) -> _Field:
    """Tooth and strokes about 1."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    grain = rng.standard_normal(shape[:2]).astype(np.float32)
    strokes = cv2.GaussianBlur(rng.standard_normal(shape[:2]).astype(np.float32), (0, 0), sigmaX=0.8, sigmaY=4.0)
    return np.asarray(1.0 + _TOOTH * grain + _STROKE * strokes / strokes.std(), dtype=np.float32)


def _on_its_sheet(field: _Field, paper: Channels, drawing: SimulatedDrawing) -> Flatwork:
    """The drawing in the middle of a sheet of its paper."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    wide, high = drawing.size_mm
    margin = 2 * _MARGIN * max(wide, high)
    short, long = sorted((wide + margin, high + margin))
    short, long = max(short, long / _SHEET_ASPECT), max(long, short * _SHEET_ASPECT)
    sheet = (long, short) if wide > high else (short, long)
    px = _LONGEST_PX / long
    size = (round(wide * px), round(high * px))
    light = np.ones((round(sheet[1] * px), round(sheet[0] * px), 3), dtype=np.float32) * paper.astype(np.float32)
    top, left = (light.shape[0] - size[1]) // 2, (light.shape[1] - size[0]) // 2
    drawn = cv2.resize(field, size, interpolation=cv2.INTER_CUBIC)
    light[top : top + size[1], left : left + size[0]] *= np.exp(-np.maximum(drawn, 0.0))
    return Flatwork(light, sheet, px, int(chance_about("grain", drawing.about).integers(1 << 30)))
