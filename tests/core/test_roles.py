"""What a stand-in must do beside its colour. Common practice, no source."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.standins.roles import Ability, Unfit, Water, is_black, unfit_for

PALE, DARK = np.array([90.0, 0.0, 5.0]), np.array([30.0, 0.0, 0.0])


@pytest.mark.parametrize(
    ("role", "pencil", "water", "why"),
    [
        ("glaze", Ability("opaque", PALE), Water.NONE, Unfit.COVERS),
        ("glaze", Ability("transparent", PALE), Water.NONE, None),
        ("highlight", Ability("transparent", PALE), Water.NONE, Unfit.SHINES_THROUGH),
        ("highlight", Ability("opaque", PALE), Water.NONE, None),
        ("burnisher", Ability("semi", DARK), Water.NONE, Unfit.DARK),
        ("burnisher", Ability("semi", PALE), Water.NONE, None),
        ("detail", Ability("semi", DARK, holds_point=False), Water.NONE, Unfit.BLUNT),
        ("detail", Ability("semi", DARK, holds_point=True), Water.NONE, None),
        ("", Ability("semi", DARK, water_soluble=True), Water.OVER_IT, Unfit.DISSOLVES),
        ("", Ability("semi", DARK, water_soluble=False), Water.OVER_IT, None),
        ("", Ability("semi", DARK, water_soluble=False), Water.DISSOLVES_IT, Unfit.STAYS),
        ("", Ability("semi", DARK, water_soluble=True), Water.DISSOLVES_IT, None),
        ("", Ability("semi", DARK, water_soluble=True), Water.NONE, None),
        # Water spoils more than a wrong cover does.
        ("glaze", Ability("opaque", PALE, water_soluble=True), Water.OVER_IT, Unfit.DISSOLVES),
    ],
)
def test_a_role_asks_for_more_than_a_colour(role: str, pencil: Ability, water: Water, why: Unfit | None) -> None:
    assert unfit_for(role, pencil, water) is why


@pytest.mark.parametrize("role", ["glaze", "highlight", "burnisher", "detail", "base", ""])
@pytest.mark.parametrize("water", list(Water))
def test_what_nobody_has_said_refuses_nobody(role: str, water: Water) -> None:
    assert unfit_for(role, Ability("", None), water) is None


def test_black_is_dark_and_has_no_hue() -> None:
    assert is_black(Ability("opaque", DARK))
    assert not is_black(Ability("opaque", np.array([30.0, 5.0, -20.0])))
    assert not is_black(Ability("opaque", PALE))
    assert not is_black(Ability("opaque", None))
