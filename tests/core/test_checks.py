"""The checks of recipes: each fires on a bad one and not on its near miss. The rules are common practice, no source."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import pytest

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.checks.cautions import FIRST, cautions_for
from tidy_tinder.core.planning.checks.facts import CheckedCall, CheckedRecipe, CheckedStep
from tidy_tinder.core.planning.checks.finding import Act, Finding, Rule
from tidy_tinder.core.planning.checks.rules import RULES, check
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Finish, Material, Opacity, Pressure, Purpose, Role

PAPER = np.array([95.0, 0.0, 2.0])


def lab(L: float, a: float = 0.0, b: float = 0.0) -> Lab:
    return np.array([L, a, b])


def call(key: int, pressure: Pressure = Pressure.MEDIUM, layers: int = 1, **known: Any) -> CheckedCall:
    """A call of the colour of its own number; alone and after in L* where only those are given."""
    for name in ("alone", "after", "masstone"):
        if isinstance(known.get(name), int | float):
            known[name] = lab(known[name])
    known.setdefault("rated", "I")
    return CheckedCall(key, known.pop("colour", key), f"pencil {key}", (Layer(key, pressure, layers),), **known)


def step(key: int, *calls: CheckedCall, area: str = "Cap", **said: Any) -> CheckedStep:
    return CheckedStep(key, key, area, calls=calls, **said)


def found(rule: Rule, steps: Sequence[CheckedStep], **recipe: Any) -> list[Finding]:
    """What one check finds in a recipe on a paper that takes nine layers and solvent."""
    facts = {"most_layers": 9, "stands_solvent": True, **recipe}
    return [each for each in check(CheckedRecipe(tuple(steps), **facts)) if each.rule is rule]


LAID = tuple(call(i) for i in (1, 2, 3))
SOLVENT = {"finish": Finish.SOLVENT, "purpose": Purpose.BLEND}
DARK = call(1, Pressure.HEAVY, alone=20)
CLOSED = call(9, Pressure.HEAVY, room=0.1)

BAD_AND_NEAR: dict[Rule, tuple[tuple[Sequence[CheckedStep], dict[str, Any]], ...]] = {
    # The bad one first, then those that only look like it.
    Rule.THIN_FOR_SOLVENT: (
        ([step(1, *LAID[:2]), step(2, **SOLVENT)], {}),
        ([step(1, *LAID), step(2, **SOLVENT)], {}),
        ([step(1, call(1), call(2, layers=2)), step(2, **SOLVENT)], {}),
        ([step(1, *LAID[:2]), step(2, finish=Finish.WET)], {}),
    ),
    Rule.NOT_DRY: (
        ([step(1, *LAID), step(2, **SOLVENT), step(3, call(4))], {}),
        ([step(1, *LAID), step(2, **SOLVENT, waits=True), step(3, call(4))], {}),
        ([step(1, *LAID), step(2, **SOLVENT), step(3, waits=True), step(4, call(4))], {}),
        ([step(1, *LAID), step(2, **SOLVENT), step(3, call(4), area="Gills")], {}),
        ([step(1, *LAID), step(2, **SOLVENT)], {}),
    ),
    Rule.PAPER_WITHOUT_SOLVENT: (
        ([step(1, *LAID, **SOLVENT)], {"stands_solvent": False}),
        ([step(1, *LAID, **SOLVENT)], {}),
        ([step(1, *LAID, finish=Finish.BURNISHED)], {"stands_solvent": False}),
    ),
    Rule.TOO_MANY_LAYERS: (
        ([step(1, call(1, layers=3)), step(2, call(2))], {"most_layers": 3}),
        ([step(1, call(1, layers=3)), step(2, call(2))], {"most_layers": 4}),
        ([step(1, call(1, layers=3)), step(2, call(2), area="Gills")], {"most_layers": 3}),
    ),
    Rule.CLOSED_TOO_EARLY: (
        ([step(1, call(1)), step(2, call(2, role=Role.BURNISHER)), step(3, call(3))], {}),
        ([step(1, call(1)), step(2, call(3)), step(3, call(2, role=Role.BURNISHER))], {}),
        ([step(1, call(1), finish=Finish.BURNISHED), step(2, call(3), purpose=Purpose.HIGHLIGHT)], {}),
        ([step(1, CLOSED), step(2, call(3))], {}),
        ([step(1, call(9, Pressure.HEAVY, room=0.6)), step(2, call(3), purpose=Purpose.GLAZE)], {}),
    ),
    Rule.LIGHT_OVER_DARK: (
        ([step(1, call(1, alone=25, after=25)), step(2, call(2, alone=80, after=26))], {}),
        ([step(1, call(1, alone=25, after=25)), step(2, call(2, alone=80, after=32))], {}),
        ([step(1, call(1, alone=65, after=65)), step(2, call(2, alone=80, after=66))], {}),
        ([step(1, call(1, alone=25, after=25)), step(2, call(2, alone=80, after=26, opacity=Opacity.OPAQUE))], {}),
        ([step(1, call(1, alone=25, after=25)), step(2, call(2, alone=80, after=26, role=Role.BURNISHER))], {}),
        ([step(1, call(1, alone=25, after=25), in_places=True), step(2, call(2, alone=80, after=26))], {}),
        ([step(1, call(1, alone=25, after=25)), step(2, call(2, alone=80, after=26), area="Gills")], {}),
    ),
    Rule.OPAQUE_GLAZE: (
        (
            [
                step(1, call(1, alone=60, after=60)),
                step(2, call(2, alone=30, after=35, opacity=Opacity.OPAQUE), purpose=Purpose.GLAZE),
            ],
            {},
        ),
        (
            [
                step(1, call(1, alone=60, after=60)),
                step(2, call(2, alone=30, after=35, opacity=Opacity.TRANSPARENT), purpose=Purpose.GLAZE),
            ],
            {},
        ),
        ([step(1, call(1, alone=60, after=60)), step(2, call(2, alone=30, after=35, opacity=Opacity.OPAQUE))], {}),
        (
            [
                step(1, call(1, alone=60, after=60)),
                step(2, call(2, alone=58, after=58, opacity=Opacity.OPAQUE, role=Role.GLAZE)),
            ],
            {},
        ),
    ),
    Rule.DARKEST_FIRST: (
        ([step(1, DARK), step(2, call(2, alone=60), call(3, alone=50))], {}),
        ([step(1, call(1, Pressure.MEDIUM, alone=20)), step(2, call(2, alone=60), call(3, alone=50))], {}),
        ([step(1, call(2, alone=60)), step(2, DARK, call(3, alone=50))], {}),
        ([step(1, DARK), step(2, call(2, alone=18), call(3, alone=50))], {}),
        ([step(1, DARK), step(2, call(2, alone=60), call(3, alone=50))], {"dark_first": True}),
        ([step(1, DARK), step(2, call(2, alone=60))], {}),
    ),
    Rule.DARKEST_MISSED: (
        ([step(1, call(1, after=50))], {"darkest_wanted": 20.0, "darkest_here": ("Soot", 25.0)}),
        ([step(1, call(1, after=29))], {"darkest_wanted": 20.0, "darkest_here": ("Soot", 25.0)}),
        ([step(1, call(1, after=50))], {"darkest_wanted": None, "darkest_here": ("Soot", 25.0)}),
        (
            [step(1, call(1, after=50)), step(2, call(2, after=22), area="Gills")],
            {"darkest_wanted": 20.0, "darkest_here": ("Soot", 25.0)},
        ),
        # What this paper does not reach is nobody's fault.
        ([step(1, call(1, after=50))], {"darkest_wanted": 20.0, "darkest_here": ("Soot", 48.0)}),
    ),
    Rule.GRAPHITE_UNDER_PALE: (
        ([step(1, materials=frozenset({Material.GRAPHITE})), step(2, call(1, after=85))], {}),
        ([step(1, materials=frozenset({Material.GRAPHITE})), step(2, call(1, after=40))], {}),
        (
            [
                step(1, materials=frozenset({Material.GRAPHITE})),
                step(2, purpose=Purpose.LIFT),
                step(3, call(1, after=85)),
            ],
            {},
        ),
        ([step(1, materials=frozenset({Material.GRAPHITE}), purpose=Purpose.LIFT), step(2, call(1, after=85))], {}),
        ([step(1, call(1, after=85)), step(2, materials=frozenset({Material.GRAPHITE}), area="Gills")], {}),
    ),
    Rule.SAME_TO_THE_EYE: (
        ([step(1, call(1, masstone=50)), step(2, call(2, masstone=50.5), area="Gills")], {}),
        ([step(1, call(1, masstone=50)), step(2, call(2, masstone=53))], {}),
        ([step(1, call(1, masstone=50)), step(2, call(2, colour=1, masstone=50))], {}),
        ([step(1, call(1)), step(2, call(2))], {}),
    ),
    Rule.WILL_FADE: (
        ([step(1, call(1, rated="IV"))], {"for_sale": True}),
        ([step(1, call(1, rated="II"))], {"for_sale": True}),
        ([step(1, call(1, rated="IV"))], {}),
    ),
    Rule.RESIST_TOO_LATE: (
        ([step(1, call(1)), step(2, purpose=Purpose.RESIST)], {}),
        ([step(2, purpose=Purpose.RESIST), step(1, call(1))], {}),
        ([step(1, call(1)), step(2, purpose=Purpose.RESIST, area="Gills"), step(3, call(3), area="Gills")], {}),
    ),
}


def test_every_rule_has_a_bad_recipe_and_near_misses() -> None:
    assert set(BAD_AND_NEAR) == set(Rule) == set(RULES)
    assert all(len(cases) >= 3 for cases in BAD_AND_NEAR.values())


@pytest.mark.parametrize("rule", Rule)
def test_a_check_fires_on_a_bad_recipe_and_says_why_and_what_to_do(rule: Rule) -> None:
    steps, recipe = BAD_AND_NEAR[rule][0]
    (finding,) = found(rule, steps, **recipe)
    assert finding.saw.endswith(".")
    assert finding.why.endswith(".")
    assert finding.advice.endswith(".")
    assert finding.step in {one.key for one in steps}


@pytest.mark.parametrize(
    ("rule", "near"), [(rule, i) for rule, cases in BAD_AND_NEAR.items() for i in range(1, len(cases))]
)
def test_a_check_leaves_its_near_misses_alone(rule: Rule, near: int) -> None:
    steps, recipe = BAD_AND_NEAR[rule][near]
    assert found(rule, steps, **recipe) == []


@pytest.mark.parametrize("rule", Rule)
def test_a_check_that_is_switched_off_says_nothing(rule: Rule) -> None:
    steps, recipe = BAD_AND_NEAR[rule][0]
    facts = CheckedRecipe(tuple(steps), **{"most_layers": 9, "stands_solvent": True, **recipe})
    assert [each for each in check(facts, {rule}) if each.rule is rule] == []


def test_what_is_seen_is_told_in_figures() -> None:
    (one,) = found(Rule.TOO_MANY_LAYERS, *BAD_AND_NEAR[Rule.TOO_MANY_LAYERS][0][:1], most_layers=3)
    assert one.saw == "“Cap” has 4 layers, and this paper takes about 3."
    (two,) = found(Rule.SAME_TO_THE_EYE, BAD_AND_NEAR[Rule.SAME_TO_THE_EYE][0][0])
    # scikit-image 0.26: deltaE_ciede2000((50, 0, 0), (50.5, 0, 0)) = 0.49990
    assert "0.5 ΔE apart" in two.saw
    (three,) = found(Rule.CLOSED_TOO_EARLY, [step(1, CLOSED), step(2, call(3), purpose=Purpose.GLAZE)])
    assert "about 10% of the tooth is free" in three.saw


@pytest.mark.parametrize(
    ("rule", "act"),
    [
        (Rule.THIN_FOR_SOLVENT, Act.LAYERS), (Rule.NOT_DRY, Act.WAIT), (Rule.TOO_MANY_LAYERS, Act.LAYERS),
        (Rule.CLOSED_TOO_EARLY, Act.MOVE_AFTER), (Rule.LIGHT_OVER_DARK, Act.MOVE_BEFORE),
        (Rule.DARKEST_FIRST, Act.PRESS), (Rule.DARKEST_MISSED, Act.ADD_AFTER),
        (Rule.GRAPHITE_UNDER_PALE, Act.ADD_AFTER), (Rule.RESIST_TOO_LATE, Act.MOVE_BEFORE),
    ],
)  # fmt: skip
def test_a_button_does_what_is_advised(rule: Rule, act: Act) -> None:
    steps, recipe = BAD_AND_NEAR[rule][0]
    (finding,) = found(rule, steps, **recipe)
    assert finding.remedy is not None
    assert finding.remedy.act is act


def test_one_layer_everywhere_cannot_be_thinned_by_a_button() -> None:
    (finding,) = found(Rule.TOO_MANY_LAYERS, [step(1, call(1), call(2))], most_layers=1)
    assert finding.remedy is None


def test_cautions_come_each_once_and_never_before_the_label() -> None:
    told = cautions_for([Material.DUST, Material.SOLVENT, Material.SOLVENT, Material.GRAPHITE])
    assert [one.material for one in told] == [Material.SOLVENT, Material.DUST]
    assert "no flames" in told[0].words
    assert "label" in FIRST
    assert cautions_for([]) == ()
