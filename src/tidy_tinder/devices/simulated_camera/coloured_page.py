"""A printed page coloured in by hand, as the light that each place of it sends back, in the camera's three channels."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Reflectance
from tidy_tinder.core.sheet.layout import Box, Layout, LayoutKind
from tidy_tinder.core.vocabulary import Pressure

Image: TypeAlias = NDArray[np.float32]
Channels: TypeAlias = NDArray[np.float64]

PX = 10
"""Pixels a mm of the page as it is drawn."""
# Printed black of a laser or ink printer sends back so much of the light (ours, about L* 22).
_INK = 0.036
# Ink spreads: a grey of half the ink looks darker than half (dot gain of about 15 %, common practice, no source).
_GAIN = 0.6
# How uneven strokes are at each pressure, as a share of the light.
_STROKES = {Pressure.LIGHT: 0.10, Pressure.MEDIUM: 0.08, Pressure.HEAVY: 0.05}
_RUN_OVER = 0.35  # mm that strokes run over the edge of a cell, more or less


@dataclass(frozen=True)
class ColouredPage:
    """A page. code: what its QR code says; words: what is written at each cell; paper: reflectance (31,) of what is
    coloured on, printed: of what the page is printed on; marks: reflectances by cell and pressure; bars: those of the
    heavy strokes where they go on over the black bar, by cell.
    """

    layout: Layout
    code: str
    words: Mapping[int, str]
    paper: Reflectance
    printed: Reflectance
    marks: Mapping[tuple[int, Pressure], Reflectance]
    bars: Mapping[int, Reflectance]
    seed: int = 1


def drawn(page: ColouredPage, channels_of: Mapping[str, Channels]) -> Image:
    """Light of each place, (height, width, 3), 1 a perfect white.

    channels_of: the camera's channels of "paper", "printed", of the marks as "cell pressure", and of the bars as
    "cell bar".
    """
    width, height = page.layout.page_mm
    image = np.ones((round(height * PX), round(width * PX), 3), dtype=np.float32)
    image *= channels_of["printed"].astype(np.float32)
    for window in page.layout.windows:
        image[_part(window)] = channels_of["paper"]
    _print(image, page, channels_of["printed"])
    _colour_in(image, page, channels_of)
    return image


def _print(image: Image, page: ColouredPage, white: Channels) -> None:
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    layout = page.layout
    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    for marker in layout.markers:
        rows, columns = _part(marker.box)
        side = rows.stop - rows.start
        bits = cv2.aruco.generateImageMarker(dictionary, marker.number, 8)
        black = cv2.resize(bits, (columns.stop - columns.start, side), interpolation=cv2.INTER_NEAREST) == 0
        image[rows, columns][black] = _INK
    for x, y in layout.dots:
        centre = (round(x * PX * 16) - 8, round(y * PX * 16) - 8)
        cv2.circle(image, centre, round(layout.dot_mm / 2 * PX * 16), (_INK,) * 3, -1, cv2.LINE_AA, 4)
    for patch in layout.ramp:
        image[_part(patch.box)] = white * (1 - patch.black**_GAIN) + _INK * patch.black**_GAIN
    for cell in layout.cells:
        if cell.bar is not None:
            image[_part(cell.bar)] = _INK
    _write(image, page)
    _print_code(image, layout.code, page.code)


def _write(image: Image, page: ColouredPage) -> None:
    """What stands at each cell: OpenCV writes on whole levels only, so on a sheet of its own."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    ink = np.zeros(image.shape[:2], dtype=np.uint8)
    for cell in page.layout.cells:
        at = (round((cell.label.x + 0.4) * PX), round((cell.label.bottom - 0.8) * PX))
        cv2.putText(ink, page.words.get(cell.index, ""), at, cv2.FONT_HERSHEY_SIMPLEX, 0.7, (255,), 1, cv2.LINE_AA)
    black = (ink / np.float32(255))[..., None]
    image *= 1 - black
    image += _INK * black


def _print_code(image: Image, box: Box, text: str) -> None:
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    code = cv2.QRCodeEncoder.create().encode(text)
    rows, columns = _part(box)
    shape = (columns.stop - columns.start, rows.stop - rows.start)
    black = cv2.resize(np.asarray(code), shape, interpolation=cv2.INTER_NEAREST) == 0
    image[rows, columns][black] = _INK


def _colour_in(image: Image, page: ColouredPage, channels_of: Mapping[str, Channels]) -> None:
    """Strokes over each zone; where they end they run over a little, but on a frame the window cuts them off."""
    rng = np.random.default_rng(page.seed)
    strokes = _strokes(image.shape[:2], rng)
    for cell in page.layout.cells:
        for zone in cell.zones:
            if (cell.index, zone.pressure) not in page.marks:
                continue
            over = 0.0 if page.layout.kind is LayoutKind.FRAME else float(rng.uniform(-0.2, _RUN_OVER))
            rows, columns = _part(zone.box.inset(-over, 0.0))
            even = _STROKES[zone.pressure] * strokes[rows, columns]
            light = channels_of[f"{cell.index} {zone.pressure}"]
            image[rows, columns] = light * (1 + even)[..., None]
        if cell.bar is not None and cell.index in page.bars:
            rows, columns = _part(cell.bar)
            even = _STROKES[Pressure.HEAVY] * strokes[rows, columns]
            image[rows, columns] = channels_of[f"{cell.index} bar"] * (1 + even)[..., None]


def _strokes(shape: tuple[int, int], rng: np.random.Generator) -> Image:
    """Fine streaks across the page, of mean 0 and spread 1."""
    import cv2  # noqa: PLC0415 -- loaded only to photograph

    grain = rng.standard_normal(shape).astype(np.float32)
    streaks = cv2.GaussianBlur(grain, (0, 0), sigmaX=1.2, sigmaY=6.0) + 0.3 * cv2.GaussianBlur(grain, (0, 0), 1.0)
    return np.asarray((streaks - streaks.mean()) / streaks.std(), dtype=np.float32)


def _part(box: Box) -> tuple[slice, slice]:
    return (
        slice(max(round(box.y * PX), 0), round(box.bottom * PX)),
        slice(max(round(box.x * PX), 0), round(box.right * PX)),
    )
