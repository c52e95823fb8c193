"""A phone of the tests' own: what such cameras do to a picture after it is taken, and strokes as a hand lays them.

Of the plain camera (sheet_camera.py) it shares where the page's points come to lie. It was written before the reader
was seen through it. What it does is common practice of picture processing, no source: light of two kinds over one page,
a lens that darkens and bends toward its corners and spreads a little light over all, noise by the light itself, colours
smoothed and edges sharpened, dark and light parts evened out by their surroundings (local tone mapping), a film-like
curve, colours made more vivid the duller they are, coarse JPEG. Its constants are guesses made beforehand.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from tests.core.sheet_camera import PX, TABLE, Bars, Camera, Colours, Points, Shot, coloured

from tidy_tinder.core.sheet.layout import Box, Layout
from tidy_tinder.core.vocabulary import Pressure

Light = NDArray[np.float32]
GAPS: Mapping[Pressure, float] = {Pressure.LIGHT: 0.45, Pressure.MEDIUM: 0.25, Pressure.HEAVY: 0.06}
"""How much of a zone stays bare between the strokes."""
LUMINANCE = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)


@dataclass(frozen=True)
class Phone:
    """What a phone does. lights: colours of two lights, the first from the left, the second from the right; glare:
    light that the lens spreads over all, as a share; corners: how much darker the corners are; bend: of straight lines
    at the corners, as a share of the distance; evened: how much of the differences between large parts is taken away;
    film: of its curve, 0 to 1; lively: how much more vivid dull colours are made; turned: degrees, about, by which
    warm colours are turned toward yellow; smoothed: colour's blur in pixels; sharpened: how much of the edges is added;
    paper: light of the brightest paper; noise: of full light, as a third of its share; quality: of the JPEG.
    """

    lights: tuple[tuple[float, float, float], tuple[float, float, float]] = ((1.0, 1.0, 1.0), (0.0, 0.0, 0.0))
    glare: float = 0.015
    corners: float = 0.15
    bend: float = 0.004
    evened: float = 0.0
    film: float = 0.5
    lively: float = 0.15
    turned: float = 3.0
    smoothed: float = 2.0
    sharpened: float = 0.6
    paper: float = 0.80
    noise: float = 0.006
    quality: int = 85


class PhoneCamera(Camera):
    """One phone over one page that was coloured in by strokes."""

    def __init__(
        self,
        layout: Layout,
        shot: Shot,
        phone: Phone,
        under: tuple[Colours, Colours],
        art: tuple[tuple[float, float, float], tuple[float, float, float]],
        bars: tuple[Bars, Bars],
    ) -> None:
        """under, art, bars: as in the plain camera, as seen under the first light and under the second."""
        super().__init__(layout, shot)
        self._phone, self._under, self._arts, self._two_bars = phone, under, art, bars

    def places(self, points_mm: Points) -> Points:
        """As of a pinhole, bent toward the corners."""
        straight = super().places(points_mm)
        middle = np.array([self._shot.width / 2, self._shot.height / 2])
        far = (straight - middle) / np.hypot(*middle)
        return np.asarray(middle + (straight - middle) * (1 - self._phone.bend * (far**2).sum(-1, keepdims=True)))

    def photo(self, seed: int = 1) -> NDArray[np.uint8]:
        """The photo, (height, width, 3), RGB."""
        rng = np.random.default_rng(seed)
        light = self._through_the_lens(self._on_the_page(rng))
        level = float(np.percentile(light[..., 1], 97))
        light *= np.float32(self._phone.paper / level)
        noisy = light + np.sqrt(np.maximum(light, 0) + 0.01) * self._phone.noise * 3 * _normal(rng, light.shape)
        return self._packed(self._developed(np.maximum(noisy, 0).astype(np.float32)))

    def _on_the_page(self, rng: np.random.Generator) -> Light:
        """Light that the page sends back, (height, width, 3), lit from both sides."""
        strokes = _strokes(self._layout, rng)
        lit = np.zeros((), dtype=np.float32)
        across = np.linspace(0, 1, strokes.fleck.shape[1], dtype=np.float32)
        falls = (1 - 0.45 * across, 0.55 + 0.45 * across)
        for colours, art, bars, colour, fall in zip(
            self._under, self._arts, self._two_bars, self._phone.lights, falls, strict=True
        ):
            if any(colour):
                page = coloured(self._layout, {}, art)
                strokes.lay(page, self._layout, colours, art, bars)
                lit = lit + page * fall[None, :, None] * np.array(colour, dtype=np.float32)
        return np.asarray(lit, dtype=np.float32)

    def _through_the_lens(self, page: Light) -> Light:
        shot, phone = self._shot, self._phone
        where = self._where_on_the_page()
        seen = cv2.remap(page, where[..., 0], where[..., 1], cv2.INTER_LINEAR, borderValue=TABLE)
        seen = cv2.GaussianBlur(seen, (0, 0), max(shot.blur * shot.fill * shot.height / self._height, 0.3))
        small = cv2.resize(seen, None, fx=1 / 16, fy=1 / 16, interpolation=cv2.INTER_AREA)
        veil = cv2.resize(cv2.GaussianBlur(small, (0, 0), 25), (shot.width, shot.height))
        y, x = np.mgrid[-1 : 1 : shot.height * 1j, -1 : 1 : shot.width * 1j].astype(np.float32)
        dark = 1 - phone.corners * (x**2 + y**2) / 2
        edge = 1 / (1 + np.exp(-(x - 0.35) / 0.05))
        shaded = (1 - shot.shadow * edge) * (1 - shot.shade * (x + 1) / 2)
        return np.asarray(((1 - phone.glare) * seen + phone.glare * veil) * (dark * shaded)[..., None], np.float32)

    def _developed(self, light: Light) -> Light:
        phone = self._phone
        bright = light @ LUMINANCE + np.float32(1e-4)
        if phone.evened:
            small = cv2.resize(np.log(bright), None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
            base = cv2.resize(cv2.bilateralFilter(small, 0, 0.6, 12), light.shape[1::-1])
            gain = np.exp(-phone.evened * (base - np.float32(np.log(0.6))))
            light = light * np.clip(gain, 0.6, 1.8)[..., None]
        light = self._livelier(light)
        shown = np.where(light <= 0.0031308, 12.92 * light, 1.055 * np.maximum(light, 1e-6) ** (1 / 2.4) - 0.055)
        shown = (1 - phone.film) * shown + phone.film * shown**2 * (3 - 2 * shown)
        shown = np.where(shown > 0.9, 0.9 + 0.1 * np.tanh((shown - 0.9) / 0.1), shown)
        return self._sharpened(np.asarray(shown, dtype=np.float32))

    def _livelier(self, light: Light) -> Light:
        """Dull colours more than vivid ones; warm ones turned in hue."""
        phone = self._phone
        grey = (light @ LUMINANCE)[..., None]
        colour = light - grey
        dull = 1 - np.clip(np.abs(colour).max(-1, keepdims=True) / (grey + 0.02), 0, 1)
        colour = colour * (1 + phone.lively * (0.3 + 0.7 * dull))
        angle = np.float32(np.radians(phone.turned))
        warm = np.clip(colour[..., :1] - colour[..., 2:], 0, None)
        turned = colour + np.concatenate([np.zeros_like(warm), angle * warm, np.zeros_like(warm)], -1)
        turned -= (turned @ LUMINANCE)[..., None]
        return np.asarray(np.maximum(grey + turned, 0), dtype=np.float32)

    def _sharpened(self, shown: Light) -> Light:
        phone = self._phone
        ycc = cv2.cvtColor(np.clip(shown, 0, 1.2), cv2.COLOR_RGB2YCrCb)
        luma = cv2.bilateralFilter(ycc[..., 0], 5, 0.03, 1.5)
        luma = luma + phone.sharpened * (luma - cv2.GaussianBlur(luma, (0, 0), 1.5))
        colours = [cv2.GaussianBlur(ycc[..., k], (0, 0), max(phone.smoothed, 0.2)) for k in (1, 2)]
        merged = cv2.merge([luma.astype(np.float32), *[c.astype(np.float32) for c in colours]])
        return np.asarray(cv2.cvtColor(merged, cv2.COLOR_YCrCb2RGB), dtype=np.float32)

    def _packed(self, shown: Light) -> NDArray[np.uint8]:
        picture = np.clip(np.rint(255 * shown), 0, 255).astype(np.uint8)
        _, packed = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, self._phone.quality])
        return np.asarray(cv2.imdecode(packed, cv2.IMREAD_COLOR), dtype=np.uint8)


@dataclass(frozen=True)
class _Strokes:
    """What a hand does on one page: fleck, (height, width), noise of unit spread drawn out along the strokes; wash, the
    like over larger places; ragged, how far strokes end inside (positive) or outside the edge, in mm, likewise.
    """

    fleck: Light
    wash: Light
    ragged: Light

    def lay(self, page: Light, layout: Layout, colours: Colours, art: tuple[float, float, float], bars: Bars) -> None:
        """Go over each zone and bar, so that the mean within it is the colour asked for."""
        ground = np.array(art if layout.windows else (1.0, 1.0, 1.0), dtype=np.float32)
        for cell in layout.cells:
            for zone in cell.zones:
                if (cell.index, zone.pressure) in colours:
                    light = np.array(colours[cell.index, zone.pressure], dtype=np.float32)
                    self._lay(page, zone.box, light, GAPS[zone.pressure], ground, bool(layout.windows))
            if cell.bar is not None and cell.index in bars:
                light = np.array(bars[cell.index][0], dtype=np.float32)
                self._lay(page, cell.bar, light, 0.0, np.zeros(3, dtype=np.float32), True)

    def _lay(self, page: Light, box: Box, light: Light, gaps: float, ground: Light, cut: bool) -> None:
        rows = slice(max(round((box.y - 0.6) * PX), 0), round((box.bottom + 0.6) * PX))
        columns = slice(max(round((box.x - 0.6) * PX), 0), round((box.right + 0.6) * PX))
        y, x = np.mgrid[rows, columns].astype(np.float32) / PX
        inside = np.minimum(np.minimum(x - box.x, box.right - x), np.minimum(y - box.y, box.bottom - y))
        ends = np.zeros_like(inside) if cut else np.clip(self.ragged[rows, columns], -0.5, 0.6)
        drawn = inside >= ends
        fleck, wash = self.fleck[rows, columns], self.wash[rows, columns]
        judged = inside >= 0.5
        most = float(np.min(light / np.maximum(ground, 1e-3)))
        share = min(gaps, 0.6 * max(most, 0.0)) if gaps else 0.0
        bare = fleck > np.quantile(fleck[judged], 1 - share) if share > 0.005 else np.zeros_like(drawn)
        share = float(bare[judged].mean())
        dense = np.maximum((light - share * ground) / (1 - share), 0.002)
        uneven = 1 + 0.06 * (wash - wash[judged].mean())
        laid = np.where(bare[..., None], ground, dense * uneven[..., None])
        page[rows, columns] = np.where(drawn[..., None], laid, page[rows, columns])


def _strokes(layout: Layout, rng: np.random.Generator) -> _Strokes:
    shape = (round(layout.page_mm[1] * PX), round(layout.page_mm[0] * PX))
    along = np.zeros((31, 31), dtype=np.float32)
    cv2.line(along, (4, 26), (26, 4), 1.0, 1)
    fleck = cv2.filter2D(cv2.GaussianBlur(_normal(rng, shape), (0, 0), 0.5), -1, along / along.sum())
    coarse = _normal(rng, (shape[0] // 12 + 1, shape[1] // 12 + 1))
    wash = cv2.resize(cv2.GaussianBlur(coarse, (0, 0), 2.0), shape[::-1])
    ragged = cv2.resize(cv2.GaussianBlur(_normal(rng, coarse.shape), (0, 0), 0.7), shape[::-1])
    return _Strokes(fleck / fleck.std(), wash / wash.std(), 0.3 * ragged / ragged.std())


def _normal(rng: np.random.Generator, shape: tuple[int, ...]) -> Light:
    return rng.standard_normal(shape, dtype=np.float32)
