"""Four plates of the demo's wood: a scarlet cap, gills from below, brackets on bark, moss on wet slate."""

from __future__ import annotations

import cv2
import numpy as np

from tools.demo_pictures.relief import Field, Relief, linear, mixed, noise, soft

Shape = tuple[int, int]


def _places(shape: Shape) -> tuple[Field, Field]:
    ys, xs = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float64)
    return xs, ys


def _litter(rng: np.random.Generator, shape: Shape, below: Field) -> Relief:
    """The floor of a wood in shade, with fallen leaves where `below` holds."""
    height = 26.0 * noise(rng, shape, 190) + 5.0 * noise(rng, shape, 22)
    earth = mixed(linear(38, 30, 24), linear(74, 62, 40), soft(noise(rng, shape, 70), -0.4, 0.6))
    earth = mixed(earth, linear(66, 82, 34), soft(noise(rng, shape, 130), 0.05, 0.6))
    floor = Relief(height, earth)
    kinds = [linear(150, 98, 48), linear(122, 70, 36), linear(96, 62, 40), linear(168, 128, 70), linear(80, 78, 40)]
    for number in range(95):
        cx, cy = rng.uniform(0, shape[1]), rng.uniform(0.0, 1.0) ** 0.7 * shape[0]
        if below[int(min(cy, shape[0] - 1)), int(min(cx, shape[1] - 1))] < 0.5:
            continue
        _leaf(floor, rng, (cx, cy), rng.uniform(36, 92), kinds[number % len(kinds)])
    return floor


def _leaf(floor: Relief, rng: np.random.Generator, at: tuple[float, float], size: float, colour: Field) -> None:
    shape, angle = floor.height.shape, rng.uniform(0, np.pi)
    xs, ys = _places(shape)
    u = ((xs - at[0]) * np.cos(angle) + (ys - at[1]) * np.sin(angle)) / size
    v = (-(xs - at[0]) * np.sin(angle) + (ys - at[1]) * np.cos(angle)) / size
    wide = 0.42 * np.sqrt(np.clip(1.0 - u**2, 0.0, 1.0)) * (1.0 + 0.25 * u)
    cover = soft(wide - np.abs(v), 0.0, 0.05)
    vein = np.exp(-((v / 0.012) ** 2)) + 0.6 * np.exp(-(((np.abs(v) - 0.9 * (u % 0.22)) / 0.02) ** 2))
    height = floor.height + 9.0 + 14.0 * (1.0 - (v / 0.45) ** 2) - 4.0 * vein
    shade = 0.75 + 0.35 * rng.random() + 0.15 * u
    floor.put(cover, height, colour * shade[..., None] * (1.0 - 0.25 * np.clip(vein, 0, 1))[..., None], 0.05)


def scarlet_cap(rng: np.random.Generator) -> Field:
    """Portrait: a red cap with pale warts on a cream stem, in litter and moss."""
    shape = (1600, 1200)
    xs, ys = _places(shape)
    behind = _litter(rng, shape, ys / shape[0])
    far = cv2.GaussianBlur(behind.lit(0.55), (0, 0), 13)
    picture = Relief(behind.height * 0.2, behind.colour)
    front = soft(ys - 1290 - 40 * noise(rng, shape, 160), 0, 70)
    picture.put(front, behind.height + 120, behind.colour)
    stem_x, half = 602 + 10 * np.sin(ys / 190), 84 + 46 * soft(ys, 1150, 1430) + 6 * noise(rng, shape, 60)
    across = (xs - stem_x) / half
    stem = soft(1.0 - np.abs(across), 0.0, 0.05) * soft(ys, 640, 650) * (1 - soft(ys, 1400, 1446))
    fibres = noise(rng, (shape[0] // 8, shape[1]), 12)
    fibres = np.asarray(cv2.resize(fibres, shape[::-1], interpolation=cv2.INTER_CUBIC), dtype=np.float64)
    cream = mixed(
        linear(232, 222, 192), linear(196, 178, 138), soft(fibres, 0.0, 0.7) * 0.6 + soft(ys, 1250, 1430) * 0.5
    )
    picture.put(stem, 130 + 105 * np.sqrt(np.clip(1 - across**2, 0, 1)) + 3 * fibres, cream)
    _ring(picture, rng, xs, ys)
    _cap(picture, rng, xs, ys)
    light = picture.lit(0.95)
    solid = np.clip(front + stem + _dome(xs, ys)[0] + _skirt(xs, ys), 0, 1)[..., None]
    return far * 0.8 * (1 - solid) + light * solid


def _dome(xs: Field, ys: Field) -> tuple[Field, Field, Field]:
    """Where the cap is, and the two places on it from -1 to 1."""
    u, v = (xs - 600) / 455, (ys - 640) / 372
    upper = np.where(ys < 640, u**2 + v**2, u**2 + ((ys - 640) / 92) ** 2)
    return soft(1.0 - upper, 0.0, 0.012), u, v


def _cap(picture: Relief, rng: np.random.Generator, xs: Field, ys: Field) -> None:
    shape = picture.height.shape
    cover, u, v = _dome(xs, ys)
    bulge = np.sqrt(np.clip(1.0 - u**2 - np.where(v < 0, v**2, (v * 4.0) ** 2), 0, 1))
    around = np.arctan2(v + 1.2, u)
    streaks = np.interp(
        around, np.linspace(0, np.pi, 900), np.convolve(rng.standard_normal(900), np.ones(9) / 9, "same")
    )
    red = mixed(linear(196, 24, 18), linear(222, 66, 22), soft(u**2 + v**2, 0.35, 1.0))
    red = mixed(red, linear(150, 10, 22), np.clip(0.45 * streaks + 0.35 * noise(rng, shape, 150), 0, 0.7))
    height = 150 + 300 * bulge + 2.5 * noise(rng, shape, 9)
    warts, knobs, rough = np.zeros(shape), np.zeros(shape), noise(rng, shape, 17, 3)
    for _ in range(190):
        r, a = np.sqrt(rng.random()) * 0.97, rng.uniform(0, 2 * np.pi)
        if np.sin(a) > 0 and rng.random() < 0.8:
            continue  # the near rim is a narrow strip
        wu, wv = r * np.cos(a), r * np.sin(a) * (1.0 if np.sin(a) < 0 else 0.16)
        flat = np.sqrt(max(0.05, 1 - wu**2 - (wv if wv < 0 else 4 * wv) ** 2))
        size = rng.uniform(7, 30) * (1.15 - 0.5 * r)
        dx, dy = (
            (xs - 600 - 455 * wu) / (size * (0.45 + 0.55 * flat)),
            (ys - 640 - 372 * wv) / (size * (0.5 + 0.5 * flat)),
        )
        knob = np.clip(1.0 - dx**2 - dy**2 + 0.9 * rough, 0, 1) * (dx**2 + dy**2 < 1.8)
        knobs = np.maximum(knobs, np.sqrt(knob) * size * 0.75)
        warts = np.maximum(warts, soft(knob, 0.0, 0.2))
    pale = mixed(linear(240, 228, 196), linear(206, 182, 132), soft(noise(rng, shape, 26), 0.0, 0.8))
    picture.put(cover, height, red, 0.5)
    picture.put(cover * warts, height + knobs, pale, 0.05)


def _skirt(xs: Field, ys: Field) -> Field:
    u = (xs - 602) / (104 + 0.62 * np.clip(ys - 850, 0, 130))
    return (
        soft(1.0 - np.abs(u), 0.0, 0.06)
        * soft(ys, 846, 862)
        * (1 - soft(ys + 26 * u**2 - 7 * np.cos(u * 11), 962, 972))
    )


def _ring(picture: Relief, rng: np.random.Generator, xs: Field, ys: Field) -> None:
    """The skirt that hangs on the stem."""
    u = (xs - 602) / (104 + 0.62 * np.clip(ys - 850, 0, 130))
    folds = 5 * np.sin(u * 15 + 2 * u**2) * soft(ys, 870, 960)
    colour = mixed(linear(240, 230, 200), linear(206, 190, 148), soft(noise(rng, picture.height.shape, 40), 0, 0.8))
    picture.put(_skirt(xs, ys), 225 + 45 * np.sqrt(np.clip(1 - u**2, 0, 1)) + folds, colour)


def gills(rng: np.random.Generator) -> Field:
    """Landscape: an apricot funnel seen from below, its ridges forking to the rim."""
    shape = (1200, 1600)
    xs, ys = _places(shape)
    floor = _litter(rng, shape, np.ones(shape))
    dx, dy = xs - 770, (ys - 560) * 1.18
    r, a = np.hypot(dx, dy), np.arctan2(dy, dx)
    wave = noise(rng, shape, 210, 2)
    rim = 470 + 38 * np.sin(3 * a + 0.6) + 26 * np.sin(7 * a) + 14 * np.sin(13 * a + 2)
    inside = soft(rim - r, 0, 9)
    turns = 31 * a + 5.5 * wave + 2.0 * np.sin(r / 90)
    ridge = 0.5 + 0.5 * np.cos(turns)
    forks = 0.5 + 0.5 * np.cos(2 * turns + 0.7)
    out = np.clip((r - 90) / (rim - 90), 0, 1)
    lines = ridge ** (1.8 - out) * (1 - soft(out, 0.45, 0.8)) + forks**1.4 * soft(out, 0.45, 0.8)
    depth = 24 * lines * soft(r, 70, 150) * (1 - 0.7 * soft(out, 0.88, 1.0))
    funnel = 240 - 150 * out**0.8 + 38 * soft(out, 0.86, 1.0)
    apricot = mixed(linear(244, 176, 62), linear(222, 128, 34), soft(1 - lines, 0.2, 1.0))
    apricot = mixed(apricot, linear(250, 206, 116), soft(out, 0.8, 1.0) * 0.7)
    apricot = mixed(apricot, linear(176, 88, 30), soft(noise(rng, shape, 60), 0.3, 0.9) * 0.6)
    floor.put(inside, funnel + depth, apricot, 0.06)
    lean = (xs - 770) * 0.9 + (ys - 560) * 0.44
    cross = (-(xs - 770) * 0.44 + (ys - 560) * 0.9) / (92 - 0.10 * np.clip(lean, 0, 400))
    stem = soft(1 - np.abs(cross), 0, 0.07) * soft(lean, -10, 60) * (1 - soft(lean - 16 * cross, 372, 392))
    pale = mixed(linear(248, 206, 118), linear(214, 138, 56), soft(noise(rng, shape, 40), -0.1, 0.8))
    floor.put(stem, 300 + 70 * np.sqrt(np.clip(1 - cross**2, 0, 1)) + 4 * noise(rng, shape, 14), pale)
    cut = soft(1 - np.hypot((lean - 382) / 34, cross), 0, 0.12)
    floor.put(
        cut,
        352 + 3 * noise(rng, shape, 12),
        mixed(linear(250, 232, 184), linear(228, 178, 104), soft(np.abs(cross), 0.4, 1)),
    )
    return floor.lit(0.9)


def brackets(rng: np.random.Generator) -> Field:
    """Landscape: banded brackets, one above another, on furrowed bark."""
    shape = (1200, 1600)
    xs, ys = _places(shape)
    furrows = noise(rng, (shape[0] // 6, shape[1]), 58)
    furrows = cv2.resize(furrows, shape[::-1], interpolation=cv2.INTER_CUBIC) + 0.3 * noise(rng, shape, 60)
    plates = soft(np.abs(furrows), 0.03, 0.30)
    bark = mixed(linear(24, 19, 17), linear(112, 92, 76), plates)
    bark = mixed(bark, linear(150, 142, 126), soft(noise(rng, shape, 90), 0.25, 0.8) * plates * 0.6)
    bark = mixed(bark, linear(92, 112, 44), soft(noise(rng, shape, 150), 0.28, 0.7) * 0.75)
    picture = Relief(70 * plates + 14 * noise(rng, shape, 20), bark)
    for cx, cy, wide in (
        (430, 250, 250),
        (1060, 330, 300),
        (640, 560, 330),
        (1250, 700, 235),
        (380, 880, 265),
        (900, 960, 320),
    ):
        _bracket(picture, rng, (cx, cy), wide)
    for _ in range(16):
        x, y, size = rng.uniform(0, 1600), rng.uniform(0, 1200), rng.uniform(7, 17)
        near = soft(1 - np.hypot(xs - x, ys - y) / size, 0, 0.4)
        picture.put(near, picture.height + 9 * near, np.broadcast_to(linear(236, 150, 22), (*shape, 3)), 0.1)
    return picture.lit(0.9)


def _bracket(picture: Relief, rng: np.random.Generator, at: tuple[float, float], size: float) -> None:
    shape = picture.height.shape
    xs, ys = _places(shape)
    dx, dy = (xs - at[0]) / size, (ys - at[1]) / (0.62 * size)
    a = np.arctan2(dy, dx)
    plain = np.hypot(dx, dy)
    waves = soft(plain, 0.2, 1.0)
    r = plain / (1 + waves * (0.06 * np.sin(5 * a + at[0]) + 0.035 * np.sin(11 * a)))
    back = -0.12 - 0.3 * np.clip(1 - dx**2, 0, 1) + 0.03 * np.sin(13 * dx + at[1])
    fan = soft(1 - r, 0, 0.02) * soft(dy, back, back + 0.06)
    bands = [
        (0.00, linear(70, 52, 40)), (0.22, linear(122, 84, 52)), (0.36, linear(58, 44, 40)),
        (0.46, linear(150, 104, 58)), (0.56, linear(96, 104, 118)), (0.66, linear(46, 36, 36)),
        (0.74, linear(164, 96, 44)), (0.84, linear(196, 152, 92)), (0.92, linear(236, 220, 186)),
        (1.00, linear(244, 234, 208)),
    ]  # fmt: skip
    at_r = np.clip(r + 0.015 * noise(rng, shape, 26) + 0.02 * waves * np.sin(9 * a), 0, 1)
    stops = np.array([stop for stop, _ in bands])
    colour = np.stack([np.interp(at_r, stops, [c[i] for _, c in bands]) for i in range(3)], axis=-1)
    fur = noise(rng, shape, 5, 2)
    height = 150 + 95 * np.clip(r, 0, 1) - 60 * dy + 5 * np.sin(34 * at_r) + 3 * fur + 10 * np.sin(4 * a + at[1]) * r
    picture.put(fan, height, colour * (0.9 + 0.12 * fur)[..., None])


def moss_and_slate(rng: np.random.Generator) -> Field:
    """Landscape: cushions of moss and lichen on wet, split slate."""
    shape = (1200, 1600)
    xs, ys = _places(shape)
    lean = ys + 0.22 * xs + 90 * noise(rng, shape, 420, 3)
    layer = np.floor(lean / 118)
    within = lean / 118 - layer
    steps = 60 * (layer % 3) + 20 * np.sin(2.1 * layer)
    joints = np.abs(np.sin((xs + 130 * layer + 40 * noise(rng, shape, 200)) / 240))
    crack = np.minimum(soft(within, 0.0, 0.06) * soft(1 - within, 0.0, 0.03), soft(joints, 0.0, 0.045))
    slate = mixed(linear(58, 66, 80), linear(96, 104, 116), soft(noise(rng, shape, 120), -0.3, 0.7))
    slate = mixed(slate, linear(112, 92, 84), soft(noise(rng, shape, 260), 0.2, 0.8) * 0.6)
    slate = mixed(np.broadcast_to(linear(9, 10, 13), (*shape, 3)), slate, crack)
    picture = Relief(steps + 16 * within - 46 * (1 - crack) + 4 * noise(rng, shape, 30), slate)
    picture.gloss = 0.55 * crack * soft(noise(rng, shape, 180), -0.2, 0.5)
    cushions = soft(noise(rng, shape, 330, 3) + 0.55 * soft(ys, 500, 1200) - 0.12, 0.12, 0.20)
    tips = np.abs(noise(rng, shape, 13, 3))
    domes = 0.5 + 0.5 * noise(rng, shape, 120, 2)
    moss = mixed(linear(48, 74, 18), linear(132, 152, 38), soft(tips + 0.5 * domes, 0.3, 0.9))
    moss = mixed(moss, linear(176, 180, 74), soft(tips, 0.5, 0.9) * 0.8)
    smooth = cv2.GaussianBlur(picture.height, (0, 0), 60)
    picture.put(cushions, smooth + 80 + 110 * domes + 20 * tips, moss)
    for _ in range(46):
        x, y, size = rng.uniform(0, 1600), rng.uniform(0, 900), rng.uniform(10, 46)
        away = np.hypot(xs - x, ys - y) / size + 0.22 * noise(rng, shape, 16, 2)
        crust = soft(1 - away, 0, 0.2) * (1 - cushions)
        colour = linear(168, 176, 150) if rng.random() < 0.72 else linear(222, 142, 34)
        picture.put(
            crust * 0.92, picture.height + 5 * np.clip(np.sin(7 * away), -0.4, 1), np.broadcast_to(colour, (*shape, 3))
        )
    return picture.lit(0.95)


PLATES = {
    "scarlet-cap": (scarlet_cap, 11), "gills-from-below": (gills, 23), "brackets-on-bark": (brackets, 5),
    "moss-and-slate": (moss_and_slate, 42),
}  # fmt: skip
"""By the name of their file: the plate and the seed that it was drawn with."""
