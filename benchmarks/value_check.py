"""The value check on drawings and a camera of their own: planted errors found, correct drawings left in peace.

The drawings are made of photographs that ship with scikit-image and scikit-learn and of painted scenes: values pressed
into a paper's range by a curve of their own, strokes and tooth, hues that wander, outlines that are off; the camera has
perspective, uneven light, a tone curve, noise and JPEG.
"""

from __future__ import annotations

import io
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from tests.core.painted_scenes import painted_scene, photograph

from benchmarks.extent import some
from benchmarks.page import Row
from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.core.reference.value_check.check import ValueCheck, Verdict, check_values
from tidy_tinder.core.reference.value_check.corners import flatten
from tidy_tinder.core.reference.value_check.laying_on import lay_on
from tidy_tinder.core.reference.working import Light, light_of
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.core.reflectance.colorimetry import encode_srgb, lab_to_linear_rgb, linear_rgb_to_lab

Array = NDArray[np.float64]
PAPER = np.array([96.0, -0.3, 1.5])
PICTURES = (
    "skimage/astronaut.png",
    "skimage/chelsea.png",
    "skimage/coffee.png",
    "skimage/rocket.jpg",
    "sklearn/china.jpg",
    "sklearn/flower.jpg",
)
_SIDE = 900


@dataclass(frozen=True, eq=False)
class Drawn:
    """A drawing: linear light (h, w, 3) with no margin; faults: (n, 4) x, y, radius from 0 to 1 of width, and L* by
    which it is too light there.
    """

    light: Light
    faults: Array


def reference_of(name: str) -> Light:
    """A picture to draw from, in linear light."""
    pixels = painted_scene(int(name)).pixels if name.isdigit() else photograph(name)
    return light_of(pixels, SRGB_SPACE, _SIDE)


def draw(reference: Light, rng: np.random.Generator, faults: int, unfinished: bool = False) -> Drawn:
    """Draw it by hand: pressed into the paper's range, with strokes, and with planted errors of 8 to 16 L*."""
    lab = linear_rgb_to_lab(cv2.GaussianBlur(reference, (0, 0), 1.0)).astype(np.float64)
    high, wide = lab.shape[:2]
    darkest, bend = rng.uniform(18.0, 30.0), rng.uniform(0.8, 1.25)
    t = np.clip(lab[..., 0] / 100.0, 0.0, 1.0) ** bend
    L = darkest + (PAPER[0] - darkest) * t
    y, x = np.mgrid[0:high, 0:wide] / wide
    planted: list[tuple[float, float, float, float]] = []
    for _ in range(faults):
        fx, fy, radius = rng.uniform(0.12, 0.88), rng.uniform(0.12, high / wide - 0.12), rng.uniform(0.07, 0.12)
        size = rng.uniform(8.0, 16.0) * rng.choice([-1.0, 1.0])
        if any(np.hypot(fx - p[0], fy - p[1]) < radius + p[2] + 0.04 for p in planted):
            continue
        away = np.hypot(x - fx, y - fy)
        L = L + size * np.clip((radius - away) / 0.02 + 0.5, 0.0, 1.0)
        planted.append((fx, fy, radius, size))
    L = L + _strokes(high, wide, rng) * (0.3 + 0.7 * (PAPER[0] - L) / PAPER[0])
    shown = np.dstack(
        [
            np.clip(L, 12.0, PAPER[0]),
            0.75 * lab[..., 1] + _slow(high, wide, rng, 4.0),
            0.75 * lab[..., 2] + _slow(high, wide, rng, 4.0),
        ]
    )
    if unfinished:
        shown[:, : wide // 4] = PAPER
    light = lab_to_linear_rgb(shown).astype(np.float32)
    return Drawn(_wandered(np.maximum(light, 0.0), rng), np.array(planted).reshape(-1, 4))


def _strokes(high: int, wide: int, rng: np.random.Generator) -> Array:
    """Hatching and tooth, in L*."""
    grain = cv2.GaussianBlur(rng.normal(size=(high, wide)), (0, 0), 0.8)
    hatch = cv2.GaussianBlur(rng.normal(size=(high, wide)), (0, 0), sigmaX=9.0, sigmaY=0.8)
    return np.asarray(7.0 * grain / grain.std() * 0.6 + 3.0 * hatch / hatch.std())


def _slow(high: int, wide: int, rng: np.random.Generator, size: float) -> Array:
    return np.asarray(size * cv2.resize(rng.normal(size=(6, 6)), (wide, high), interpolation=cv2.INTER_CUBIC))


def _wandered(light: Light, rng: np.random.Generator) -> Light:
    """Outlines that are off by up to some .6 % of the width, as drawn by hand."""
    high, wide = light.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    off = [
        cv2.resize(rng.normal(size=(5, 5)).astype(np.float32), (wide, high), interpolation=cv2.INTER_CUBIC)
        * 0.003
        * wide
        for _ in range(2)
    ]
    return np.asarray(cv2.remap(light, x + off[0], y + off[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))


def photographed(drawn: Drawn, rng: np.random.Generator, hard: bool = False, wide: int = 1600) -> tuple[Light, Array]:
    """A photo of it in linear light as a decoder gives it, and the corners of the picture in it."""
    high, across = drawn.light.shape[:2]
    margin = round(0.12 * across)
    paper = lab_to_linear_rgb(PAPER).astype(np.float32)
    sheet = np.broadcast_to(paper, (high + 2 * margin, across + 2 * margin, 3)).copy()
    sheet += (0.012 * rng.normal(size=sheet.shape[:2])[..., None]).astype(np.float32) * paper
    sheet[margin : margin + high, margin : margin + across] = drawn.light
    tall = round(wide * sheet.shape[0] / sheet.shape[1])
    tilt = 0.07 if hard else 0.035
    inset = np.array([[0.04, 0.04], [0.96, 0.04], [0.96, 0.96], [0.04, 0.96]]) + rng.uniform(-tilt, tilt, (4, 2))
    corners = (inset * (wide, tall)).astype(np.float32)
    there = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32) * np.array(
        [sheet.shape[1], sheet.shape[0]], np.float32
    )
    across_map = cv2.getPerspectiveTransform(there, corners)
    photo = cv2.warpPerspective(sheet, across_map, (wide, tall), flags=cv2.INTER_AREA, borderValue=(0.12, 0.1, 0.08))
    y, x = np.mgrid[0:tall, 0:wide]
    slope = rng.uniform(-1, 1, 2) * (0.55 if hard else 0.3)
    field = np.exp(
        slope[0] * (x / wide - 0.5)
        + slope[1] * (y / tall - 0.5)
        - (0.5 if hard else 0.25) * ((x / wide - 0.5) ** 2 + (y / tall - 0.5) ** 2)
    )
    lamp = np.array(rng.uniform(0.85, 1.15, 3))
    photo = photo * (0.75 * field[..., None] * lamp / lamp.max())
    photo = photo + rng.normal(size=photo.shape) * (0.004 + 0.01 * np.sqrt(np.maximum(photo, 0)))
    coded = encode_srgb(np.clip(photo, 0.0, 1.0) ** rng.uniform(0.85, 1.1))
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(coded, 0, 1)).round().astype(np.uint8)).save(out, "JPEG", quality=88)
    pixels = np.asarray(Image.open(out).convert("RGB"))
    box = np.array(
        [[margin, margin], [margin + across, margin], [margin + across, margin + high], [margin, margin + high]],
        np.float32,
    )
    exact = cv2.perspectiveTransform(box[None], across_map)[0].astype(np.float64)
    return light_of(pixels, SRGB_SPACE), exact


@dataclass
class Tally:
    """What was found of what was planted."""

    planted: int = 0
    found: int = 0
    flagged: int = 0
    right_flags: int = 0
    refused: int = 0
    errors: list[float] | None = None
    false_area: list[float] | None = None
    laid: list[float] | None = None

    def __post_init__(self) -> None:
        self.errors, self.false_area, self.laid = [], [], []


def judge(tally: Tally, check: ValueCheck, drawn: Drawn) -> None:
    """Count an error as found where the zones in its middle say so, and a flag as right where it lies on an error."""
    aspect = drawn.light.shape[0] / drawn.light.shape[1]
    wrong = [z for z in check.zones if z.verdict in (Verdict.DARKER, Verdict.LIGHTER)]
    for fx, fy, radius, size in drawn.faults:
        inside = [z for z in check.zones if np.hypot(z.x - fx, z.y * aspect - fy) < 0.7 * radius]
        if not inside:
            continue
        tally.planted += 1
        share = sum(z.share for z in inside if z in wrong and np.sign(z.off) == np.sign(size))
        if share >= 0.5 * sum(z.share for z in inside):
            tally.found += 1
            assert tally.errors is not None
            tally.errors.append(abs(float(np.median([z.off for z in inside])) - size))
    for z in wrong:
        tally.flagged += 1
        tally.right_flags += any(
            np.hypot(z.x - fx, z.y * aspect - fy) < radius + 0.03 and np.sign(z.off) == np.sign(size)
            for fx, fy, radius, size in drawn.faults
        )
    if not len(drawn.faults):
        assert tally.false_area is not None
        tally.false_area.append(sum(z.share for z in wrong))


def run(names: tuple[str, ...], seeds: Sequence[int], faults: int, hard: bool = False, loose: float = 0.0) -> Tally:
    """Draw, photograph and check each picture with each seed; loose: how far taps are off, as a share of the width."""
    tally = Tally()
    for name in names:
        reference = reference_of(name)
        for seed in seeds:
            rng = np.random.default_rng(seed)
            drawn = draw(reference, rng, faults)
            photo, corners = photographed(drawn, rng, hard)
            wide = np.hypot(*(corners[1] - corners[0]))
            taps = corners + rng.normal(size=(4, 2)) * loose * wide
            try:
                judge(tally, check_values(photo, taps, reference, PAPER), drawn)
            except TidyTinderError:
                tally.refused += 1
    return tally


SEEDS = some(range(201, 203), 1)


def rows() -> list[Row]:
    """(what, figure, aim) for each."""
    names = tuple(some(("100", *PICTURES, "101", "102"), 4))
    found: list[Row] = []
    for what, aim, hard in (("ordinary light", "≥ .95, ≥ .82, ≤ 1.5 / 4", False), ("hard light", "≥ .90, ≥ .82", True)):
        tally = run(names, SEEDS, faults=4, hard=hard, loose=0.003)
        assert tally.errors
        off = np.percentile(tally.errors, (50, 95))
        figure = (
            f"{tally.found} of {tally.planted}; {tally.right_flags / max(tally.flagged, 1):.2f}; "
            f"{off[0]:.1f} / {off[1]:.1f}; {tally.refused} refused of {len(SEEDS) * len(names)}"
        )
        found.append(
            (f"errors of 8 to 16 L*, {what}: found; share of flags that are right; ΔL* median / 95th", figure, aim)
        )
    for what, aim, loose in (("taps .3 % off", "≤ .02", 0.003), ("taps .8 % off", "≤ .05", 0.008)):
        tally = run(names, range(211, 212), faults=0, loose=loose)
        assert tally.false_area
        figure = f"{np.mean(tally.false_area):.3f}; worst {np.max(tally.false_area):.3f}; {tally.refused} refused"
        found.append((f"area of correct drawings that is flagged, {what}: mean; worst", figure, aim))
    return [*found, *laying_on_beside_others(names)]


def times() -> list[Row]:
    """How long a check takes."""
    photo, corners, reference = _large()
    begun = time.perf_counter()
    check_values(photo, corners, reference, PAPER)
    return [("a photo of 12 megapixels, decoded", f"{time.perf_counter() - begun:.1f} s", "3 s")]


def _large() -> tuple[Light, Array, Light]:
    rng = np.random.default_rng(1)
    reference = reference_of(PICTURES[1])
    photo, corners = photographed(draw(reference, rng, 3), rng, wide=4000)
    return photo, corners, reference


def laying_on_beside_others(names: tuple[str, ...]) -> list[Row]:
    """How far corners of the picture are off after laying on, as shares of the width, beside features of OpenCV.

    All get the same flat pictures, from taps that are .6 % off; the truth is the map that undoes the taps.
    """
    off: dict[str, list[float]] = {"ours": [], "ORB": [], "SIFT": []}
    failed = dict.fromkeys(off, 0)
    for name in names:
        for hard in (False, True):
            rng = np.random.default_rng(221 + hard)
            reference = reference_of(name)
            photo, corners = photographed(draw(reference, rng, 2), rng, hard)
            taps = corners + rng.normal(size=(4, 2)) * 0.006 * np.hypot(*(corners[1] - corners[0]))
            flat = flatten(photo, taps, reference.shape[0] / reference.shape[1])
            size = flat.picture.shape[:2]
            wanted = cv2.resize(reference, (size[1], size[0]), interpolation=cv2.INTER_AREA)
            mine, theirs = (linear_rgb_to_lab(light)[..., 0].astype(np.float32) for light in (flat.picture, wanted))
            box = np.array([[0, 0], [size[1], 0], [size[1], size[0]], [0, size[0]]], np.float32)
            truth = cv2.perspectiveTransform(
                corners.astype(np.float32)[None], cv2.getPerspectiveTransform(taps.astype(np.float32), box)
            )[0]
            for method, lay in (
                ("ours", _ours),
                ("ORB", _features(cv2.ORB.create(2000))),
                ("SIFT", _features(cv2.SIFT.create())),
            ):
                made = lay(mine, theirs)
                if made is None:
                    failed[method] += 1
                    continue
                there = np.column_stack([box, np.ones(4)]) @ made.T
                off[method].append(float(np.median(np.hypot(*(there - truth).T))) / size[1])
    rows: list[Row] = []
    for method, apart in off.items():
        middle, most = (100.0 * np.percentile(apart, (50, 95))) if apart else (np.nan, np.nan)
        figure = f"{middle:.2f} / {most:.2f}; {failed[method]} of {2 * len(names)}"
        what = f"laid on, {method}: how far corners are off, median / 95th, % of the width; not laid at all"
        rows.append((what, figure, "1.2, hard 2.2" if method == "ours" else ""))
    return rows


def _ours(mine: NDArray[np.float32], theirs: NDArray[np.float32]) -> Array | None:
    try:
        return lay_on(mine, theirs).map
    except TidyTinderError:
        return None


def _features(detector: cv2.Feature2D) -> Callable[[NDArray[np.float32], NDArray[np.float32]], Array | None]:
    """Laying on by features, matched both ways, with RANSAC."""

    def lay(mine: NDArray[np.float32], theirs: NDArray[np.float32]) -> Array | None:
        seen = [detector.detectAndCompute(np.clip(2.55 * x, 0, 255).astype(np.uint8), None) for x in (theirs, mine)]
        if any(of is None for _, of in seen):
            return None
        norm = cv2.NORM_HAMMING if seen[0][1].dtype == np.uint8 else cv2.NORM_L2
        matches = cv2.BFMatcher(norm, crossCheck=True).match(seen[0][1], seen[1][1])
        if len(matches) < 10:
            return None
        at = np.array([seen[0][0][m.queryIdx].pt for m in matches])
        to = np.array([seen[1][0][m.trainIdx].pt for m in matches])
        made, inliers = cv2.estimateAffine2D(at, to, ransacReprojThreshold=6.0)
        return None if made is None or int(inliers.sum()) < 10 else np.asarray(made, dtype=np.float64)

    return lay
