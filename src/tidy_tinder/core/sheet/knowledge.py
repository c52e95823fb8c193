"""What is known of a page beside its photo: its paper, a ramp that was measured, cells that a reader measured.

All of it goes into one correction; what there is decides how good it can be, and is named.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.sheet.cells import CellLight, ZoneLight, light_in
from tidy_tinder.core.sheet.correction import OFFICE_PAPER, Correction, Patch, White, correct
from tidy_tinder.core.sheet.flattening import FlatPage
from tidy_tinder.core.sheet.layout import GreyPatch, Layout, LayoutKind
from tidy_tinder.core.sheet.light import LightField
from tidy_tinder.core.vocabulary import Pressure

Triple = tuple[float, float, float]

# What a paper's own colour is off from sheet to sheet, in L*, a*, b*; a reader's reading of a printed grey; a mark
# that a reader measured beside the one that is photographed: the reading and an uneven hand (half of the demo's
# repeated marks lie within ΔE .57).
PAPER_SD: Triple = (0.5, 0.4, 0.5)
_RAMP_SD: Triple = (0.5, 0.4, 0.4)
KNOWN_SD: Triple = (0.8, 0.6, 0.6)
# Printed black before it is measured: between L* 16 on coated and 31 on uncoated paper for offset (ISO 12647-2, from
# memory), so about that for a printer at home; the reader of this takes no more from it than so wide a guess allows.
_BLACK: Triple = (23.0, 0.0, 0.0)
_BLACK_SD: Triple = (7.0, 2.5, 3.0)
# A patch whose mean holds pixels as bright as can be says nothing that is true.
_MOST_FULL = 0.02
# What looks like bare paper to the camera, as a share of the light; and what a mark differs from it at least, in ΔE00,
# to be missed there.
_BARE, _SEEN_AGAINST_PAPER = 0.05, 4.0
_INSET = 1.5  # of a patch of the ramp, in mm


class Guide(StrEnum):
    """By what a page's colours were corrected."""

    PAPER = "paper"
    RAMP = "ramp"
    CELLS = "cells"
    CELLS_AND_RAMP = "cells and ramp"


FEWEST_CELLS = 4
"""Measured cells from which a correction is said to rest on them; about twelve, spread over the colours, do best."""


@dataclass(frozen=True)
class PageKnowledge:
    """paper: Lab of the paper that was coloured; ramp: Lab of each step of the printed ramp by its share of black,
    where it was measured; cells: Lab of zones that a reader measured, by cell and pressure.
    """

    paper: Triple
    ramp: Mapping[float, Triple] = field(default_factory=dict)
    cells: Mapping[tuple[int, Pressure], Triple] = field(default_factory=dict)

    @property
    def guide(self) -> Guide:
        """What the correction rests on."""
        cells = len({index for index, _ in self.cells}) >= FEWEST_CELLS
        if self.ramp:
            return Guide.CELLS_AND_RAMP if cells else Guide.RAMP
        return Guide.CELLS if cells else Guide.PAPER


def corrected(flat: FlatPage, light: LightField, seen: tuple[CellLight, ...], known: PageKnowledge) -> Correction:
    """The camera undone by all that is known of this page."""
    layout = flat.found.layout
    patches = _ramp_patches(flat, light, known) + _cell_patches(seen, known)
    if layout.kind is LayoutKind.FRAME:
        patches += [_patch(zone, known.paper, PAPER_SD) for zone in _bare_zones(layout, seen)]
    return correct(_white(layout, known), patches, flat.space.matrix)


def art_paper_on(
    flat: FlatPage, light: LightField, seen: tuple[CellLight, ...], known: PageKnowledge
) -> tuple[Lab, float] | None:
    """The paper in a frame's bare windows, told without what is known of it, and its spread (90 %) in ΔE00; None on a
    sheet.
    """
    layout = flat.found.layout
    zones = _bare_zones(layout, seen)
    if not zones:
        return None
    alone = correct(
        _white(layout, known), _ramp_patches(flat, light, known) + _cell_patches(seen, known), flat.space.matrix
    )
    lab, covariance = alone.colours(
        np.array([z.seen for z in zones]), np.array([z.bare for z in zones]), np.array([z.light_sd for z in zones])
    )
    middle = np.asarray(lab.mean(0), dtype=np.float64)
    return middle, float(radius(covariance.mean(0), middle))


def _white(layout: Layout, known: PageKnowledge) -> White:
    """The paper that the page is printed on: a sheet is the paper itself, a frame is ordinary paper."""
    return OFFICE_PAPER if layout.kind is LayoutKind.FRAME else White(known.paper, PAPER_SD)


def _ramp_patches(flat: FlatPage, light: LightField, known: PageKnowledge) -> list[Patch]:
    """The ramp where it was measured; else its black alone, as printed black is about known."""
    found = []
    for patch in flat.found.layout.ramp:
        lab, sd = _ramp_colour(patch, known)
        if lab is not None:
            found.append(_patch(light_in(flat, light, patch.box.inset(_INSET)), lab, sd))
    return found


def black_on(flat: FlatPage, light: LightField) -> float | None:
    """Light of the printed black of the ramp, as a share of bare paper's; None where the page has no such patch."""
    blacks = [patch for patch in flat.found.layout.ramp if patch.black == 1.0]
    shares = [float(light_in(flat, light, patch.box.inset(_INSET)).share.mean()) for patch in blacks]
    return float(np.median(shares)) if shares else None


def _ramp_colour(patch: GreyPatch, known: PageKnowledge) -> tuple[Triple | None, Triple]:
    if known.ramp:
        return known.ramp.get(patch.black), _RAMP_SD
    return (_BLACK if patch.black == 1.0 else None), _BLACK_SD


def _cell_patches(seen: tuple[CellLight, ...], known: PageKnowledge) -> list[Patch]:
    by_index = {cell.index: cell for cell in seen}
    return [
        _patch(zone, lab, KNOWN_SD)
        for (index, pressure), lab in known.cells.items()
        if (zone := by_index[index].zones[pressure]).full < _MOST_FULL and not _left_bare(zone, lab, known.paper)
    ]


def _left_bare(zone: ZoneLight, lab: Triple, paper: Triple) -> bool:
    """Whether a mark that was measured is not on this page: its place is bare, and the mark is none of bare paper."""
    bare = float(np.abs(np.log(np.maximum(zone.share, 1e-3))).max()) < _BARE
    return bare and float(delta_e_2000(np.array(lab), np.array(paper))) > _SEEN_AGAINST_PAPER


def _bare_zones(layout: Layout, seen: tuple[CellLight, ...]) -> list[ZoneLight]:
    bare = {cell.index for cell in layout.cells if cell.bare}
    return [zone for cell in seen if cell.index in bare for zone in cell.zones.values() if zone.full < _MOST_FULL]


def _patch(zone: ZoneLight, lab: Triple, sd: Triple) -> Patch:
    """A place of known colour; what the light there may be off is the lightness's doubt too."""
    lightness = float(np.hypot(sd[0], _L_PER_LOG * zone.light_sd))
    return Patch(zone.seen, zone.bare, lab, (lightness, sd[1], sd[2]))


# L* goes up by so much for each unit of the logarithm of light, near white: 116/3 (CIE 15).
_L_PER_LOG = 116.0 / 3.0
