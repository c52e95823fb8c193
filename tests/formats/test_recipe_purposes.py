"""What the words of a step say beside its colours, in five languages; texts of our own."""

from __future__ import annotations

import pytest

from tidy_tinder.core.vocabulary import Material, Purpose, SaidPurpose
from tidy_tinder.formats.recipe_purposes import in_places, materials_in, purpose_in, waits_in


@pytest.mark.parametrize(
    ("text", "purpose"),
    [
        ("Map the cap with Oxlip 101, light", Purpose.MAP), ("Undercoat: 1330, light", Purpose.BASE),
        ("Body: 119, heavy", Purpose.BUILD), ("Deepen the folds with 212", Purpose.DEEPEN),
        ("blend with solvent, let it dry", Purpose.BLEND), ("Burnish with Oat", Purpose.BURNISH),
        ("burnish the highlights", Purpose.BURNISH), ("glaze 139 over it", Purpose.GLAZE),
        ("add the highlights with 213", Purpose.HIGHLIGHT), ("white first, as a resist", Purpose.RESIST),
        ("indent the hairs with a stylus", Purpose.RESIST), ("lift out the tips", Purpose.LIFT),
        ("mit 213 polieren", Purpose.BURNISH), ("Tiefen vertiefen", Purpose.DEEPEN),
        ("lustrer avec le 213", Purpose.BURNISH), ("oscurecer los pliegues", Purpose.DEEPEN),
        ("polijsten met 213", Purpose.BURNISH), ("119, heavy", ""), ("Wall colour in the mapmaker's room", ""),
        ("a lifted corner", ""),
    ],
)  # fmt: skip
def test_what_a_step_is_for_is_read_from_its_words(text: str, purpose: SaidPurpose) -> None:
    assert purpose_in(text) == purpose


@pytest.mark.parametrize(
    ("text", "waits"),
    [
        ("blend with solvent, let it dry", True), ("leave it overnight to dry", True), ("wait 10 minutes", True),
        ("gut trocknen lassen", True), ("laisser sécher une heure", True), ("until dry", True),
        ("dry brush texture", False), ("wait for the end to do the rim", False), ("dry layers only", False),
    ],
)  # fmt: skip
def test_waiting_is_read_from_the_words(text: str, waits: bool) -> None:
    assert waits_in(text) is waits


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("blend with odourless spirits", {Material.SOLVENT}), ("spray with fixative outdoors", {Material.SPRAY}),
        ("scratch out the whiskers with a scalpel", {Material.BLADE}), ("dust of sandpaper", {Material.DUST}),
        ("draw the outline in graphite", {Material.GRAPHITE}), ("dots with a white gel pen", {Material.WHITE_INK}),
        ("Bleistiftlinien abtupfen", {Material.GRAPHITE}), ("wet sand on the beach", set()),
        ("lift the hairs with the blade", {Material.BLADE}), ("blade for the whiskers, new", {Material.BLADE}),
        ("the tip of a razor blade", {Material.BLADE}), ("scratch along the blade with a knife", {Material.BLADE}),
        ("126 light on the blade", set()), ("119 down the left blade, medium", set()), ("Grass blades: 139", set()),
        ("some blades of dry grass", set()), ("the knifelike edge of the leaf", set()), ("shave the light side", set()),
    ],
)  # fmt: skip
def test_what_is_to_be_minded_is_read_from_the_words(text: str, named: set[Material]) -> None:
    assert materials_in(text) == named


@pytest.mark.parametrize(
    ("text", "places"),
    [
        ("Holly 159, heavy, in the gaps", True), ("Shadow side: Cherry Stone", True), ("M80 toward the foot", True),
        ("119 all over", False), ("Body: 119, heavy", False),
    ],
)  # fmt: skip
def test_a_step_that_goes_in_places_says_so(text: str, places: bool) -> None:
    assert in_places(text) is places
