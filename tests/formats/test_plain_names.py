"""Names in small letters without a word of colour: asked for where they are laid, and nothing else is.

The texts were written before the rules saw them, but for those of `test_nothing_is_asked_of_what_is_beside_a_colour`.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls, read


def asked(text: str) -> list[str]:
    """What is asked for, as it stands in the text."""
    return [call.as_written for call in read(text).calls if call.key is None]


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("Start with a base of 106. Then add gorse bloom to the sunny side.", ["gorse bloom"]),
        ("Glaze with winter tide. Burnish with small circles.", ["winter tide"]),
        ("I used kelp and hollow reed for the background, and a soft brush for the crumbs.", ["kelp", "hollow reed"]),
        ("Begin with the eyes, with a very sharp point. Deepen with cellar door.", ["cellar door"]),
        ("Tone the shadow with stone fruit and evening moor, leave the rim white.", ["stone fruit", "evening moor"]),
        ("Darken the crease with plum jam, circular strokes, medium pressure.", ["plum jam"]),
        ("Fill the sky with even layers. Warm it with peach stone at the horizon.", ["peach stone"]),
        ("Outline with a mechanical pencil, then fill in with wet slate.", ["wet slate"]),
        ("Cover with dry moss, heavy. Cover with tracing paper when you stop.", ["dry moss"]),
        ("Lay down a thin wash of river mist, then shade with stable straw.", ["river mist", "stable straw"]),
        ("Add a little sleeping fox under the chin and blend it with your fingertip.", ["sleeping fox"]),
        ("Use attic dust for the wall. Use long strokes for the hair.", ["attic dust"]),
        ("Work from light to dark with patience. Add depth with mulled cider.", ["mulled cider"]),
        ("Apply burnt toast to the crust, then apply pressure at the rim.", ["burnt toast"]),
        ("With a sharp pencil draw the veins, with oak gall fill the gaps.", ["oak gall"]),
        ("Compare with the photo, check with a grey card, correct with winter wheat.", ["winter wheat"]),
        ("Tint the water with fennel and the boat with old rope.", ["fennel", "old rope"]),
        ("Build with clay pipe, glaze with weak tea, burnish with moonmilk.", ["clay pipe", "weak tea", "moonmilk"]),
        ("Use the blunt end of the pencil. Use a touch of bog oak in the crack.", ["bog oak"]),
        ("Repeat with less pressure and with tired denim in the corners.", ["tired denim"]),
        ("I always start with pebble because it hides the grain.", ["pebble"]),
    ],
)  # fmt: skip
def test_a_name_is_asked_for_where_it_is_laid(text: str, names: list[str]) -> None:
    assert asked(text) == names


@pytest.mark.parametrize(
    "text",
    [
        "After two days of drying, spray with workable fixative outside.",
        "Soften with cotton swab and odourless spirit.",
        "Start with left eye, continue with bridge of nose, end with chin.",
        "Finish with a coat of matte varnish. Protect with glassine.",
        "Blend with a colourless blender, clean up with masking tape.",
        "Dust with soft tissue. Wash with water brush.",
        "Finish with signature. Work with care. Continue with shading.",
        "Fill with small petals, then begin with nose.",
        "Lay 106 with light pressure and blend well.",
    ],
)
def test_nothing_is_asked_of_what_is_beside_a_colour(text: str) -> None:
    assert asked(text.replace("106", "Heron 106")) == []


@pytest.mark.parametrize(
    ("text", "read_as"),
    [
        ("Go over the leaf with Heron 106.", ["Heron 106"]),
        ("Going over everything with Heron 106, light.", ["Heron 106/light"]),
        ("Work over the cheeks with Heron 106", ["Heron 106"]),
        # Still an order where it is one.
        ("Heron 106 over 119", ["Heron 119///below", "Heron 106"]),
    ],
)
def test_to_go_over_something_lays_one_colour(text: str, read_as: list[str]) -> None:
    """It was taken for a first colour named “Go” over the one that is laid."""
    assert calls(text) == read_as


def test_what_is_asked_for_by_its_place_says_so() -> None:
    (call,) = read("Finish with gorse bloom").calls
    assert call.problem == "“gorse bloom” may name a colour. Say which, or that it is none."
