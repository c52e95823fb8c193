"""What lies on the table photographed: the light over it, the lens, the sensor, the camera's curve, the file."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.devices.simulated_camera.coloured_page import PX, ColouredPage, Image, drawn
from tidy_tinder.devices.simulated_camera.conditions import Shot
from tidy_tinder.devices.simulated_camera.eye import channels

Array = NDArray[np.float64]

_TABLE = (0.10, 0.075, 0.055)  # light of a wooden table
_STEP = 16  # the way of the light is worked out at every so many pixels
_AWAY = 2.6  # of the page's height: how far the lens is away


@dataclass(frozen=True, eq=False)
class Flatwork:
    """What is photographed. light: (height, width, 3) that each place sends back, 1 a perfect white; size_mm: its width
    and height; px: places a mm; seed: of the sensor's grain.
    """

    light: Image
    size_mm: tuple[float, float]
    px: float
    seed: int


def photograph(page: ColouredPage, shot: Shot) -> bytes:
    """A photo of the page, as JPEG."""
    laid = {f"{index} {pressure}": mark for (index, pressure), mark in page.marks.items()}
    laid |= {f"{index} bar": bar for index, bar in page.bars.items()}
    seen = channels(np.array([page.paper, page.printed, *laid.values()]), shot.kelvin)
    light = drawn(page, dict(zip(("paper", "printed", *laid), seen, strict=True)))
    return photograph_flat(Flatwork(light, page.layout.page_mm, PX, page.seed + 1), shot)


def photograph_flat(flat: Flatwork, shot: Shot) -> bytes:
    """A photo of anything flat, as JPEG."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    levels = _curve(_through_lens(flat, shot), shot.contrast)
    rng = np.random.default_rng(flat.seed)
    levels += rng.normal(0.0, shot.grain, levels.shape).astype(np.float32)
    picture = np.clip(np.round(255 * levels), 0, 255).astype(np.uint8)
    if shot.mirrored:
        picture = picture[:, ::-1]
    _, packed = cv2.imencode(".jpg", np.ascontiguousarray(picture[..., ::-1]), [cv2.IMWRITE_JPEG_QUALITY, shot.quality])
    return bytes(packed.tobytes())


def _through_lens(flat: Flatwork, shot: Shot) -> Image:
    """The light of what is photographed as it falls on the sensor, (height, width, 3)."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    shape = flat.light.shape[:2]
    lit = flat.light * _lamp(shape, shot)[..., None] + _mirrored_lamp(shape, shot)
    wide, high = shot.size
    xs, ys = np.arange(0, wide + _STEP, _STEP), np.arange(0, high + _STEP, _STEP)
    pixels = np.stack(np.meshgrid(xs, ys), -1).reshape(-1, 2).astype(np.float64)
    places = (_on_page(pixels, flat.size_mm, shot) * flat.px - 0.5).reshape(len(ys), len(xs), 2).astype(np.float32)
    at_x = np.arange(wide, dtype=np.float32) / _STEP
    at_y = np.arange(high, dtype=np.float32) / _STEP
    grid_x, grid_y = np.broadcast_to(at_x, (high, wide)), np.broadcast_to(at_y[:, None], (high, wide))
    ways = [
        cv2.remap(np.ascontiguousarray(places[..., axis]), np.ascontiguousarray(grid_x), np.ascontiguousarray(grid_y),
                  cv2.INTER_LINEAR)
        for axis in (0, 1)
    ]  # fmt: skip
    seen = cv2.remap(lit, ways[0], ways[1], cv2.INTER_AREA, borderValue=tuple(shot.exposure * t for t in _TABLE))
    sigma = shot.blur * shot.fill * high / flat.size_mm[1]
    return np.asarray(cv2.GaussianBlur(seen, (0, 0), max(sigma, 0.3)), dtype=np.float32)


def _on_page(pixels: Array, page_mm: tuple[float, float], shot: Shot) -> Array:
    """Which place of the page, in mm, each pixel looks at: the ray of a pinhole met with the tilted, bent page."""
    wide, high = shot.size
    width, height = page_mm
    scale = height / (shot.fill * high)
    x, y = (pixels[:, 0] - wide * (0.5 + shot.shift)) * scale, (pixels[:, 1] - high * (0.5 + shot.shift)) * scale
    tilt, turn, away = np.radians(shot.tilt), np.radians(shot.turn), _AWAY * height
    # The page's plane leans back about its middle: the ray (x, y, away)·t meets it where its depth fits.
    reach = away * np.cos(tilt) / (away * np.cos(tilt) - y * np.sin(tilt))
    across, down = x * reach, y * reach / np.cos(tilt)
    flat_x = across * np.cos(turn) + down * np.sin(turn)
    flat_y = -across * np.sin(turn) + down * np.cos(turn)
    # Paper that rises towards one side is seen shifted away from the middle, and a little foreshortened.
    rise = shot.curl * (0.5 + flat_x / width) ** 2 * (1 - 0.3 * flat_y / height)
    flat_x, flat_y = flat_x * (1 - rise / away), flat_y * (1 - rise / away)
    return np.stack([flat_x + width / 2, flat_y + height / 2], -1)


def _lamp(shape: tuple[int, int], shot: Shot) -> Image:
    """The light over the page, the middle having the exposure."""
    high, wide = shape
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    x, y = x / wide - 0.5, y / high - 0.5
    light = shot.exposure * (1 - shot.falloff * (x + 0.6 * y))
    if shot.shadow:
        hand = 1 / (1 + np.exp((np.hypot(x - 0.42, (y - 0.15) * 1.3) - 0.3) / 0.02))
        light = light * (1 - shot.shadow * hand)
    return np.asarray(light, dtype=np.float32)


def _mirrored_lamp(shape: tuple[int, int], shot: Shot) -> Image:
    """What a shining page mirrors of the lamp, (height, width, 1)."""
    if not shot.reflection:
        return np.zeros((1, 1, 1), dtype=np.float32)
    high, wide = shape
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    far = np.hypot((x / wide - 0.35) * wide / high, y / high - 0.4)
    return np.asarray(shot.reflection * np.exp(-((far / 0.07) ** 2)), dtype=np.float32)[..., None]


def _curve(light: Image, contrast: float) -> Image:
    """What the camera makes of light: a curve for the screen (IEC 61966-2-1), and an S that pleases."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    bounded = np.clip(light, 0.0, 1.0)
    screen = np.asarray(cv2.pow(bounded, 1 / 2.4), dtype=np.float32) * np.float32(1.055) - np.float32(0.055)
    dark = bounded <= np.float32(0.0031308)
    screen[dark] = bounded[dark] * np.float32(12.92)
    if contrast:
        screen -= contrast * np.sin(2 * np.pi * screen) / (2 * np.pi)
    return screen
