"""Colours under lamp light, beside colour-science over published spectra."""

from __future__ import annotations

import warnings

import numpy as np
import pytest

from tidy_tinder.core.difference.lamps import Lamp, lab_under, under_lamps
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab, weights


@pytest.mark.parametrize("lamp", list(Lamp))
def test_lab_under_a_lamp_is_that_of_colour_science(lamp: Lamp) -> None:
    """The 24-patch chart under CIE illuminants A and LED-B3 (CIE 15:2018), relative to the lamp's white."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

        fine = colour.SpectralShape(360, 830, 1)
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(fine)
        light = colour.SDS_ILLUMINANTS[lamp.value].copy().align(fine)
        white = colour.sd_to_XYZ(colour.sd_ones(fine), observer, light, method="Integration")
        for sd in colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"].values():
            grid = sd.copy().align(colour.SpectralShape(400, 700, 10))
            held = {w: float(np.interp(w, BANDS, grid.values)) for w in fine.range()}
            theirs = colour.sd_to_XYZ(colour.SpectralDistribution(held), observer, light, method="Integration")
            lab = colour.XYZ_to_Lab(theirs / white[1], colour.XYZ_to_xy(white))
            assert lab_under(lamp, grid.values) == pytest.approx(lab, abs=2e-3)


def test_a_metameric_pair_parts_under_a_lamp_and_a_spectrum_does_not_part_from_itself() -> None:
    """A step that no eye sees in daylight (in the null space of the D65 weights) shows under another light."""
    grey = np.full(BANDS.size, 0.4)
    _, _, rows = np.linalg.svd(weights().T)
    unseen = rows[3:] @ np.sin(BANDS / 30.0) @ rows[3:]
    other = grey + 0.25 * unseen / np.abs(unseen).max()
    assert reflectance_to_lab(other) == pytest.approx(reflectance_to_lab(grey), abs=1e-9)
    found = under_lamps(grey, other)
    assert found.daylight < 1e-6
    assert found.parts
    assert max(one.delta_e for one in found.lamps) > 1.0
    same = under_lamps(grey, grey)
    assert not same.parts
    assert all(one.delta_e == 0.0 for one in same.lamps)
    with pytest.raises(ShapeError):
        lab_under(Lamp.LED, [0.5, 0.5])


def test_what_differs_in_daylight_already_does_not_part_under_a_lamp() -> None:
    """Two of the chart's greys: plainly different by day, and under a lamp no more than that."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

        chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
        shape = colour.SpectralShape(400, 700, 10)
        greys = [chart[name].copy().align(shape).values for name in ("neutral 8 (.23 D)", "neutral 5 (.70 D)")]
    seen = under_lamps(*greys)
    assert seen.daylight > 20
    assert all(abs(one.delta_e - seen.daylight) < 1 for one in seen.lamps)
    assert not seen.parts
