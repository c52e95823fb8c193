"""Derive the tiling grain masks of the marks, and the table of how much each covers.

A tile is band-limited noise on a torus, so that it repeats without a seam and any window of it covers
about the same share: a fine tooth (periods of about 2.4 to 11 px) with a slight hatch at 28° to the stroke.
A mask of step p shows the p % highest points with a soft edge of five opacities. The browser blends
partly opaque pixels in encoded sRGB, not in light; so the table gives the share of each opacity and the core
solves with it exactly.

Run: python tools/derive_grain.py (writes frontend/public/grain/NN.png, core/marks/grain_masks.json and
frontend/src/shared/ui/grain_starts.json and grain.css)
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

ROOT = Path(__file__).parents[1]
SIZE = 180
STEPS = range(5, 100, 5)
OPACITIES = (0, 64, 128, 191, 255)
SEED = 20261124
# Width and height in px of the zones of small marks and of a colour's panel, and how much each counts: of a large
# one twice as much is asked. How many places to begin are kept for a mask, and how far apart they lie.
ZONES = [(w, h, 1.0) for w in range(34, 50, 3) for h in (24, 26, 28)] + [(w, 92, 2.0) for w in (88, 93, 98)]
STARTS, APART = 24, 14


def _band(frequency: NDArray[np.float64], longest: float, shortest: float) -> NDArray[np.float64]:
    """A smooth pass band for periods between `shortest` and `longest` pixels."""
    low, high = 1 / longest, 1 / shortest
    return np.exp(-((low / np.maximum(frequency, 1e-9)) ** 2)) * np.exp(-((frequency / high) ** 2))


def tooth() -> NDArray[np.float64]:
    """The height field (SIZE, SIZE), ranked to 0 … 1."""
    rng = np.random.default_rng(SEED)
    fx, fy = np.meshgrid(np.fft.fftfreq(SIZE), np.fft.fftfreq(SIZE))
    frequency = np.hypot(fx, fy)
    noise = np.fft.fft2(rng.standard_normal((SIZE, SIZE)))
    grain = np.fft.ifft2(noise * _band(frequency, 11.0, 2.4)).real
    angle = np.radians(28.0)
    across = np.abs(-fx * np.sin(angle) + fy * np.cos(angle))
    along = np.abs(fx * np.cos(angle) + fy * np.sin(angle))
    streaks = _band(across, 9.0, 2.6) * np.exp(-((along * 26.0) ** 2))
    hatch = np.fft.ifft2(np.fft.fft2(rng.standard_normal((SIZE, SIZE))) * streaks).real
    field = grain / grain.std() + 0.8 * hatch / hatch.std()
    ranks = np.empty(SIZE * SIZE)
    ranks[np.argsort(field.ravel())] = (np.arange(SIZE * SIZE) + 0.5) / (SIZE * SIZE)
    return ranks.reshape(SIZE, SIZE)


def mask(field: NDArray[np.float64], step: int) -> NDArray[np.uint8]:
    """Opacity (SIZE, SIZE) of the mask of `step` percent, one of OPACITIES."""
    share = step / 100.0
    soft = 0.5 * min(share, 1 - share, 0.22)
    level = np.clip((field - (1 - share) + soft) / (2 * soft), 0, 1)
    index = np.rint(level * (len(OPACITIES) - 1)).astype(int)
    opacity: NDArray[np.uint8] = np.asarray(OPACITIES, dtype=np.uint8)[index]
    return opacity


def fair_starts(opacity: NDArray[np.uint8]) -> list[list[int]]:
    """Where a small zone may begin in the tile, so that it samples the grain as the whole tile does.

    A window of some 40 × 28 px covers by chance a little more or less than its mask says; from the better places it
    does not. They are judged by the light of a black film on white, the worst case, over the sizes that zones have,
    and lie apart, so that marks do not look alike.
    """
    light = (1.0 - opacity / 255.0) ** 2.2
    worst = np.zeros((SIZE, SIZE))
    for width, height, weight in ZONES:
        worst = np.maximum(worst, weight * np.abs(_window_means(light, width, height) - light.mean()))
    chosen: list[list[int]] = []
    for place in np.argsort(worst, axis=None, kind="stable").tolist():
        y, x = divmod(place, SIZE)
        if all(_apart(x, cx) ** 2 + _apart(y, cy) ** 2 >= APART**2 for cx, cy in chosen):
            chosen.append([x, y])
        if len(chosen) == STARTS:
            break
    return chosen


def _window_means(light: NDArray[np.float64], width: int, height: int) -> NDArray[np.float64]:
    """The mean over the window that begins at each pixel of the torus."""
    window = np.zeros((SIZE, SIZE))
    window[:height, :width] = 1.0 / (width * height)
    spectrum = np.fft.fft2(light) * np.conj(np.fft.fft2(window))
    return np.fft.ifft2(spectrum).real


def _apart(a: int, b: int) -> int:
    """The distance of two places on the torus."""
    return min((a - b) % SIZE, (b - a) % SIZE)


def main() -> None:
    """Write the tiles, the table and the fair places."""
    folder = ROOT / "frontend/public/grain"
    folder.mkdir(parents=True, exist_ok=True)
    field, table, starts = tooth(), {}, {}
    for step in STEPS:
        opacity = mask(field, step)
        tile = Image.fromarray(np.searchsorted(OPACITIES, opacity).astype(np.uint8))
        tile.putpalette([0, 0, 0] * len(OPACITIES))
        tile.info["transparency"] = bytes(OPACITIES)
        tile.save(folder / f"{step:02d}.png", transparency=bytes(OPACITIES), optimize=True, bits=4)
        table[str(step)] = [round(float((opacity == o).mean()), 8) for o in OPACITIES]
        starts[str(step)] = fair_starts(opacity)
    table["100"] = [0.0, 0.0, 0.0, 0.0, 1.0]
    document = {
        "note": "derived by tools/derive_grain.py",
        "tile_px": SIZE,
        "opacities": OPACITIES,
        "shares": table,
    }
    target = ROOT / "src/tidy_tinder/core/marks/grain_masks.json"
    target.write_text(json.dumps(document, indent=1) + "\n", encoding="utf-8")
    places = ROOT / "frontend/src/shared/ui/grain_starts.json"
    places.write_text(json.dumps(starts, separators=(",", ":")) + "\n", encoding="utf-8")
    (ROOT / "frontend/src/shared/ui/grain.css").write_text(rules(), encoding="utf-8")


def rules() -> str:
    """The style sheet that gives a film its mask by its step; in grey view by the step of the grey."""
    lines = [
        "/* Derived by tools/derive_grain.py: named here once, a mask is looked up once and not for every mark. */"
    ]
    for attribute, when in (("data-grain", ""), ("data-grain-grey", ":root[data-grey] ")):
        lines += [f'{when}[{attribute}="{s}"] {{ mask-image: url("/grain/{s:02d}.png"); }}' for s in STEPS]
        lines.append(f'{when}[{attribute}="100"] {{ mask-image: none; }}')
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    main()
