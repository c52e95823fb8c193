"""How well a picture's colours are found: painted scenes with known colours, photographs that ship with packages."""

from __future__ import annotations

import io
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy.ndimage import gaussian_filter
from sklearn.cluster import KMeans
from tests.core.painted_scenes import (
    PHOTOGRAPHS,
    as_jpeg,
    as_lab_image,
    ends_of,
    painted_scene,
    photograph,
    with_accents,
)
from tests.core.test_picking import RED, edge

from benchmarks.extent import some
from benchmarks.page import Row
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.islands import without_islands
from tidy_tinder.core.reference.main_colours import COLOURS_SIDE, main_colours
from tidy_tinder.core.reference.picking import pick
from tidy_tinder.core.reference.sections import picture_sections
from tidy_tinder.core.reference.squint import squint
from tidy_tinder.core.reference.views import View, view_of
from tidy_tinder.core.reference.working import Light, Pixels, WorkingPicture, light_of, picture_lab, working_copy
from tidy_tinder.core.reference.zones import ZONES_SIDE, smooth_lightness, thresholds_of, value_zones
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.formats.picture.decoding import decode_picture

Finder = Callable[[Light], Lab]
Array = NDArray[np.float64]

_RUNS = 3
# Of Lloyd's, after which hardly anything moves.
_ROUNDS = 25
COUNT, SCENES, PLANTINGS = 12, some(range(100, 124), 6), some(range(3), 1)
# Scenes of seven areas have as many colours as are asked for, with their ends and accents; those of eight one more.
AS_MANY = some(range(200, 224), 6)


def _small(pixels: Pixels) -> Light:
    return light_of(pixels, SRGB_SPACE, COLOURS_SIDE)


def _cropped(pixels: Pixels, quality: int = 80) -> Pixels:
    """2 % off at each side, through a JPEG."""
    h, w = pixels.shape[:2]
    return as_jpeg(np.ascontiguousarray(pixels[h // 50 : h - h // 50, w // 50 : w - w // 50]), quality)


def ours(light: Light) -> Lab:
    """The main colours."""
    return main_colours(light, COUNT).lab


def k_means(light: Light) -> Lab:
    """k-means in Lab by scikit-learn, of every fifth pixel."""
    points = picture_lab(light).reshape(-1, 3)[::5]
    return np.asarray(KMeans(COUNT, n_init=1, random_state=0).fit(points).cluster_centers_)


@dataclass
class Found:
    """ΔE00 from what is there to the nearest that was found."""

    ends: list[float] = field(default_factory=list)
    accents: list[float] = field(default_factory=list)
    body: list[float] = field(default_factory=list)
    pixels: list[float] = field(default_factory=list)
    crop: list[float] = field(default_factory=list)

    def look(self, pixels: Pixels, find: Finder, ends: Lab) -> Lab:
        """What can be judged of any picture."""
        light = _small(pixels)
        colours = find(light)
        self.ends += _off(ends, colours)
        self.pixels += _off(picture_lab(light).reshape(-1, 3)[::37], colours)
        self.crop += _off(colours, find(_small(_cropped(pixels))))
        return colours


def _off(there: Lab, found: Lab) -> list[float]:
    return list(delta_e_2000(there[:, None], found[None]).min(axis=1))


def _scenes(find: Finder, seeds: Sequence[int] = SCENES, areas: int = 8) -> Found:
    found = Found()
    for scene in (painted_scene(seed, areas=areas) for seed in seeds):
        colours = found.look(scene.pixels, find, scene.ends)
        found.accents += _off(scene.accents, colours)
        found.body += _off(scene.body, colours)
    return found


def _own_colours() -> list[float]:
    """Pixels of the scenes to the nearest of their own thirteen colours but one: the area whose lack costs least."""
    off: list[float] = []
    for scene in map(painted_scene, SCENES):
        own = np.concatenate([scene.ends, scene.accents, scene.body])
        pixels = picture_lab(_small(scene.pixels)).reshape(-1, 3)[::37]
        areas = range(len(own) - len(scene.body), len(own))
        off += min((_off(pixels, np.delete(own, i, axis=0)) for i in areas), key=_tail)
    return off


def _free_body() -> list[float]:
    """Pixels of the scenes to what was painted as ends and accents, and as many means beside them as are left: the
    best of three starts.
    """
    off: list[float] = []
    for scene in map(painted_scene, SCENES):
        known, pixels = np.concatenate([scene.ends, scene.accents]), picture_lab(_small(scene.pixels)).reshape(-1, 3)
        some_of_them = pixels[::37].astype(float)
        tries = (_means_beside(known, some_of_them, np.random.default_rng(start)) for start in range(3))
        off += _off(pixels[::37], min(tries, key=lambda means: float(_squares(some_of_them, means).min(axis=1).sum())))
    return off


def _means_beside(known: Lab, points: Lab, rng: np.random.Generator) -> Lab:
    """k-means with some of the means held fast, begun as k-means++ does (D. Arthur, S. Vassilvitskii 2007)."""
    means = known
    while len(means) < COUNT:
        squares = _squares(points, means).min(axis=1)
        means = np.concatenate([means, points[rng.choice(len(points), p=squares / squares.sum())][None]])
    for _ in range(_ROUNDS):
        nearest = _squares(points, means).argmin(axis=1)
        moved = [points[nearest == i].mean(axis=0) if (nearest == i).any() else means[i] for i in range(COUNT)]
        means = np.concatenate([known, np.array(moved)[len(known) :]])
    return means


def _squares(points: Lab, means: Lab) -> Array:
    return np.asarray(np.square(points[:, None] - means[None]).sum(axis=-1))


def _photographs(find: Finder) -> Found:
    found = Found()
    for i, pixels in enumerate(map(photograph, PHOTOGRAPHS)):
        found.look(pixels, find, ends_of(as_lab_image(pixels)))
        for planting in PLANTINGS:
            planted, accents = with_accents(pixels, 10 * i + planting)
            found.accents += _off(accents, find(_small(planted)))
    return found


def _within(off: Sequence[float]) -> str:
    return f"{100 * np.mean(np.array(off) <= 5):.0f} % of {len(off)}"


def _spread(off: Sequence[float]) -> str:
    return f"{np.median(off):.1f} / {_tail(off):.1f}"


def _tail(off: Iterable[float]) -> float:
    return float(np.percentile(list(off), 95))


def _colour_rows() -> list[Row]:
    s, p, ks, kp = _scenes(ours), _photographs(ours), _scenes(k_means), _photographs(k_means)
    m, km = (_scenes(find, AS_MANY, 7) for find in (ours, k_means))
    return [
        ("k = 12: darkest and lightest within 5, scenes and photographs (k-means)",
         f"{_within(s.ends + p.ends)} ({_within(ks.ends + kp.ends)})", "100 %"),
        ("accents planted in photographs", f"{_within(p.accents)} ({_within(kp.accents)})", "≥ 90 %"),
        ("accents planted in scenes", f"{_within(s.accents)} ({_within(ks.accents)})", "≥ 90 %"),
        ("the scenes' large areas", f"{_within(s.body)} ({_within(ks.body)})", "≥ 72 %"),
        ("pixels to the nearest, scenes of twelve colours", f"{_spread(m.pixels)} ({_spread(km.pixels)})", "5.5 / 12"),
        ("the accents of these; their large areas",
         f"{_within(m.accents)}; {_within(m.body)} ({_within(km.accents)}; {_within(km.body)})", "≥ 90 %; ≥ 72 %"),
        ("pixels to the nearest, scenes of thirteen colours",
         f"{_spread(s.pixels)} ({_spread(ks.pixels)})", "5.5 / 12"),
        ("the same to the best twelve of their own; to their ends, accents and seven free means",
         f"{_spread(_own_colours())}; {_spread(_free_body())}", ""),
        ("pixels to the nearest, photographs", f"{_spread(p.pixels)} ({_spread(kp.pixels)})", "5.5 / 12"),
        ("the same after a crop and JPEG, scenes", f"{_spread(s.crop)} ({_spread(ks.crop)})", "1.5 / 6"),
        ("the same after a crop and JPEG, photographs", f"{_spread(p.crop)} ({_spread(kp.crop)})", "1.5 / 6"),
    ]  # fmt: skip


def _pick_row() -> Row:
    rng, off = np.random.default_rng(7), []
    for _ in range(400):
        radius = rng.uniform(8, 40)
        window = edge(0.35, radius, rng, 0.08)
        off.append(float(delta_e_2000(pick(window, (window.shape[0] / 2,) * 2, radius).lab, RED)))
    return "a pick over an edge of 35 % with 8 % of specks: median, 90th", (
        f"{np.median(off):.1f}, {np.percentile(off, 90):.1f}"
    ), "2, 4"  # fmt: skip


def _squint_row() -> Row:
    worst = []
    for name in PHOTOGRAPHS:
        light = light_of(photograph(name), SRGB_SPACE)
        for share in (0.003, 0.01, 0.02, 0.04):
            sigma = share * light.shape[1]
            exact = np.stack([gaussian_filter(light[..., i], sigma, mode="nearest", truncate=6) for i in range(3)], -1)
            off = np.abs(picture_lab(squint(light, share))[..., 0] - picture_lab(exact)[..., 0])
            worst.append(float(np.percentile(off, 99)))
    return "squint against the exact Gauss: p99 in L*, the worst of ten photographs and four widths", (
        f"{max(worst):.2f}"
    ), "1.5"  # fmt: skip


def _zone_rows() -> list[Row]:
    islands, moved, seconds = 0, [], []
    for pixels in map(photograph, PHOTOGRAPHS):
        light = light_of(pixels, SRGB_SPACE, ZONES_SIDE)
        begun = time.perf_counter()
        smooth = smooth_lightness(light)
        for count in (3, 5, 9):
            zones = value_zones(smooth, thresholds_of(smooth, count))
            islands += int((without_islands(zones.zone, round(0.0005 * zones.zone.size)) != zones.zone).sum())
        seconds.append((time.perf_counter() - begun) / 3)
        poor = smooth_lightness(light_of(_cropped(pixels, 60), SRGB_SPACE, ZONES_SIDE))
        moved += [float(np.abs(thresholds_of(poor, n) - thresholds_of(smooth, n)).max()) for n in (3, 5, 9)]
    return [
        ("value zones: pixels in islands; borders moved by a crop and JPEG 60, the worst",
         f"{islands}; {max(moved):.1f} L*", "0; 2 L*"),
        ("value zones, the slowest of ten photographs", f"{max(seconds):.2f} s", "1 s"),
    ]  # fmt: skip


def _section_row() -> Row:
    lab = as_lab_image(photograph("sklearn/china.jpg"))
    sizes = ((148, 210), (210, 297), (297, 420), (300, 400), (400, 500), (420, 594), (600, 800))
    areas = np.concatenate([picture_sections(lab, *size).cm2 for size in sizes])
    return "sections by the picture's shapes, seven sizes of paper: areas", (
        f"{areas.min():.1f} to {areas.max():.1f} cm²"
    ), "26 to 32 cm²"  # fmt: skip


# Opens a file and says the peak of the process that did, in kB.
_PEAK = """
import resource, subprocess, sys
module = [sys.executable, "-m", "tidy_tinder.services.reference.apart"]
with open(sys.argv[1], "rb") as file:
    subprocess.run(module, stdin=file, stdout=subprocess.DEVNULL, check=True)
print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)
"""


def _large_rows() -> list[Row]:
    """A JPEG of 24 megapixels."""
    large = cv2.resize(photograph("sklearn/china.jpg"), (6000, 4000), interpolation=cv2.INTER_CUBIC)
    kept = io.BytesIO()
    Image.fromarray(large).save(kept, "JPEG", quality=90)
    working, spent = min((_until_coloured(kept.getvalue()) for _ in range(_RUNS)), key=lambda run: sum(run[1]))
    coloured = time.perf_counter()
    for view in (View(), View(grey=True), View(squint=0.02), View(zones=(25.0, 50.0, 75.0)), View(warm_cool=True)):
        view_of(working.light(ZONES_SIDE), view)
    viewed = time.perf_counter()
    return [
        ("24 megapixels: decoded; working copy; main colours; together",
         "; ".join(f"{seconds:.2f} s" for seconds in (*spent, sum(spent))), "together 0.7 s"),
        ("24 megapixels: all views after that", f"{viewed - coloured:.2f} s", "2 s"),
    ]  # fmt: skip


def _until_coloured(content: bytes) -> tuple[WorkingPicture, tuple[float, float, float]]:
    """The working copy of a file, and the seconds to decode it, to make the copy, and to find its main colours."""
    begun = time.perf_counter()
    picture = decode_picture(content)
    decoded = time.perf_counter()
    working = working_copy(picture.pixels, picture.space)
    copied = time.perf_counter()
    main_colours(working.light(COLOURS_SIDE), COUNT)
    return working, (decoded - begun, copied - decoded, time.perf_counter() - copied)


def _memory_row() -> Row:
    """Sixty megapixels opened as the program opens them: in a process of its own."""
    from pillow_heif import register_heif_opener  # noqa: PLC0415 -- only to write one

    register_heif_opener()
    large = Image.fromarray(photograph("sklearn/china.jpg")).resize((8940, 6700), Image.Resampling.BICUBIC)
    peaks = []
    with tempfile.TemporaryDirectory() as folder:
        for kind in ("JPEG", "WEBP", "HEIF"):
            file = Path(folder) / kind
            large.save(file, kind, quality=85)
            asked = subprocess.run([sys.executable, "-c", _PEAK, str(file)], capture_output=True, text=True, check=True)
            peaks.append(f"{int(asked.stdout) / 1024:.0f} MB")
    return "60 megapixels opened, the most memory (JPEG; WebP; HEIC)", "; ".join(peaks), "700 MB"


def rows() -> list[Row]:
    """Figures of accuracy."""
    return [*_colour_rows(), _pick_row(), _squint_row(), _section_row()]


def times() -> list[Row]:
    """Those that a clock or the memory tells."""
    return [*_zone_rows(), *_large_rows(), _memory_row()]
