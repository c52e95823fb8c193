"""A picture as a relief of coloured matter under a warm light from one side and a cool sky.

Heights are in pixels, colours are linear sRGB. Nothing here is meant to be physics beyond what makes a picture look
round: Lambert's cosine law, cast shadows marched along the light, and less sky in hollows.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

Field = NDArray[np.float64]

# Where the light comes from (to the left, up, toward us), its colour, and that of the sky.
_FROM = np.array([-0.62, -0.48, 0.62]) / np.linalg.norm([-0.62, -0.48, 0.62])
_SUN, _SKY = np.array([1.62, 1.34, 0.98]), np.array([0.20, 0.25, 0.33])
_SHADOW_STEPS = 46


def noise(rng: np.random.Generator, shape: tuple[int, int], scale: float, octaves: int = 4) -> Field:
    """Smooth noise of about this size in pixels, from about -1 to 1; each octave is half as large and as strong."""
    total, strength = np.zeros(shape), 1.0
    for octave in range(octaves):
        size = max(1.5, scale / 2**octave)
        small = rng.standard_normal((int(shape[0] / size) + 3, int(shape[1] / size) + 3))
        large = cv2.resize(small, None, fx=size, fy=size, interpolation=cv2.INTER_CUBIC)
        total += strength * large[: shape[0], : shape[1]]
        strength /= 2.0
    return np.asarray(total / (np.abs(total).max() + 1e-9))


def linear(*srgb: int) -> Field:
    """A colour as painters of screens write it, 0 to 255, as light."""
    c = np.array(srgb) / 255.0
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def mixed(a: Field, b: Field, share: Field) -> Field:
    """From one colour to another by a share (h, w)."""
    s = np.clip(share, 0.0, 1.0)[..., None]
    return a * (1.0 - s) + b * s


def soft(values: Field, low: float | Field, high: float | Field) -> Field:
    """0 below `low`, 1 above `high`, smooth between."""
    t = np.clip((values - low) / (high - low), 0.0, 1.0)
    return np.asarray(t * t * (3.0 - 2.0 * t))


@dataclass
class Relief:
    """height: (h, w) in pixels; colour: (h, w, 3); gloss: (h, w), how much the light is mirrored."""

    height: Field
    colour: Field
    gloss: Field = field(init=False)

    def __post_init__(self) -> None:
        self.gloss = np.zeros_like(self.height)

    def put(self, cover: Field, height: Field, colour: Field, gloss: float = 0.0) -> None:
        """Lay matter over what is there, where it covers (0 to 1)."""
        self.height = self.height * (1.0 - cover) + height * cover
        self.colour = self.colour * (1.0 - cover[..., None]) + colour * cover[..., None]
        self.gloss = self.gloss * (1.0 - cover) + gloss * cover

    def lit(self, exposure: float = 1.0) -> Field:
        """The picture as light, 0 to 1."""
        normal = self._normals()
        facing = np.clip(normal @ _FROM, 0.0, 1.0)
        halfway = _FROM + np.array([0.0, 0.0, 1.0])
        mirror = np.clip(normal @ (halfway / np.linalg.norm(halfway)), 0.0, 1.0) ** 60
        sun = (facing * self._sunlit())[..., None] * _SUN
        sky = (self._open_sky() * (0.55 + 0.45 * normal[..., 2]))[..., None] * _SKY
        light = self.colour * (sun + sky) + (self.gloss * mirror * self._sunlit())[..., None] * _SUN * 0.8
        return np.asarray(1.0 - np.exp(-1.35 * exposure * light))

    def _normals(self) -> Field:
        dx = cv2.Sobel(self.height, cv2.CV_64F, 1, 0, ksize=3) / 8.0
        dy = cv2.Sobel(self.height, cv2.CV_64F, 0, 1, ksize=3) / 8.0
        normal = np.stack([-dx, -dy, np.ones_like(dx)], axis=-1)
        return np.asarray(normal / np.linalg.norm(normal, axis=-1, keepdims=True))

    def _sunlit(self) -> Field:
        """How much of the sun reaches each place: what stands higher toward the light is in its way."""
        flat = float(np.hypot(_FROM[0], _FROM[1]))
        over = np.zeros_like(self.height)
        for k in range(1, _SHADOW_STEPS):
            step = 1.6 * k * (1.0 + k / 30.0)
            shift = np.array([[1.0, 0.0, -_FROM[0] / flat * step], [0.0, 1.0, -_FROM[1] / flat * step]])
            size = self.height.shape[::-1]
            moved = cv2.warpAffine(self.height, shift, size, borderMode=cv2.BORDER_REPLICATE)
            over = np.maximum(over, (moved - self.height - step * _FROM[2] / flat) / (1.5 + 0.12 * step))
        return np.asarray(1.0 - 0.94 * soft(over, 0.0, 2.2))

    def _open_sky(self) -> Field:
        hollow = np.zeros_like(self.height)
        for sigma in (4.0, 14.0, 45.0):
            hollow += np.clip((cv2.GaussianBlur(self.height, (0, 0), sigma) - self.height) / sigma, 0.0, 1.5)
        return np.asarray(np.exp(-1.1 * hollow))


def developed(light: Field, rng: np.random.Generator) -> NDArray[np.uint8]:
    """As a camera would keep it: a little soft, with a little grain, 8 bits of sRGB."""
    soft_light = 0.7 * light + 0.3 * cv2.GaussianBlur(light, (0, 0), 0.9)
    coded = np.where(
        soft_light <= 0.0031308, 12.92 * soft_light, 1.055 * np.clip(soft_light, 1e-9, 1) ** (1 / 2.4) - 0.055
    )
    grain = rng.standard_normal(coded.shape[:2])[..., None] * 0.006
    return np.rint(np.clip(coded + grain, 0.0, 1.0) * 255.0).astype(np.uint8)
