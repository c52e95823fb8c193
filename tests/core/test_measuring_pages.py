"""Cells of a photographed page as shares of the light of bare paper; and photos that are not good enough, told why."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import cv2
import numpy as np
import pytest
from tests.core.sheet_camera import Camera, Shot

from tidy_tinder.core.sheet.cells import cells_of
from tidy_tinder.core.sheet.finding import find_page
from tidy_tinder.core.sheet.flattening import FlatPage, flatten
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.layout import Layout, PageSize
from tidy_tinder.core.sheet.light import light_of
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.quality import Gate, Quality, quality_of
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

SHEET = sheet_layout(PageSize.A4, CellCount.NINETY)
FRAME = frame_layout(PageSize.A4)


@cache
def coloured_in(layout: Layout) -> dict[tuple[int, Pressure], tuple[float, float, float]]:
    """Heavy colours all over the gamut, the lighter zones nearer to paper; every tenth cell stays empty."""
    rng = np.random.default_rng(4)
    found = {}
    for cell in layout.places:
        if cell.index % 10 == 3:
            continue
        heavy = rng.uniform(0.03, 0.95, 3)
        for pressure, cover in zip(MARK_PRESSURES, (0.3, 0.6, 0.95), strict=True):
            r, g, b = 1 - cover * (1 - heavy)
            found[cell.index, pressure] = (float(r), float(g), float(b))
    return found


def flat_of(layout: Layout, shot: Shot, coloured: bool = True) -> FlatPage:
    photo = Camera(layout, shot, coloured_in(layout) if coloured else {}).photo()
    return flatten(photo, find_page(np.asarray(cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY), dtype=np.uint8), layout))


@pytest.mark.parametrize(
    ("kind", "shot", "worst"),
    [
        ("sheet", Shot(tilt=8, turn=2), 0.02),
        ("sheet", Shot(shade=0.5, lamp=(0.85, 0.68, 0.45)), 0.025),
        ("sheet", Shot(shadow=0.5, curl=6), 0.08),
        ("frame", Shot(shade=0.4, tilt=-6), 0.025),
    ],
    ids=["a lamp", "a warm lamp at one side", "a shadow over a third", "a frame"],
)
def test_each_zone_is_what_it_was_coloured_whatever_the_light(kind: str, shot: Shot, worst: float) -> None:
    layout = {"sheet": SHEET, "frame": FRAME}[kind]
    flat = flat_of(layout, shot)
    off = []
    for cell in cells_of(flat, light_of(flat)):
        for pressure, seen in cell.zones.items():
            off.append(np.abs(seen.share - coloured_in(layout).get((cell.index, pressure), (1.0, 1.0, 1.0))).max())
        if cell.bar is not None:
            assert cell.bar.share.max() < 0.06  # printed black
    assert np.percentile(off, 95) < worst
    assert np.median(off) < worst / 2


def test_light_is_followed_over_the_page() -> None:
    """A lamp at one side, of which the far side has half: the field says so, where no site is too."""
    flat = flat_of(SHEET, Shot(shade=0.5), coloured=False)
    field = light_of(flat)
    left, right = field.at(np.array([[60.0, 150.0], [150.0, 150.0]]))
    # The page takes the middle of the picture: .92 of its height, so from 13.6 to 86.4 % of its width.
    width = 0.92 * 3000 / 297 * 210 / 2250
    places = [0.5 - width / 2 + width * x / 210 for x in (60, 150)]
    expected = (1 - 0.5 * places[1]) / (1 - 0.5 * places[0])
    assert right / left == pytest.approx(np.full(3, expected), rel=0.02)
    assert 1.3 < field.ratio < 1.7


def quality(shot: Shot) -> Quality:
    flat = flat_of(SHEET, shot, coloured=False)
    return quality_of(flat, light_of(flat))


def gates(judged: Quality) -> dict[Gate, bool]:
    """Which gates were told, and whether they refuse."""
    return {finding.gate: finding.refused for finding in judged.findings}


# The bounds of design page 6-sheet, each with a picture on either side.
@pytest.mark.parametrize(
    ("shot", "told"),
    [
        (Shot(), {}),
        # Bare paper at levels of 255 · encode(light): 128, 112, 78, 70.
        (Shot(lamp=(0.22, 0.22, 0.22), noise=1), {}),
        (Shot(lamp=(0.16, 0.16, 0.16), noise=1), {Gate.DARKNESS: False}),
        (Shot(lamp=(0.078, 0.078, 0.078), noise=1), {Gate.DARKNESS: False}),
        (Shot(lamp=(0.06, 0.06, 0.06), noise=1), {Gate.DARKNESS: True}),
        (Shot(lamp=(1.3, 0.7, 0.7)), {Gate.BRIGHTNESS: True}),
        (Shot(lamp=(0.93, 0.93, 0.93)), {}),
        (Shot(lamp=(1.25, 1.25, 1.25), shade=0.45), {Gate.BRIGHTNESS: True}),
        # A Gaussian edge rises from 10 to 90 % within 2.56 σ.
        (Shot(blur=0.20), {}),
        (Shot(blur=0.28), {Gate.SHARPNESS: False}),
        (Shot(blur=0.34), {Gate.SHARPNESS: False}),
        (Shot(blur=0.42), {Gate.SHARPNESS: True}),
        (Shot(fill=0.77), {Gate.RESOLUTION: False}),
        (Shot(fill=0.82), {}),
        (Shot(shade=0.45), {}),
        (Shot(shade=0.75), {Gate.LIGHT: False}),
    ],
)
def test_each_gate_has_a_picture_on_either_side(shot: Shot, told: dict[Gate, bool]) -> None:
    judged = quality(shot)
    assert gates(judged) == told, judged
    assert judged.refused is any(told.values())
    assert all(finding.advice for finding in judged.findings)


def test_what_is_dark_is_not_called_blurred() -> None:
    judged = quality(Shot(lamp=(0.06, 0.06, 0.06), blur=0.45, noise=1))
    assert gates(judged) == {Gate.DARKNESS: True}


@pytest.mark.parametrize("blur", [0.15, 0.25, 0.35])
def test_the_width_of_an_edge_is_measured(blur: float) -> None:
    assert quality(Shot(blur=blur)).edge_mm == pytest.approx(2.56 * blur, rel=0.15, abs=0.05)


@pytest.mark.parametrize(("off", "told"), [(0.15, False), (0.34, True)])
def test_a_page_that_does_not_lie_as_it_should_is_told(off: float, told: bool) -> None:
    """Dots that lie where no smooth curl puts them: strips of a frame that wave, or a frame laid on anew by halves."""
    rng = np.random.default_rng(3)
    waved = tuple((x + float(dx), y + float(dy)) for (x, y), (dx, dy) in zip(
        FRAME.dots, rng.normal(0, off, (len(FRAME.dots), 2)), strict=True
    ))  # fmt: skip
    photo = Camera(replace(FRAME, dots=waved), Shot(), {}).photo()
    grey = np.asarray(cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    flat = flatten(photo, find_page(grey, FRAME))
    assert gates(quality_of(flat, light_of(flat))) == ({Gate.LYING: False} if told else {})


@pytest.mark.parametrize(("hidden", "told"), [(2, False), (3, True)])
def test_hidden_marks_are_told_from_three_on(hidden: int, told: bool) -> None:
    photo = Camera(SHEET, Shot(), {}).photo()
    for marker in SHEET.markers[1 : 1 + hidden]:
        x, y = Camera(SHEET, Shot()).places(np.array([marker.box.middle]))[0].astype(int)
        photo[max(y - 85, 0) : y + 85, max(x - 85, 0) : x + 85] = 200
    grey = np.asarray(cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    flat = flatten(photo, find_page(grey, SHEET))
    assert gates(quality_of(flat, light_of(flat))) == ({Gate.MARKERS: False} if told else {})
