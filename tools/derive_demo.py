"""Derive the demo: hidden pencils from the invented charts, then chart values, sets, collection, swatches.

1. tools/demo_charts/*.txt say which colour each pencil should roughly be. A random search over pigment
   mixtures finds a make-up whose heavy mark in the hidden world comes near; what it is then is the truth.
2. Chart values are the truth on the chart board, seen through a printer: a cast for each range, a smaller
   gamut, an error for each colour.
3. Sets are spread over the chart; the artist's collection and swatches follow docs' scenario; swatches are
   readings of the simulated colour reader.

Run: python tools/derive_demo.py (writes devices/truth/pencils.json and demo/data/*). Its results are
data: they are final from the first slice on, and the application never runs this script.
"""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.devices.simulated_reader import Placed, measure
from tidy_tinder.devices.truth.pigments import PIGMENT_K, PIGMENT_NAMES, PIGMENT_S, WAVELENGTHS
from tidy_tinder.devices.truth.simulator import Effect, Pass, Patch, TruePencil, lab
from tidy_tinder.devices.truth.world import TrueWorld, paper_from

ROOT = Path(__file__).parents[1]
CHARTS = ROOT / "tools/demo_charts"
DATA = ROOT / "src/tidy_tinder/demo/data"
TRUTH = ROOT / "src/tidy_tinder/devices/truth"
SEED = 20261124
OPACITY = {"t": "transparent", "s": "semi", "o": "opaque"}

# Filler scattering by opacity, softness and grip of each range's core, strength of its pigment.
BINDERS = {
    "Heron": ({"t": 0.055, "s": 0.13, "o": 0.26}, 0.92, 0.95),
    "Wader": ({"t": 0.075, "s": 0.15, "o": 0.28}, 0.97, 1.0),
    "Tallow": ({"t": 0.08, "s": 0.18, "o": 0.30}, 1.28, 1.15),
    "Steadfast": ({"t": 0.07, "s": 0.16, "o": 0.28}, 1.08, 1.05),
    "Scholar": ({"t": 0.05, "s": 0.11, "o": 0.22}, 0.72, 0.85),
}
GRADES = (("10 %", 0.10, -30), ("30 %", 0.30, -20), ("50 %", 0.50, -10), ("", 1.0, 0))


@dataclass(frozen=True)
class Charted:
    """One line of a chart: what the colour should roughly be."""

    range_name: str
    code: str
    name: str
    target: NDArray[np.float64]
    opacity: str
    lightfastness: str
    effect: str

    @property
    def key(self) -> str:
        """Key in the hidden world."""
        return f"{self.range_name} {self.code}"


def read_chart(range_name: str, file: str) -> list[Charted]:
    """The lines of one chart, in printed order."""
    rows = []
    for line in (CHARTS / file).read_text(encoding="utf-8").splitlines():
        if not line or line.startswith("#"):
            continue
        code, name, lch, opacity, light, *effect = (part.strip() for part in line.split(";"))
        L, C, h = (float(v) for v in lch.split())
        target = np.array([L, C * np.cos(np.radians(h)), C * np.sin(np.radians(h))])
        rows.append(Charted(range_name, code, name, target, opacity, light, (effect or ["ordinary"])[0]))
    return rows


class MixtureSearch:
    """A cloud of random mixtures for one binder and opacity, searched by the Lab of their heavy mark."""

    def __init__(self, filler: float, load: float, rng: np.random.Generator, size: int = 240_000) -> None:
        count = len(PIGMENT_NAMES)
        amounts = np.zeros((size, count))
        for _ in range(3):
            which = rng.integers(0, count - 1, size)
            share = 10.0 ** rng.uniform(-2.6, 0.15, size) * (rng.random(size) < 0.75)
            amounts[np.arange(size), which] += share
        whitened = 10.0 ** rng.uniform(-2.0, -0.1, size) * (rng.random(size) < 0.7)
        amounts[:, -1] = whitened
        self.amounts = amounts
        labs = np.concatenate([_quick_lab(part, filler, load) for part in np.array_split(amounts, 24)])
        self.labs = labs
        self.tree = cKDTree(labs)

    def nearest(self, target: NDArray[np.float64]) -> NDArray[np.float64]:
        """Amounts of the mixture nearest to a target Lab."""
        return np.asarray(self.amounts[int(self.tree.query(target)[1])])


def _quick_lab(amounts: NDArray[np.float64], filler: float, load: float) -> NDArray[np.float64]:
    """A quick guess of the heavy mark's Lab, one even film on white; the real one follows by simulation."""
    K = amounts @ PIGMENT_K + 0.004
    S = amounts @ PIGMENT_S + filler * (560.0 / WAVELENGTHS) ** 0.6
    k, s = K * load, S * load
    a = 1 + k / s
    b = np.sqrt(a * a - 1)
    coth = 1 / np.tanh(np.maximum(b * s, 1e-6))
    ground = 0.88
    R = (1 - ground * (a - b * coth)) / (a - ground + b * coth)
    R = 0.93 * R + 0.07 * ground
    R = 0.017 + 0.983 * 0.64 * R / (1 - 0.36 * R)
    return reflectance_to_lab(0.25 * R[:, 0:-2:2] + 0.5 * R[:, 1:-1:2] + 0.25 * R[:, 2::2])


def make_pencils(charted: list[Charted], board: TrueWorld, rng: np.random.Generator) -> dict[str, TruePencil]:
    """A hidden pencil for each charted colour, tuned in four rounds against the simulated heavy mark."""
    searches: dict[tuple[str, str], MixtureSearch] = {}
    pencils: dict[str, TruePencil] = {}
    for colour in charted:
        fillers, softness, grip = BINDERS[colour.range_name]
        kind = (colour.range_name, colour.opacity)
        if kind not in searches:
            searches[kind] = MixtureSearch(fillers[colour.opacity], 1.05 * softness, rng)
        own = float(np.exp(rng.normal(0, 0.07)))
        base = TruePencil(
            colour.key, (), fillers[colour.opacity] * float(np.exp(rng.normal(0, 0.15))), softness * own, grip,
            Effect(colour.effect), False,
        )  # fmt: skip
        pencils[colour.key] = _tuned(base, colour.target, searches[kind], board)
    return pencils


def _tuned(base: TruePencil, target: NDArray[np.float64], search: MixtureSearch, board: TrueWorld) -> TruePencil:
    aim, best, best_error = target.copy(), base, np.inf
    for _ in range(4):
        amounts = tuple(float(round(v, 5)) for v in search.nearest(aim))
        pencil = replace(base, amounts=amounts)
        got = lab(Patch((Pass(pencil, "heavy"),)), board.papers["Chart board"])
        error = float(delta_e_2000(got, target))
        if error < best_error:
            best, best_error = pencil, error
        aim = aim + 0.8 * (target - got)
    return best


def graded(full: Charted, pencil: TruePencil) -> list[tuple[Charted, TruePencil]]:
    """The four grades of one Steadfast colour: its pigment let down with white."""
    rows = []
    for label, share, offset in GRADES:
        code = f"{int(full.code) + offset:04d}"
        name = f"{full.name} {label}".strip()
        amounts = np.array(pencil.amounts) * share
        amounts[-1] += 0.42 * (1.0 - share)
        colour = replace(full, code=code, name=name, opacity="s" if share == 1.0 else "o")
        rows.append((colour, replace(pencil, key=colour.key, amounts=tuple(float(round(v, 5)) for v in amounts))))
    return rows


def printed(truth: NDArray[np.float64], cast: NDArray[np.float64], rng: np.random.Generator) -> list[float]:
    """The chart's value: a printer's cast, a gamut that gives way above C* 60, an error a colour."""
    L, a, b = truth + cast + rng.normal(0, (0.6, 0.8, 0.9))
    C = float(np.hypot(a, b))
    squeeze = 1.0 if C < 60 else (60 + 0.8 * (C - 60)) / C
    return [round(float(v), 1) for v in (np.clip(L, 0, 100), a * squeeze, b * squeeze)]


def spread(labs: NDArray[np.float64], count: int, must: list[int]) -> list[int]:
    """Indices of `count` colours spread over the chart: farthest from those chosen, one after another."""
    chosen = list(must)
    distance = np.min(np.linalg.norm(labs[:, None] - labs[chosen], axis=2), axis=1)
    while len(chosen) < count:
        nearest = int(np.argmax(distance))
        chosen.append(nearest)
        distance = np.minimum(distance, np.linalg.norm(labs - labs[nearest], axis=1))
    return sorted(chosen)


def write_csv(path: Path, header: list[str], rows: Iterable[Iterable[object]]) -> None:
    """One CSV file, UTF-8, with LF."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("w", encoding="utf-8", newline="") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)


SETS = {
    "Heron": (12, 24, 60, 120),
    "Wader": (36, 60),
    "Tallow": (24, 48, 96),
    "Steadfast": (20, 40, 76),
    "Scholar": (12, 24, 48),
}
MAKERS = {
    "Heron": "Quillfen", "Wader": "Quillfen", "Tallow": "Marrowby", "Steadfast": "Tessaline",
    "Scholar": "Brackwater",
}  # fmt: skip
FEEL = {
    "Heron": "oil, rather hard, holds a point",
    "Wader": "water-soluble, the colours of Heron",
    "Tallow": "wax, soft, covers well",
    "Steadfast": "wax-oil, graded tints, lightfastness rated",
    "Scholar": "hard wax, weak",
}
# Whether a range holds its point, and dissolves in water.
ABLE = {
    "Heron": (True, False),
    "Wader": (None, True),
    "Tallow": (False, False),
    "Steadfast": (None, False),
    "Scholar": (True, False),
}


def derive_truth(rng: np.random.Generator) -> tuple[dict[str, list[Charted]], dict[str, TruePencil]]:
    """Every charted colour by range, and every hidden pencil."""
    papers = {r["key"]: paper_from(r) for r in json.loads((TRUTH / "papers.json").read_text(encoding="utf-8"))}
    board = TrueWorld({}, papers)
    heron = read_chart("Heron", "heron.txt")
    tallow, scholar = read_chart("Tallow", "tallow.txt"), read_chart("Scholar", "scholar.txt")
    full = read_chart("Steadfast", "steadfast.txt")
    pencils = make_pencils(heron + tallow + full + scholar, board, rng)
    steadfast = []
    for colour in full:
        for grade, pencil in graded(colour, pencils.pop(colour.key)):
            steadfast.append(grade)
            pencils[grade.key] = pencil
    codes = set((CHARTS / "wader_codes.txt").read_text(encoding="utf-8").split())
    wader = [replace(c, range_name="Wader") for c in heron if c.code in codes]
    for colour in wader:
        sister = pencils[f"Heron {colour.code}"]
        fillers, softness, grip = BINDERS["Wader"]
        amounts = tuple(float(round(v * rng.uniform(0.80, 0.98), 5)) for v in sister.amounts)
        filler = fillers[colour.opacity] * float(np.exp(rng.normal(0, 0.1)))
        pencils[colour.key] = replace(
            sister, key=colour.key, amounts=amounts, filler=filler, softness=softness, grip=grip, soluble=True
        )
    charts = {"Heron": heron, "Wader": wader, "Tallow": tallow, "Steadfast": steadfast, "Scholar": scholar}
    return charts, pencils


def write_truth(pencils: dict[str, TruePencil]) -> None:
    """devices/truth/pencils.json, one pencil a line."""
    lines = []
    for key, p in pencils.items():
        amounts = {n: a for n, a in zip(PIGMENT_NAMES, p.amounts, strict=True) if a}
        row = {
            "key": key, "amounts": amounts, "filler": round(p.filler, 5), "softness": round(p.softness, 5),
            "grip": p.grip, "effect": p.effect.value, "soluble": p.soluble,
        }  # fmt: skip
        lines.append(" " + json.dumps(row))
    (TRUTH / "pencils.json").write_text("[\n" + ",\n".join(lines) + "\n]\n", encoding="utf-8")


def main() -> None:
    """Write the hidden pencils, the charts and the sets; then the collection and its swatches."""
    from tools.derive_demo_collection import write_collection  # noqa: PLC0415 -- needs what is written here first

    rng = np.random.default_rng(SEED)
    charts, pencils = derive_truth(rng)
    write_truth(pencils)
    from tidy_tinder.devices.truth.world import demo_world  # noqa: PLC0415 -- reads the file just written

    world = demo_world()
    catalogue, sets = [], []
    for range_name, chart in charts.items():
        cast = rng.normal(0, (0.5, 0.6, 0.7))
        truths = np.array([
            measure(world, Placed("Chart board", ((c.key, "heavy"),))).lab for c in chart
        ])  # fmt: skip
        for colour, truth in zip(chart, truths, strict=True):
            catalogue.append([
                MAKERS[range_name], range_name, colour.code, colour.name, *printed(truth, cast, rng), "", "D65",
                OPACITY[colour.opacity], colour.lightfastness, colour.effect, 0,
            ])  # fmt: skip
        dark, light = int(np.argmin(truths[:, 0])), int(np.argmax(truths[:, 0]))
        ordinary = [i for i, c in enumerate(chart) if c.effect == "ordinary"]
        for size in SETS[range_name]:
            pool = ordinary if size < len(chart) else list(range(len(chart)))
            if size == len(chart):
                members = pool
            else:
                must = [pool.index(dark), pool.index(light)]
                members = [pool[i] for i in spread(truths[pool], size, must)]
            sets.append([range_name, f"{range_name} {size}", " ".join(chart[i].code for i in members)])
    header = [
        "maker",
        "range",
        "code",
        "name",
        "L",
        "a",
        "b",
        "hex",
        "white",
        "opacity",
        "lightfastness",
        "effect",
        "owned",
    ]
    write_csv(DATA / "catalogue.csv", header, catalogue)
    write_csv(DATA / "sets.csv", ["range", "set", "codes"], sets)
    (DATA / "ranges.json").write_text(
        json.dumps([range_row(r) for r in charts], indent=1) + "\n",
        encoding="utf-8",
    )
    write_collection(world)


def range_row(name: str) -> dict[str, str | bool | None]:
    """What the demo says of a range."""
    point, water = ABLE[name]
    return {"maker": MAKERS[name], "range": name, "feel": FEEL[name], "holds_point": point, "water_soluble": water}


if __name__ == "__main__":
    main()
