"""What a stand-in must do beside its colour. Common practice, no source."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.standins.roles import Ability, Unfit, Water, is_black, unfit_for
from tidy_tinder.core.vocabulary import Opacity, SaidRole

PALE, DARK = np.array([90.0, 0.0, 5.0]), np.array([30.0, 0.0, 0.0])


@pytest.mark.parametrize(
    ("role", "pencil", "water", "why"),
    [
        ("glaze", Ability(Opacity.OPAQUE, PALE), Water.NONE, Unfit.COVERS),
        ("glaze", Ability(Opacity.TRANSPARENT, PALE), Water.NONE, None),
        ("highlight", Ability(Opacity.TRANSPARENT, PALE), Water.NONE, Unfit.SHINES_THROUGH),
        ("highlight", Ability(Opacity.OPAQUE, PALE), Water.NONE, None),
        ("burnisher", Ability(Opacity.SEMI, DARK), Water.NONE, Unfit.DARK),
        ("burnisher", Ability(Opacity.SEMI, PALE), Water.NONE, None),
        ("detail", Ability(Opacity.SEMI, DARK, holds_point=False), Water.NONE, Unfit.BLUNT),
        ("detail", Ability(Opacity.SEMI, DARK, holds_point=True), Water.NONE, None),
        ("", Ability(Opacity.SEMI, DARK, water_soluble=True), Water.OVER_IT, Unfit.DISSOLVES),
        ("", Ability(Opacity.SEMI, DARK, water_soluble=False), Water.OVER_IT, None),
        ("", Ability(Opacity.SEMI, DARK, water_soluble=False), Water.DISSOLVES_IT, Unfit.STAYS),
        ("", Ability(Opacity.SEMI, DARK, water_soluble=True), Water.DISSOLVES_IT, None),
        ("", Ability(Opacity.SEMI, DARK, water_soluble=True), Water.NONE, None),
        # Water spoils more than a wrong cover does.
        ("glaze", Ability(Opacity.OPAQUE, PALE, water_soluble=True), Water.OVER_IT, Unfit.DISSOLVES),
    ],
)
def test_a_role_asks_for_more_than_a_colour(role: SaidRole, pencil: Ability, water: Water, why: Unfit | None) -> None:
    assert unfit_for(role, pencil, water) is why


@pytest.mark.parametrize("role", ["glaze", "highlight", "burnisher", "detail", "base", ""])
@pytest.mark.parametrize("water", list(Water))
def test_what_nobody_has_said_refuses_nobody(role: SaidRole, water: Water) -> None:
    assert unfit_for(role, Ability("", None), water) is None


def test_black_is_dark_and_has_no_hue() -> None:
    assert is_black(Ability(Opacity.OPAQUE, DARK))
    assert not is_black(Ability(Opacity.OPAQUE, np.array([30.0, 5.0, -20.0])))
    assert not is_black(Ability(Opacity.OPAQUE, PALE))
    assert not is_black(Ability(Opacity.OPAQUE, None))
