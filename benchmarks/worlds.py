"""Worlds that the model is judged on: the demo's hidden physics with new pigments, pencils, papers and hands, and
three further physics (`benchmarks.grain`, `.strokes`, `.rubbing`) that have little in common with it or each other.

So the model is tuned to no one collection and to no one simulator. Nothing in the application imports this.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from benchmarks.grain import grain_paper, grain_pencil, grain_reflectance
from benchmarks.rubbing import rubbed_paper, rubbed_pencil, rubbing_hand, rubbing_reflectance
from benchmarks.strokes import stroke_hand, stroke_paper, stroke_pencil, stroke_reflectance
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Opacity, PrintedOpacity, Tooth
from tidy_tinder.devices.truth.pigments import WAVELENGTHS
from tidy_tinder.devices.truth.simulator import Pass, Patch, TruePaper, TruePencil, reflectance
from tidy_tinder.devices.truth.world import demo_world

Array = NDArray[np.float64]

# Kinds of paper: level, warmth, roughness in µm (all from, to), and the tooth class that an artist would tick.
PAPER_KINDS = {
    "white smooth": ((0.84, 0.92), (0.0, 0.08), (2.5, 4.5), Tooth.SMOOTH),
    "white medium": ((0.82, 0.90), (0.0, 0.12), (5.0, 8.0), Tooth.MEDIUM),
    "white rough": ((0.82, 0.90), (0.0, 0.12), (9.0, 13.0), Tooth.ROUGH),
    "toned": ((0.28, 0.66), (0.0, 0.14), (4.0, 11.0), None),
    "black": ((0.035, 0.065), (0.0, 0.008), (4.5, 8.0), Tooth.MEDIUM),
}
CLASSES = tuple(Opacity)
NOISE = 0.3


@dataclass(frozen=True, eq=False)
class MadePencil(TruePencil):
    """A pencil of pigments that the demo's world does not have."""

    absorbs: Array | None = None
    scatters: Array | None = None

    @property
    def K(self) -> Array:
        """Absorption per unit of mass, (63,)."""
        assert self.absorbs is not None
        return self.absorbs

    @property
    def S(self) -> Array:
        """Scattering per unit of mass, (63,)."""
        assert self.scatters is not None
        return self.scatters


class World(Protocol):
    """Pencils with the class of cover that their charts print, papers with their tooth class, an artist's hand."""

    @property
    def opacities(self) -> Sequence[PrintedOpacity]:
        """The class of cover that the chart prints, of each pencil."""

    @property
    def papers(self) -> Mapping[str, object]:
        """Papers by name."""

    @property
    def slip(self) -> float:
        """Standard deviation of ln load from making to making."""

    @property
    def tooths(self) -> Mapping[str, Tooth]:
        """The tooth class of each paper, as an artist would tick it."""

    def true_reflectance(
        self, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False, solvent: bool = False
    ) -> Reflectance:
        """Reflectance (31,) of passes ((pencil, pressure), …) by this hand at its steadiest; none for bare paper."""

    def true_lab(
        self, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False, solvent: bool = False
    ) -> Lab:
        """Lab (3,) of passes by this hand at its steadiest."""

    def reading(
        self, rng: Generator, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False
    ) -> tuple[Lab, Reflectance]:
        """Lab (3,) and spectrum of one making, as this hand makes it and a reader sees it."""


@dataclass(frozen=True)
class WorldLikeTheDemo:
    """A world by the demo's physics. hand: factor on its loads; slip: sd of ln load from making to making."""

    pencils: tuple[TruePencil, ...]
    opacities: tuple[PrintedOpacity, ...]
    papers: Mapping[str, TruePaper]
    tooths: Mapping[str, Tooth]
    hand: float
    slip: float = 0.08

    def true_reflectance(
        self, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False, solvent: bool = False
    ) -> Reflectance:
        """Reflectance (31,) of passes ((pencil, pressure), …) by this hand at its steadiest."""
        laid = tuple(Pass(self.pencils[i], pressure) for i, pressure in passes)
        return reflectance(Patch(laid, over_black, solvent), self.papers[paper], self.hand)

    def true_lab(
        self, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False, solvent: bool = False
    ) -> Lab:
        """Lab (3,) of passes by this hand at its steadiest."""
        return reflectance_to_lab(self.true_reflectance(paper, passes, over_black, solvent))

    def reading(
        self, rng: Generator, paper: str, passes: tuple[tuple[int, str], ...], over_black: bool = False
    ) -> tuple[Lab, Reflectance]:
        """Lab (3,) and spectrum of one making, with an uneven hand and a reader's noise of about .3 ΔE."""
        laid = tuple(Pass(self.pencils[i], pressure) for i, pressure in passes)
        hand = self.hand * float(np.exp(rng.normal(0.0, self.slip)))
        seen = reflectance(Patch(laid, over_black), self.papers[paper], hand)
        seen = seen * (1.0 + rng.normal(0.0, 0.003)) + rng.normal(0.0, 0.0008, seen.shape)
        return reflectance_to_lab(seen), np.clip(seen, 1e-4, 1.6)


def random_world(seed: int, pencils: int = 60, slip: float = 0.08) -> WorldLikeTheDemo:
    """A new world by the demo's physics."""
    rng = np.random.default_rng(seed)
    pigments = _pigments(rng)
    made = [_pencil(rng, pigments, i) for i in range(pencils)]
    papers: dict[str, TruePaper] = {}
    tooths: dict[str, Tooth] = {}
    for kind, (levels, warmths, roughnesses, tooth) in PAPER_KINDS.items():
        papers[kind] = _paper(rng, kind, levels, warmths, roughnesses)
        tooths[kind] = tooth or _by_depth(papers[kind].roughness, 4.8, 8.5)
    return WorldLikeTheDemo(
        tuple(p for p, _ in made), tuple(c for _, c in made), papers, tooths, float(np.exp(rng.normal(0.0, 0.12))), slip
    )


DEMO_PAPERS = {
    "white medium": ("Vellum board", Tooth.MEDIUM),
    "white smooth": ("Hot-pressed board", Tooth.SMOOTH),
    "print paper": ("Cotton print paper", Tooth.MEDIUM),
    "toned": ("Buff sanded card", Tooth.ROUGH),
    "grey-toned": ("Grey-toned sketch paper", Tooth.MEDIUM),
    "black": ("Black paper", Tooth.MEDIUM),
}


def the_demos_world(opacities: Mapping[str, Opacity], every: int = 4) -> WorldLikeTheDemo:
    """Every so many-th ordinary pencil of the demo's hidden world, with the classes that its charts print."""
    world = demo_world()
    keys = [key for key, p in world.pencils.items() if p.effect.value == "ordinary" and key in opacities][::every]
    papers = {name: world.papers[key] for name, (key, _) in DEMO_PAPERS.items()}
    tooths = {name: tooth for name, (_, tooth) in DEMO_PAPERS.items()}
    return WorldLikeTheDemo(
        tuple(world.pencils[k] for k in keys), tuple(opacities[k] for k in keys), papers, tooths, 1.0
    )


# Kinds of paper of the second physics: level, warmth, depth of the pits, tooth class.
GRAIN_KINDS = {
    "white smooth": ((0.80, 0.92), (0.0, 0.12), (0.35, 0.6), Tooth.SMOOTH),
    "white medium": ((0.78, 0.90), (0.0, 0.14), (0.7, 1.1), Tooth.MEDIUM),
    "white rough": ((0.78, 0.90), (0.0, 0.14), (1.2, 1.8), Tooth.ROUGH),
    "toned": ((0.25, 0.62), (0.0, 0.3), (0.6, 1.5), None),
    "black": ((0.035, 0.06), (0.0, 0.02), (0.6, 1.2), Tooth.MEDIUM),
}


# Kinds of paper of the third physics: level, warmth, depth of the hollows, tooth class.
STROKE_KINDS = {
    "white smooth": ((0.82, 0.92), (0.0, 0.10), (0.18, 0.32), Tooth.SMOOTH),
    "white medium": ((0.80, 0.90), (0.0, 0.12), (0.34, 0.50), Tooth.MEDIUM),
    "white rough": ((0.78, 0.90), (0.0, 0.12), (0.55, 0.80), Tooth.ROUGH),
    "toned": ((0.25, 0.62), (0.0, 0.3), (0.30, 0.70), None),
    "black": ((0.035, 0.065), (0.0, 0.02), (0.30, 0.55), Tooth.MEDIUM),
}


# Kinds of paper of the fourth physics: level, warmth, depth of the relief, tooth class.
RUBBING_KINDS = {
    "white smooth": ((0.80, 0.90), (0.0, 0.10), (0.40, 0.65), Tooth.SMOOTH),
    "white medium": ((0.78, 0.90), (0.0, 0.12), (0.80, 1.15), Tooth.MEDIUM),
    "white rough": ((0.78, 0.90), (0.0, 0.12), (1.35, 1.90), Tooth.ROUGH),
    "toned": ((0.25, 0.62), (0.0, 0.3), (0.70, 1.60), None),
    "black": ((0.035, 0.065), (0.0, 0.02), (0.70, 1.20), Tooth.MEDIUM),
}


Passes = tuple[tuple[int, str], ...]
# What passes, each with a slip, look like on a paper, over the black bar or not, dissolved or not: reflectance (31,).
Physics = Callable[[Passes, str, Sequence[float], bool, bool], Reflectance]


@dataclass(frozen=True)
class WorldOfPasses:
    """A world by another physics than the demo's. slip: sd of ln load from making to making; each pass in one has .6
    of it anew. unsteady: by how much a reader errs in all bands together, as a share.
    """

    opacities: tuple[PrintedOpacity, ...]
    papers: Mapping[str, object]
    tooths: Mapping[str, Tooth]
    slip: float
    look: Physics
    unsteady: float

    def true_reflectance(
        self, paper: str, passes: Passes, over_black: bool = False, solvent: bool = False
    ) -> Reflectance:
        """Reflectance (31,) of passes ((pencil, pressure), …) by a hand that does not slip."""
        return self.look(passes, paper, (), over_black, solvent)

    def true_lab(self, paper: str, passes: Passes, over_black: bool = False, solvent: bool = False) -> Lab:
        """Lab (3,) of passes by a hand that does not slip."""
        return reflectance_to_lab(self.true_reflectance(paper, passes, over_black, solvent))

    def reading(self, rng: Generator, paper: str, passes: Passes, over_black: bool = False) -> tuple[Lab, Reflectance]:
        """Lab (3,) and spectrum of one making, each pass with a slip of its own, by a reader with noise of .4 ΔE."""
        slips = rng.normal(0.0, 0.8 * self.slip) + rng.normal(0.0, 0.6 * self.slip, len(passes))
        seen = self.look(passes, paper, list(slips), over_black, False)
        seen = seen * (1.0 + rng.normal(0.0, self.unsteady)) + rng.normal(0.0, 0.001, seen.shape)
        return reflectance_to_lab(seen), np.clip(seen, 1e-4, 1.6)


def grain_world(seed: int, pencils: int = 36, slip: float = 0.14) -> WorldOfPasses:
    """A new world by the second physics."""
    rng = np.random.default_rng([2, seed])
    made = [grain_pencil(rng) for _ in range(pencils)]
    printed = _printed(rng, made)
    papers = {
        kind: grain_paper(rng, level, warmth, depth, kind == "toned")
        for kind, (level, warmth, depth, _) in GRAIN_KINDS.items()
    }
    tooths = {kind: tooth or _by_depth(papers[kind].depth, 0.7, 1.15) for kind, (*_, tooth) in GRAIN_KINDS.items()}

    def look(passes: Passes, paper: str, slips: Sequence[float], over_black: bool, solvent: bool) -> Reflectance:
        laid = [(made[i][0], pressure) for i, pressure in passes]
        return grain_reflectance(laid, papers[paper], slips, over_black, solvent)

    return WorldOfPasses(printed, papers, tooths, slip, look, 0.005)


def stroke_world(seed: int, pencils: int = 36, slip: float = 0.14) -> WorldOfPasses:
    """A new world by the third physics."""
    rng = np.random.default_rng([3, seed])
    made = [stroke_pencil(rng) for _ in range(pencils)]
    printed, hand = _printed(rng, made), stroke_hand(rng)
    papers = {
        kind: stroke_paper(rng, level, warmth, depth, kind == "toned")
        for kind, (level, warmth, depth, _) in STROKE_KINDS.items()
    }
    tooths = {kind: tooth or _by_depth(papers[kind].depth, 0.33, 0.53) for kind, (*_, tooth) in STROKE_KINDS.items()}

    def look(passes: Passes, paper: str, slips: Sequence[float], over_black: bool, solvent: bool) -> Reflectance:
        laid = [(made[i][0], pressure) for i, pressure in passes]
        return stroke_reflectance(laid, papers[paper], hand, slips, over_black, solvent)

    return WorldOfPasses(printed, papers, tooths, slip, look, 0.004)


def rubbing_world(seed: int, pencils: int = 36, slip: float = 0.14) -> WorldOfPasses:
    """A new world by the fourth physics."""
    rng = np.random.default_rng([4, seed])
    made = [rubbed_pencil(rng) for _ in range(pencils)]
    printed, hand = _printed(rng, made), rubbing_hand(rng)
    papers = {
        kind: rubbed_paper(rng, level, warmth, depth, kind == "toned", kind.startswith("white"))
        for kind, (level, warmth, depth, _) in RUBBING_KINDS.items()
    }
    depths = {kind: float(paper.relief.std()) for kind, paper in papers.items()}
    tooths = {kind: tooth or _by_depth(depths[kind], 0.75, 1.25) for kind, (*_, tooth) in RUBBING_KINDS.items()}

    def look(passes: Passes, paper: str, slips: Sequence[float], over_black: bool, solvent: bool) -> Reflectance:
        laid = [(made[i][0], pressure) for i, pressure in passes]
        return rubbing_reflectance(laid, papers[paper], hand, slips, over_black, solvent)

    return WorldOfPasses(printed, papers, tooths, slip, look, 0.004)


def _printed(rng: Generator, made: Sequence[tuple[object, int]]) -> tuple[PrintedOpacity, ...]:
    """The class of cover that each chart prints; one in seven is wrong."""
    return tuple(CLASSES[int(rng.integers(0, 3)) if rng.random() < 1 / 7 else cover] for _, cover in made)


def _by_depth(depth: float, medium_from: float, rough_from: float) -> Tooth:
    return Tooth.SMOOTH if depth < medium_from else Tooth.MEDIUM if depth < rough_from else Tooth.ROUGH


def _pigments(rng: Generator) -> list[tuple[Array, Array]]:
    """Fourteen chromatic colourants (steps and bells at random places), two earths, a black: K and S (63,) each."""
    found = []
    for i in range(14):
        height, flat = rng.uniform(5.0, 12.0), rng.uniform(0.003, 0.03)
        if i % 2:
            K = height / (1.0 + np.exp((WAVELENGTHS - rng.uniform(475, 620)) / rng.uniform(6, 16)))
        else:
            centre = rng.uniform(510, 670)
            K = height * np.exp(-0.5 * ((WAVELENGTHS - centre) / rng.uniform(25, 60)) ** 2)
            K = K + height * rng.uniform(0, 0.6) * np.exp(
                -0.5 * ((WAVELENGTHS - centre - rng.uniform(25, 70)) / rng.uniform(15, 35)) ** 2
            )  # fmt: skip
        found.append((K + flat, rng.uniform(0.04, 0.2) * (560.0 / WAVELENGTHS) ** rng.uniform(0.3, 1.0)))
    for _ in range(2):
        edge = rng.uniform(3, 5) / (1.0 + np.exp((WAVELENGTHS - rng.uniform(520, 590)) / rng.uniform(12, 26)))
        found.append((edge + rng.uniform(0.05, 0.5), np.full_like(WAVELENGTHS, rng.uniform(0.2, 0.4))))
    found.append((np.full_like(WAVELENGTHS, rng.uniform(5, 8)), np.full_like(WAVELENGTHS, 0.06)))
    return found


def _pencil(rng: Generator, pigments: list[tuple[Array, Array]], number: int) -> tuple[TruePencil, Opacity]:
    """A pencil of one to three pigments, more or less tinted with white, and its printed class (one in seven wrong)."""
    parts = rng.choice(len(pigments), size=rng.integers(1, 4), replace=False)
    amounts = rng.dirichlet(np.ones(parts.size)) * np.exp(rng.normal(np.log(0.09), 0.6))
    true_class = int(rng.integers(0, 3))
    filler = (0.055, 0.13, 0.26)[true_class] * np.exp(rng.normal(0.0, 0.2))
    white = float(rng.choice([0.0, rng.uniform(0.02, 0.12), rng.uniform(0.2, 0.8)], p=[0.45, 0.3, 0.25]))
    K = sum(a * pigments[i][0] for a, i in zip(amounts, parts, strict=True)) + 0.004 * (1.0 + white)
    S = sum(a * pigments[i][1] for a, i in zip(amounts, parts, strict=True))
    S = S + (filler + 1.15 * white) * (560.0 / WAVELENGTHS) ** 0.5
    if white > 0.2:
        true_class = 2
    printed = int(rng.integers(0, 3)) if rng.random() < 1 / 7 else true_class
    softness, grip = float(np.exp(rng.normal(-0.02, 0.2))), float(rng.uniform(0.85, 1.15))
    pencil = MadePencil(f"made {number}", (), filler, softness, grip, absorbs=np.asarray(K), scatters=np.asarray(S))
    return pencil, CLASSES[printed]


def _paper(rng: Generator, key: str, *ranges: tuple[float, float]) -> TruePaper:
    level, warmth, roughness = (float(rng.uniform(*r)) for r in ranges)
    spectrum = level - warmth * np.exp(-(WAVELENGTHS - 395.0) / 70.0)
    if key == "toned" and rng.random() < 0.6:
        depth, centre = rng.uniform(0.15, 0.6), rng.uniform(480, 560)
        spectrum = spectrum * (1.0 - depth / (1.0 + np.exp((WAVELENGTHS - centre) / 50.0)))
    return TruePaper(key, np.clip(spectrum, 0.02, 1.0), roughness, float(rng.uniform(-0.3, 0.5)), 0.2)
