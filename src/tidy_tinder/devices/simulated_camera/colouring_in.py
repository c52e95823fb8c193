"""A printed page coloured in with the pencils of the hidden world, by a hand that is never quite the same."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.layout import Layout, LayoutKind
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.devices.simulated_camera.coloured_page import ColouredPage
from tidy_tinder.devices.truth.world import demo_world

# From one making of a mark to the next the hand lays so much more or less, as a spread of the logarithm.
_HAND = 0.06
# Ordinary printing paper of the hidden world, for frames.
_PRINTED_ON = "Cotton print paper"


def coloured_in(
    layout: Layout,
    code: str,
    pencils: Mapping[int, str],
    words: Mapping[int, str],
    paper: str,
    filled: int = 100,
    layers: Mapping[int, int] | None = None,
) -> ColouredPage:
    """A page on a paper of the hidden world.

    code: what its QR code says; pencils: by cell, of the hidden world (“Heron 119”), and any other name for one of its
    pencils, always the same; words: what is written at each cell; filled: how much is coloured in, in per cent;
    layers: of each cell, 1 where nothing is said. Raises KeyError for a paper that is not of this world.
    """
    world = demo_world()
    body = world.reflectance(paper, ())
    marks, bars = {}, {}
    for index in sorted(pencils)[: round(len(pencils) * filled / 100)]:
        many = (layers or {}).get(index, 1)
        # Laid at another time than the one layer of the same pencil: the hand slips anew.
        again = () if many == 1 else (str(many),)
        for pressure in MARK_PRESSURES:
            hand = float(np.exp(_HAND * chance_about(code, pencils[index], pressure, *again).standard_normal()))
            passes = ((true_pencil(pencils[index]), pressure),) * many
            marks[index, pressure] = world.reflectance(paper, passes, hand=hand)
            if pressure == Pressure.HEAVY:
                bars[index] = world.reflectance(paper, passes, hand=hand, over_black=True)
    on = world.reflectance(_PRINTED_ON, ()) if layout.kind is LayoutKind.FRAME else body
    return ColouredPage(layout, code, words, body, on, marks, bars, int(chance_about(code).integers(1 << 30)))


def true_papers() -> tuple[str, ...]:
    """The names of the papers of the hidden world."""
    return tuple(demo_world().papers)


def true_paper(name: str, lab: Lab) -> str:
    """The paper of the hidden world by this name, else the one whose colour is nearest to a Lab (3,)."""
    papers = demo_world().papers
    if name in papers:
        return name
    bodies = {key: reflectance_to_lab(demo_world().reflectance(key, ())) for key in papers}
    return min(bodies, key=lambda key: float(delta_e_2000(bodies[key], lab)))


def true_pencil(name: str) -> str:
    """The pencil of the hidden world by this name (“Heron 119”); for any other name one of its own, always the same."""
    pencils = demo_world().pencils
    return name if name in pencils else sorted(pencils)[int(chance_about(name).integers(len(pencils)))]


def chance_about(*about: str) -> np.random.Generator:
    """Chance that is the same for the same thing on every machine."""
    digest = hashlib.sha256(" ".join(map(str, about)).encode()).digest()
    return np.random.default_rng(int.from_bytes(digest[:8], "big"))
