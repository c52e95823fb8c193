"""Names that only begin or end as a charted one, tables of sheets, what is not done, and what holds for a sentence."""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import CHARTS, calls, read

from tidy_tinder.core.vocabulary import Finish
from tidy_tinder.formats.recipe_purposes import materials_in, purpose_in
from tidy_tinder.formats.recipe_reading import ReadCall


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # A word with a capital beside a charted name makes it another colour.
        ("Heron\n- Deep Fern, Oat Straw, Old Moss", ["? Deep Fern", "? Oat Straw", "? Old Moss"]),
        ("Heron\n- shade with Deep Fern lightly", ["? Deep Fern/light"]),
        ("Heron\n- Harbour Grey\n- Dusk", ["? Harbour Grey", "Heron 141"]),
        ("Heron\nDusk Violet x2 (light), Sloe Black", ["? Dusk Violet/light/2", "? Sloe Black"]),
        ("Heron\nUse Moss green, then Fern", ["? Moss green", "Heron 163"]),
        # The first word of a sentence has one anyway: it counts where it tells which, and where it is said to be done.
        ("Heron\n- Bleached Oat Milk, then Fern", ["? Bleached Oat Milk", "Heron 163"]),
        ("Heron\nScumble Fern into the edges", ["Heron 163"]),
        ("Heron\nLayer Dusk, Add Sloe, Petals Dog Rose", ["Heron 141", "Heron 129", "Heron 138"]),
        # With its code, a name is what it says; in capitals throughout, only what tells which is a part of it.
        ("Heron\n163 Fern Straw, heavy", ["Heron 163/heavy"]),
        ("Heron\nFERN RIMS, OLD MOSS", ["Heron 163", "? OLD MOSS"]),
        # Without capitals where a colour has its place.
        ("Base: pale fern. Darks: old crow.", ["? pale fern", "? old crow"]),
        ("Heron\n- olive moss\n- 119", ["? olive moss", "Heron 119"]),
        ("Heron\n- crow feathers\n- moss on the wall, 119", ["Heron 119"]),
        # A dash ends a label as a colon does, if it follows no colour.
        ("Heron\ncrust - Fern, Moss", ["Heron 163", "Heron 161"]),
        ("Heron\nFern - Moss", ["Heron 163", "Heron 161"]),
        ("Heron\nSpade - driftwood, old iron, no solvent here", ["Heron 196", "? old iron"]),
        ("Heron\nSpade: 119, small circles, old iron", ["Heron 119"]),
        # What stands before a colon is a colour, where how it is laid follows, and a label before colours.
        ("Heron\nFly Cap: heavy, twice", ["Heron 119/heavy/2"]),
        ("Heron\nFly Cap light: the edges. Moss: the stem", ["Heron 119/light", "Heron 161"]),
        ("Heron\nFly Cap: 107, 101", ["Heron 107", "Heron 101"]),
        ("Heron\nGorse Bloom: heavy at the rim", ["? Gorse Bloom/heavy"]),
        ("Heron\nUpper Petals: light, 119", ["Heron 119"]),
        ("Olive green: leaves, stem", ["? Olive green"]),
        # To look whether colours stand before a colon meets no range for those before it.
        ("Wader 153, 102, Heron 119; rim: 107, 154", ["Wader 153", "Wader 102", "Heron 119", "Heron 107", "Heron 154"]),
        # No label goes over a sentence: what stands before one far in the line was lost.
        ("Heron\nLay Fly Cap softly. Poppy: 107", ["Heron 119/light", "Heron 107"]),
        ("1010 for wheat (Steadfast), Wheat Dust 20% too. Poppy: 1240, Poppy Black middle",
         ["Steadfast 1010", "? Wheat Dust 20%", "Steadfast 1240", "? Poppy Black"]),
        (
            "Heron\nBreast → Damson, Sloe; deepest: Burnt Brick\nDamson, Sloe, rim: 107",
            ["Heron 127", "Heron 129", "? Burnt Brick", "Heron 127", "Heron 129", "Heron 107"],
        ),
        ("Heron\nIn short. Light skin: 188, 190. Heavy: 185", ["Heron 188", "Heron 190", "Heron 185/heavy"]),
        # A code beside its name is one colour with it.
        ("Heron\nFern/163, 161 = Moss", ["Heron 163", "Heron 161"]),
        ("Heron\nFern/161", ["Heron 163", "Heron 161"]),
        ("Heron\nFern/163x2", ["Heron 163//2"]),
        ("Heron\nFern, 163", ["Heron 163", "Heron 163"]),
        ("Cheek/188, Fern/163", ["Heron 188", "? Fern/163"]),
        # What stands before “=” is what for.
        ("Heron\nMD = 107, sand = 119 light", ["Heron 107", "Heron 119/light"]),
        # How hard, and “over”, hold within their sentence.
        ("Heron\nStart with 101. End with 119, hard.", ["Heron 101", "Heron 119/heavy"]),
        ("Heron\nLay 119. Over that 107.", ["Heron 119", "Heron 107"]),
        ("Heron\nUse 101 and 102. 119 first, 107 after.", ["Heron 101", "Heron 102", "Heron 119", "Heron 107"]),
        ("Heron\nUse 101. Then 107, 119 first.", ["Heron 101", "Heron 119", "Heron 107"]),
        # What is in quotation marks, has a grade, or is said to be a colour.
        ("Heron\n119 for the cap and “Sea Foam” for the rim", ["Heron 119", "? Sea Foam"]),
        ("Heron\n119, then Nightjar 70% below it", ["Heron 119", "? Nightjar 70%"]),
        ("Heron\n119. The bloom is Lavender Mist.", ["Heron 119", "? Lavender Mist"]),
        ("Heron\n119. The artist is Anna Berg.", ["Heron 119"]),
        ("Heron\nHere I let Slate Mist and 119 show", ["? Slate Mist", "Heron 119"]),
        # Names that the text itself gives, in small letters later.
        (
            "Heron\n119 / Rowanwood / 107\nfade into rowanwood at the rim",
            ["Heron 119", "? Rowanwood", "Heron 107", "? rowanwood"],
        ),
        (
            "Heron\n119 / Rowanwood / 107\nover the rowanwood, on rowanwood bark, instead of rowanwood\n"
            "Rowanwood bark:",
            ["Heron 119", "? Rowanwood", "Heron 107"],
        ),
        # Tools among colours, days, what is drawn.
        ("Heron\n119, 107, eraser, HB pencil", ["Heron 119", "Heron 107"]),
        ("Heron\nTuesday. 119 over cheeks", ["Heron 119"]),
        ("Heron\n119 twice, 107", ["Heron 119//2", "Heron 107"]),
        ("Heron\n119, twice, 107", ["Heron 119//2", "Heron 107"]),
        ("Heron\nlight - 119, 107", ["Heron 119/light", "Heron 107"]),
    ],
)  # fmt: skip
def test_what_is_a_colour_and_what_only_holds_one(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_a_longer_name_offers_what_comes_near_to_it_before_what_it_holds() -> None:
    fern, milk = read("Heron\n- Deep Fern\n- Oat Mild").calls
    assert offered(fern) == ["Heron 163 Fern"]
    assert fern.problem == "“Deep Fern” is on no chart here; these come near."
    assert offered(milk) == ["Heron 193 Oat Milk", "Tallow M09 Oat"]


def offered(call: ReadCall) -> list[str]:
    return [next(entry.label for entry in CHARTS.entries if entry.key == key) for key in call.candidates]


SHEET = "Area\tColour\tCode\tLayers\tPressure\nPetal\tPrimrose Bank\t103\t2\tlight\nLeaf\tMidnight Fir\t\t1\theavy"


def test_a_table_pasted_from_a_sheet_is_read_with_its_heads() -> None:
    assert calls(f"Heron\n{SHEET}") == ["Heron 103/light/2", "? Midnight Fir/heavy"]
    rows = read(f"Heron\n{SHEET}").steps[2:]
    assert [step.area for step in rows] == ["Petal", "Leaf"]
    assert rows[1].text == "Leaf: Midnight Fir | heavy"


def test_tabs_part_cells_only_where_lines_with_them_follow_each_other() -> None:
    assert calls("Heron\n\t119\n\t107 light") == ["Heron 119", "Heron 107/light"]
    assert [step.text for step in read("Heron\n- Eye:\t119, 107").steps] == ["Heron", "Eye: 119, 107"]
    assert calls("119\tFly Cap\n188\tCheek") == ["? 119 Fly Cap", "Heron 188"]


@pytest.mark.parametrize(
    ("line", "finish", "purpose"),
    [
        ("119, no solvent here", Finish.DRY, ""),
        ("119, blended with solvent", Finish.SOLVENT, "blend"),
        ("121, do not burnish", Finish.DRY, ""),
        ("121, then burnish", Finish.BURNISHED, "burnish"),
        ("107 before burnishing", Finish.DRY, ""),
        ("101, without water", Finish.DRY, ""),
        ("167 (skip the highlight!)", Finish.DRY, ""),
        ("167 around the highlights", Finish.DRY, ""),
        ("167 in the highlights", Finish.DRY, "highlight"),
        ("119, nicht polieren", Finish.DRY, ""),
    ],
)
def test_what_is_not_done_is_not_done(line: str, finish: Finish, purpose: str) -> None:
    (step,) = read(f"Heron\n- {line}").steps[1:]
    assert (step.finish, purpose_in(step.text)) == (finish, purpose)
    assert [call.role for call in step.calls] == ["highlight" if purpose == "highlight" else ""]


def test_a_caution_stays_where_something_is_not_to_be_used() -> None:
    """One too many does no harm."""
    assert materials_in("119, no solvent here") == {"solvent"}


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Heron\n119, not too hard", ["Heron 119"]),
        ("Heron\nDon't press hard with 121, light", ["Heron 121/light"]),
        ("Heron\n119 nicht zu fest", ["Heron 119"]),
        ("Heron\n119 never heavy, 107 hvy", ["Heron 119", "Heron 107/heavy"]),
    ],
)
def test_how_hard_it_is_not_pressed_is_not_said(text: str, expected: list[str]) -> None:
    assert calls(text) == expected
