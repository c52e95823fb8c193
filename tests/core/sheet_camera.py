"""A camera of the tests' own: it photographs a rendered page, and knows where each of its points came to lie.

It shares nothing with what finds and flattens a page but the layout: a pinhole that looks at a bent surface.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
import pypdfium2
from numpy.typing import NDArray

from tidy_tinder.core.sheet.layout import Layout
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.sheet_page import Label, PrintedPage
from tidy_tinder.formats.sheet_pdf import sheet_pdf

PX = 12  # pixels a mm of the rendered page
Points = NDArray[np.float64]
TABLE = (0.09, 0.07, 0.05)  # what the page lies on
BLACK_INK = 0.035
"""Light that printed black sends back, as a share of bare paper."""


def grey_share(black: float) -> float:
    """Light of a printed grey, as a share of bare paper: as the renderer draws it, with ink that is not quite black."""
    return BLACK_INK + (1 - BLACK_INK) * float(_linear(np.array([round(255 * (1 - black))], dtype=np.uint8))[0])


@dataclass(frozen=True)
class Shot:
    """How a photo is taken. tilt and turn in degrees; curl: how far the middle of the page rises, in mm; fill: how much
    of the picture's height the page takes; blur in mm; noise in levels; shade: how dark the far side is, 0 to 1;
    shadow: how much light a soft shadow over the right third takes; lamp: light of white paper in each channel;
    contrast: how much of an S the camera's curve has, 0 to 1; shine: light that a lamp's reflection adds at the middle
    of the page, over a spot of 25 mm; quality: of the JPEG.
    """

    tilt: float = 0.0
    turn: float = 0.0
    curl: float = 0.0
    fill: float = 0.92
    blur: float = 0.1
    noise: float = 2.0
    shade: float = 0.0
    shadow: float = 0.0
    lamp: tuple[float, float, float] = (0.70, 0.70, 0.70)
    contrast: float = 0.0
    shine: float = 0.0
    quality: int = 92
    height: int = 3000
    width: int = 2250


@cache
def rendered(layout: Layout) -> NDArray[np.uint8]:
    """The page as printed, (height, width, 3)."""
    page = PrintedPage(layout, "K7QW2MXA", 1, 1, "Heron", {c.index: Label("101", "Oxlip") for c in layout.places})
    image = pypdfium2.PdfDocument(sheet_pdf([page]))[0].render(scale=PX * 25.4 / 72).to_numpy()
    return np.ascontiguousarray(image[..., ::-1])


@cache
def _printed_light(layout: Layout) -> NDArray[np.float32]:
    """The page as printed in linear light, (height, width, 3), to be copied."""
    table = BLACK_INK + (1 - BLACK_INK) * _linear(np.arange(256, dtype=np.uint8))
    return np.asarray(cv2.LUT(rendered(layout), table), dtype=np.float32)


@cache
def _standard_noise(seed: int, shape: tuple[int, ...]) -> NDArray[np.float32]:
    """Noise of one level, not to be written to: to draw it takes longer than all else of a photo."""
    return np.random.default_rng(seed).normal(0, 1, shape).astype(np.float32)


Colours = Mapping[tuple[int, Pressure], tuple[float, float, float]]


Bars = Mapping[int, tuple[tuple[float, float, float], float]]


def coloured(
    layout: Layout,
    colours: Colours,
    art: tuple[float, float, float] = (1.0, 1.0, 1.0),
    tooth: float = 0.0,
    bars: Bars | None = None,
) -> NDArray[np.float32]:
    """The page in linear light, with cells coloured in: (index, pressure) to linear RGB as a share of the paper's.

    art: what lies in a frame's windows, likewise; tooth: how uneven the strokes are, as a share; bars: what lies on the
    black bar of a cell, likewise, and over which part of it, from the zones on.
    """
    image = _printed_light(layout).copy()
    grain = np.ones((*image.shape[:2], 1), dtype=np.float32)
    if tooth:
        grain += tooth * 5 * cv2.GaussianBlur(_standard_noise(7, image.shape[:2]), (0, 0), 1.6)[..., None]
    for window in layout.windows:
        rows = slice(round(window.y * PX), round(window.bottom * PX))
        image[rows, round(window.x * PX) : round(window.right * PX)] = np.array(art, dtype=np.float32)
    for cell in layout.cells:
        for zone in cell.zones:
            if (cell.index, zone.pressure) in colours:
                box = zone.box
                rows = slice(round(box.y * PX), round(box.bottom * PX))
                columns = slice(round(box.x * PX), round(box.right * PX))
                image[rows, columns] = (
                    np.array(colours[cell.index, zone.pressure], dtype=np.float32) * grain[rows, columns]
                )
        if bars and cell.bar is not None and cell.index in bars:
            light, part = bars[cell.index]
            rows = slice(round(cell.bar.y * PX), round(cell.bar.bottom * PX))
            columns = slice(round(cell.bar.x * PX), round((cell.bar.x + part * cell.bar.width) * PX))
            image[rows, columns] = np.array(light, dtype=np.float32) * grain[rows, columns]
    return image


def _linear(image: NDArray[np.uint8]) -> NDArray[np.float32]:
    """IEC 61966-2-1."""
    share = image.astype(np.float32) / 255
    return np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4).astype(np.float32)


def _encoded(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """IEC 61966-2-1."""
    share = np.clip(linear, 0, 1)
    coded = np.asarray(cv2.pow(share, 1 / 2.4), dtype=np.float32) * np.float32(1.055) - np.float32(0.055)
    dark = share <= np.float32(0.0031308)
    coded[dark] = share[dark] * np.float32(12.92)
    return coded


class Camera:
    """One camera over one page."""

    def __init__(
        self,
        layout: Layout,
        shot: Shot,
        colours: Colours | None = None,
        art: tuple[float, float, float] = (1.0, 1.0, 1.0),
        tooth: float = 0.0,
        bars: Bars | None = None,
    ) -> None:
        self._layout, self._shot, self._colours = layout, shot, colours or {}
        self._art, self._tooth, self._bars = art, tooth, bars
        self._width, self._height = layout.page_mm

    def places(self, points_mm: Points) -> Points:
        """Where points of the page, (n, 2) in mm, come to lie in the photo, (n, 2) in pixels."""
        shot = self._shot
        x, y = points_mm[:, 0] - self._width / 2, points_mm[:, 1] - self._height / 2
        z = shot.curl * np.cos(np.pi * x / self._width) * (0.7 + 0.3 * y / self._height)
        tilt, turn = np.radians(shot.tilt), np.radians(shot.turn)
        far = 3.0 * self._height
        x1, y1 = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
        y2, depth = y1 * np.cos(tilt) - z * np.sin(tilt), far + y1 * np.sin(tilt) - z * np.cos(tilt)
        focal = shot.fill * shot.height / self._height * far
        flat = np.stack([focal * x1 / depth + shot.width / 2, focal * y2 / depth + shot.height / 2], -1)
        return np.asarray(flat, dtype=np.float64)

    def photo(self, seed: int = 1) -> NDArray[np.uint8]:
        """The photo, (height, width, 3), RGB."""
        shot = self._shot
        whole = self._where_on_the_page()
        page_light = coloured(self._layout, self._colours, self._art, self._tooth, self._bars)
        if shot.shine:
            page_light = page_light + self._shine()
        image = cv2.remap(page_light, whole[..., 0], whole[..., 1], cv2.INTER_LINEAR, borderValue=TABLE)
        sigma = shot.blur * shot.fill * shot.height / self._height
        light = np.asarray(cv2.GaussianBlur(image, (0, 0), sigma), dtype=np.float32)
        light *= np.array(shot.lamp, dtype=np.float32)
        across = np.linspace(0, 1, shot.width, dtype=np.float32)
        edge = 1 / (1 + np.exp(-(across - 0.66) / 0.02))
        light *= ((1 - shot.shade * across) * (1 - shot.shadow * edge))[:, None].astype(np.float32)
        shown = _encoded(light)
        if shot.contrast:
            shown = (1 - shot.contrast) * shown + shot.contrast * shown**2 * (3 - 2 * shown)
        levels = 255 * shown + shot.noise * _standard_noise(seed, light.shape)
        picture = np.asarray(cv2.convertScaleAbs(np.maximum(levels, 0)), dtype=np.uint8)  # rounds, and ends at 255
        _, packed = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, shot.quality])
        return np.asarray(cv2.imdecode(packed, cv2.IMREAD_COLOR), dtype=np.uint8)

    def _where_on_the_page(self) -> NDArray[np.float32]:
        """The point of the rendered page that each pixel shows, (height, width, 2), in its pixels."""
        shot = self._shot
        step = 20
        xs, ys = np.arange(0, shot.width + step, step), np.arange(0, shot.height + step, step)
        wanted = np.stack(np.meshgrid(xs, ys), -1).reshape(-1, 2).astype(np.float64)
        page = self._looked_up(wanted) * PX
        coarse = page.reshape(len(ys), len(xs), 2).astype(np.float32)
        size = (len(xs) * step, len(ys) * step)
        whole = cv2.resize(coarse, size, interpolation=cv2.INTER_LINEAR)
        # Resizing puts the first value half a step in; looked up there, it is the first pixel again.
        shift = np.array([[1, 0, -(step - 1) / 2], [0, 1, -(step - 1) / 2]])
        whole = cv2.warpAffine(whole, shift, size, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(whole[: shot.height, : shot.width], dtype=np.float32)

    def _shine(self) -> NDArray[np.float32]:
        """What a lamp's reflection adds, (height, width, 1): a spot that fades within 25 mm."""
        height, width = rendered(self._layout).shape[:2]
        y, x = np.mgrid[0:height, 0:width].astype(np.float32) / PX
        far = np.hypot(x - self._width / 2, y - self._height / 2)
        return np.asarray(self._shot.shine * np.exp(-((far / 12.5) ** 2)), dtype=np.float32)[..., None]

    def _looked_up(self, wanted: Points) -> Points:
        """The points of the page that come to lie at these pixels: Newton's way, by differences."""
        page = np.tile([self._width / 2, self._height / 2], (len(wanted), 1)).astype(np.float64)
        for _ in range(12):
            here = self.places(page)
            along_x = self.places(page + np.array([0.01, 0.0])) - here
            along_y = self.places(page + np.array([0.0, 0.01])) - here
            slopes = np.stack([along_x, along_y], -1) / 0.01
            page = page + np.linalg.solve(slopes, (wanted - here)[..., None])[..., 0]
        return page
