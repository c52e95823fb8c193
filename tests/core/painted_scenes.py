"""Painted scenes whose colours are known, and photographs that ship with packages, with accents planted in them.

The scenes are nothing like the demo's pictures: areas with wandering borders, shaded by a light that falls off, with
texture and noise, near-blacks and a glint.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import cache
from importlib import resources

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.working import light_of, picture_lab
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.core.reflectance.colorimetry import encode_srgb, lab_to_linear_rgb, on_screen

Pixels = NDArray[np.uint8]
Random = np.random.Generator
Taken = NDArray[np.bool_]

PHOTOGRAPHS = (
    "skimage/astronaut.png", "skimage/chelsea.png", "skimage/coffee.png", "skimage/rocket.jpg", "skimage/retina.jpg",
    "skimage/ihc.png", "skimage/motorcycle_left.png", "skimage/hubble_deep_field.jpg", "sklearn/china.jpg",
    "sklearn/flower.jpg",
)  # fmt: skip
_FOLDERS = {"skimage": "skimage.data", "sklearn": "sklearn.datasets.images"}
APART = 20.0


@dataclass(frozen=True, eq=False)
class Scene:
    """pixels: (h, w, 3) sRGB; body: (n, 3) median Lab of each large area; accents: (m, 3), planted; ends: (2, 3)
    medians of the darkest and lightest .4 %.
    """

    pixels: Pixels
    body: Lab
    accents: Lab
    ends: Lab


@cache
def photograph(name: str) -> Pixels:
    """A photograph that ships with scikit-image or scikit-learn, as 8-bit sRGB."""
    package, file = name.split("/")
    content = resources.files(_FOLDERS[package]).joinpath(file).read_bytes()
    with Image.open(io.BytesIO(content)) as image:
        return np.asarray(image.convert("RGB"))


def as_lab_image(pixels: Pixels) -> Lab:
    """Lab of 8-bit sRGB, through the product's own conversion (held to colour-science elsewhere)."""
    return picture_lab(light_of(pixels, SRGB_SPACE))


def coded(lab: Lab) -> Pixels:
    """8-bit sRGB of Lab."""
    return np.rint(encode_srgb(lab_to_linear_rgb(lab)) * 255).astype(np.uint8)


def as_jpeg(pixels: Pixels, quality: int) -> Pixels:
    """Through a JPEG and back."""
    kept = io.BytesIO()
    Image.fromarray(pixels).save(kept, "JPEG", quality=quality)
    with Image.open(io.BytesIO(kept.getvalue())) as image:
        return np.asarray(image.convert("RGB"))


def painted_scene(seed: int, height: int = 720, width: int = 960, areas: int = 8, accents: int = 3) -> Scene:
    """One scene; the same seed paints the same."""
    rng = np.random.default_rng(seed)
    colours = _apart_from(rng, areas, np.zeros((0, 3)), 16.0, (18.0, 88.0))
    area = _areas(rng, height, width, areas)
    light = _smooth_noise(rng, height, width, 0.5)
    lab = colours[area]
    lab[..., 0] += 7.0 * light + 2.5 * _smooth_noise(rng, height, width, 0.02) + rng.normal(0, 0.8, (height, width))
    lab[..., 1:] *= (1.0 + 0.10 * _smooth_noise(rng, height, width, 0.1))[..., None]
    body = np.array([np.median(lab[area == i], axis=0) for i in range(areas)])
    taken = np.zeros(area.shape, dtype=bool)
    lab = _with_spot(lab, rng, np.array([4.0, 0.5, -0.5]), 0.012, taken)
    lab = _with_spot(lab, rng, np.array([97.5, -0.3, 1.0]), 0.008, taken)
    lab, planted = plant(lab, rng, accents, taken)
    lab[..., 0] = np.clip(lab[..., 0], 1.0, 99.0)
    pixels = coded(lab)
    return Scene(pixels, body, planted, ends_of(as_lab_image(pixels)))


def with_accents(pixels: Pixels, seed: int, count: int = 3) -> tuple[Pixels, Lab]:
    """A photograph with small accents planted whose colours are 20 from nearly all of it."""
    lab, planted = plant(as_lab_image(pixels), np.random.default_rng(seed), count)
    return coded(lab), planted


def plant(lab: Lab, rng: Random, count: int, taken: Taken | None = None) -> tuple[Lab, Lab]:
    """Spots of .2 to 1 % of the picture in colours that are 20 ΔE*ab from 99.9 % of it and from one another."""
    flat = lab.reshape(-1, 3)[:: max(1, lab[..., 0].size // 20_000)]
    known = _apart_from(rng, count, flat, APART, (12.0, 92.0), share=0.001)
    taken = np.zeros(lab.shape[:2], dtype=bool) if taken is None else taken
    for colour in known:
        lab = _with_spot(lab, rng, colour, float(rng.uniform(0.002, 0.01)), taken, texture=1.2)
    return lab, known


def ends_of(lab: Lab) -> Lab:
    """Medians of the darkest and of the lightest .4 %."""
    flat = lab.reshape(-1, 3)
    order, few = np.argsort(flat[:, 0]), max(1, round(0.004 * len(flat)))
    return np.stack([np.median(flat[order[:few]], axis=0), np.median(flat[order[-few:]], axis=0)])


def _apart_from(
    rng: Random, count: int, known: Lab, apart: float, lightness: tuple[float, float], share: float = 0.0
) -> Lab:
    """Colours of the screen that lie apart from what is known (but for a share of it) and from one another."""
    found: list[NDArray[np.float64]] = []
    for _ in range(20_000):
        if len(found) == count:
            break
        colour = np.array([rng.uniform(*lightness), *rng.normal(0, 34, 2)])
        clear = len(known) == 0 or float((np.linalg.norm(known - colour, axis=-1) < apart).mean()) <= share
        own = all(np.linalg.norm(colour - other) >= apart for other in found)
        if clear and own and bool(on_screen(lab_to_linear_rgb(colour))):
            found.append(colour)
    return np.array(found).reshape(-1, 3)


def _areas(rng: Random, height: int, width: int, count: int) -> NDArray[np.int64]:
    """Areas with wandering borders, each of at least 3 %."""
    while True:
        ys, xs = np.mgrid[0:height, 0:width]
        x = xs / width + 0.06 * _smooth_noise(rng, height, width, 0.12)
        y = ys / height + 0.06 * _smooth_noise(rng, height, width, 0.12)
        sites = rng.uniform(0, 1, (count, 2))
        area: NDArray[np.int64] = np.argmin([(x - a) ** 2 + (y - b) ** 2 for a, b in sites], axis=0)
        if np.bincount(area.ravel(), minlength=count).min() >= 0.03 * area.size:
            return area


def _smooth_noise(rng: Random, height: int, width: int, scale: float) -> NDArray[np.float64]:
    """Noise of standard deviation 1 that changes over this share of the width."""
    small = max(3, round(1 / scale)) + 2
    noise = cv2.resize(rng.normal(size=(small, small)), (width, height), interpolation=cv2.INTER_CUBIC)
    return np.asarray((noise - noise.mean()) / noise.std())


def _with_spot(lab: Lab, rng: Random, colour: Lab, share: float, taken: Taken, texture: float = 0.6) -> Lab:
    """A soft-edged ellipse of a colour over this share of the picture, beside what is taken, which it adds to."""
    height, width = lab.shape[:2]
    aspect = float(rng.uniform(0.5, 2.0))
    a = (share * height * width * aspect / np.pi) ** 0.5
    b = a / aspect
    ys, xs = np.mgrid[0:height, 0:width]
    while True:
        cx, cy = rng.uniform(a, width - a), rng.uniform(b, height - b)
        off = np.hypot((xs - cx) / a, (ys - cy) / b)
        if not bool((taken & (off < 1.2)).any()):
            break
    taken |= off < 1.2
    inside = np.clip((1.0 - off) * min(a, b) / 1.5 + 0.5, 0, 1)[..., None]
    spot = colour + rng.normal(0, texture, lab.shape)
    return np.asarray(lab * (1 - inside) + spot * inside)
