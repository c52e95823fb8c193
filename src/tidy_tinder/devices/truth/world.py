"""The demo's hidden world: every true pencil and paper, by key, and a patch measured in it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from tidy_tinder.core.quantities import Reflectance
from tidy_tinder.devices.truth.fading import faded
from tidy_tinder.devices.truth.pigments import PIGMENT_NAMES, WAVELENGTHS
from tidy_tinder.devices.truth.simulator import Effect, Pass, Patch, TruePaper, TruePencil, reflectance


@dataclass(frozen=True)
class TrueWorld:
    """All true pencils (“Heron 119”) and papers (“Vellum board”) by key."""

    pencils: Mapping[str, TruePencil]
    papers: Mapping[str, TruePaper]

    def reflectance(
        self, paper: str, passes: tuple[tuple[str, str], ...], *, hand: float = 1.0, over_black: bool = False,
        solvent: bool = False, wet: bool = False, dose: float = 0.0,
    ) -> Reflectance:  # fmt: skip
        """What an ideal reader sees: reflectance (31,) of passes ((pencil key, pressure), …) on a paper. dose: light
        that fell on it since, in days at a south window.

        Raises KeyError for a pencil or paper that is not of this world.
        """
        laid = tuple(Pass(faded(self.pencils[key], dose), pressure) for key, pressure in passes)
        return reflectance(Patch(laid, over_black, solvent, wet), self.papers[paper], hand)


def paper_from(row: Mapping[str, Any]) -> TruePaper:
    """A paper from its row: a level, slopes and a smooth edge make its spectrum."""
    level, warmth, edge = float(row["level"]), float(row["warmth"]), row.get("edge")
    spectrum = level - warmth * np.exp(-(WAVELENGTHS - 395.0) / 70.0)
    if edge:
        centre, width, depth = edge
        spectrum = spectrum * (1.0 - depth / (1.0 + np.exp((WAVELENGTHS - centre) / width)))
    return TruePaper(row["key"], spectrum, float(row["roughness"]), float(row["skew"]), float(row["absorbency"]))


def pencil_from(row: Mapping[str, Any]) -> TruePencil:
    """A pencil from its row: amounts by pigment name; pigments not named are absent."""
    amounts = tuple(float(row["amounts"].get(name, 0.0)) for name in PIGMENT_NAMES)
    return TruePencil(
        row["key"],
        amounts,
        row["filler"],
        row["softness"],
        row["grip"],
        Effect(row["effect"]),
        row["soluble"],
    )


@cache
def demo_world() -> TrueWorld:
    """The world of the demo, from the data files beside this module (tools/derive_demo.py)."""
    folder = resources.files(__package__)
    pencils = json.loads(folder.joinpath("pencils.json").read_text(encoding="utf-8"))
    papers = json.loads(folder.joinpath("papers.json").read_text(encoding="utf-8"))
    return TrueWorld({row["key"]: pencil_from(row) for row in pencils}, {row["key"]: paper_from(row) for row in papers})
