"""Names told by one capital in a sentence, by what is listed beside them, or by a picture before them.

Ways of writing are common practice, no source; the names are on no chart, so each must be asked for.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls, read

from tidy_tinder.core.vocabulary import StepKind

ASKED: list[tuple[str, list[str]]] = [
    # One capital in a sentence of small letters.
    ("Otter\nThe back is maybe Saddle, but the reddish one is Terracotta Tile",
     ["? Saddle", "? Terracotta Tile"]),
    ("Fur\nIf it looks flat, Cranberry along one edge", ["? Cranberry"]),
    ("Fur\nnext a tiny bit Biscuit where it bounces", ["? Biscuit"]),
    ("Fur\nCool Stone first, not too much", ["? Cool Stone"]),
    ("Vogel\nKoraal op het hoofd, Zandsteen alleen op de buik", ["? Koraal", "? Zandsteen"]),
    ("Tierra\nTierra: Barro y un poco de Trigo", ["? Barro", "? Trigo"]),
    # A person, a place, a day, a part of the drawing, a tool, an article's noun, and a German noun.
    ("Fur\nThanks to Maria and to all from Utrecht", []),
    ("Fur\nthen, on Sunday, I let it rest until March", []),
    ("Fur\nDraw the Eye first and use a Ruler for the Nose", []),
    ("Fur\nd'abord le Fond, puis les Bords", []),
    ("Fell\nDanach eine Pause machen und mit dem Messer kratzen", []),
    ("Fur\nI keep some Kraft paper near me", []),
    ("Fur\nIn Part Two we Blend the Background", []),
    # What is left of a name is none of its own, nor is a word of colour with a capital.
    ("Heron\n\nun brun Van Dyck, puis 119", ["? brun Van", "Heron 119"]),
    # A short line that goes on to a name is no heading.
    ("Heron\n119\nteeth Milk Tooth\n107", ["Heron 119", "? Milk Tooth", "Heron 107"]),
    ("Apple\n\nstalk – Sparrow\n", ["? Sparrow"]),
    ("Lily\n\nOld Rose – skin\n", ["? Old Rose"]),
    ("Face\n\nLeft Ear – fur, light\nInner Petal – stem\n", []),
    # Lines that say where, one after the other.
    ("Hills\nsky: robin egg, cloudy, a bit of lilac mist\npath: oat milk\nfar: lilac mist, no edges, pulled down",
     ["? robin egg", "? cloudy", "? lilac mist", "? oat milk", "? lilac mist"]),
    ("Heron\nCap: same as before\nEyes: leave for last\nShadow: 119, soft edges\nSky: let it dry\nRim: 107, more of it",
     ["Heron 119", "Heron 107"]),
    ("Hills\nfeel: early frost\nend: slow river\nidea: late summer\nrim: Heron 119", ["Heron 119"]),
    ("Hills\nsky: robin egg\nrim: Heron 119\nend: calm", ["? robin egg", "Heron 119"]),
    # What is mine, and what is said after a name that the text gave.
    ("Iris\nim grabbing my sea foam and use my finger on the rim", ["? sea foam"]),
    ("Petal\nGlaze Amaranth over the whole petal\nGlaze again, this time Amaranth mixed with Old Lace",
     ["? Amaranth///glaze", "? Amaranth", "? Old Lace"]),
    # A dash after each label in small letters; the first line is no title then, and “leave paper” tells nothing.
    ("base – marzipan\nmid – marzipan & ginger root\nrim – beeswax\neye – fly cap\n"
     "lights – leave paper / lift w. putty",
     ["? marzipan", "? marzipan", "? ginger root", "? beeswax", "? fly cap"]),
    ("Skin\nlight: butter bean\nmedium: butter bean + Heron 107\nheavy: Heron 119",
     ["? butter bean", "? butter bean", "Heron 107", "Heron 119"]),
    # Roman numbers; a list of which most lines begin with colours has a single name, too.
    ("Order\n  i.   Ice Blue Mint\n  ii.  Cadet\n  iii. Midnight Plum, only the lower third\n  iv. Heron 119 to blend",
     ["? Ice Blue Mint", "? Cadet", "? Midnight Plum", "Heron 119"]),
    ("Order\n- Heron 119 in the fold\n- Left Ear, in the shade\n- Soften\n- Blend\n- Heron 107 on top",
     ["Heron 119", "Heron 107"]),
    # German: what something is done with at the end of its clause, what something gets, and what comes over it.
    ("Wasser\nAm Ufer mit Schilf verdichten und mit Torf vertiefen. Die Spiegelung bekommt Eisvogel und etwas Quarz.",
     ["? Schilf", "? Torf", "? Eisvogel", "? Quarz"]),
    ("Wiese\nGras - Farn, darüber Zeisig, Halme mit Moos nachziehen\nMohn - Rabe, mit Zinn vertiefen",
     ["? Farn", "? Zeisig", "? Moos", "? Rabe", "? Zinn"]),
    ("Fell\nMit Geduld arbeiten, etwas Wasser nehmen, mit dem Finger verblenden", []),
    # Once, and both of two.
    ("Pine\nHarbour twice and Umbra once.", ["? Harbour//2", "? Umbra"]),
    ("Lin\nDeuxième couche : Lin Naturel et Biscuit.", ["? Lin Naturel", "? Biscuit"]),
    ("Boom\nstam met Kastanje en Leem", ["? Kastanje", "? Leem"]),
    ("Ciel\nCiel : Brume du Matin en couche légère", ["? Brume du Matin/light"]),
    # Names with codes that no chart has, one on a line; what else is numbered.
    ("Pencils:\nMoss Bank 8\nLobster 14\nNightfall 40\n\nlobster on the claws",
     ["? Moss Bank", "? Lobster 14", "? Nightfall 40", "? lobster"]),
    ("Pencils:\nRow 1\nFigure 2\nRow 3\nFigure 4", []),
    ("Feather\nalternate Teal Duck/Bronze Wing, 4 of each", ["? Teal Duck", "? Bronze Wing"]),
    # No title: dots that lead, an equals sign, how hard in brackets. Words with signs before them are a list.
    ("outer ... Heron Fly Cap (L)\ninner ... Heron Beeswax (M)", ["Heron 119/light", "Heron 107/medium"]),
    ("sky = Heron Fly Cap\nsand = Heron Beeswax", ["Heron 119", "Heron 107"]),
    ("Nail\n#Heron 119 #Heron 107 and #Rust Bloom", ["Heron 119", "Heron 107", "? Rust Bloom"]),
    ("#Leaf and stem\nHeron 119", ["Heron 119"]),
    # Pictures for bullets, and one before a title.
    ("✏️ Tiger Lily – petals\n✏️ Heron 119 – spots", ["? Tiger Lily", "Heron 119"]),
    ("🦊 Fern fox\nHeron 119, heavy", ["Heron 119/heavy"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "expected"), ASKED, ids=[text[:40] for text, _ in ASKED])
def test_what_may_name_a_colour_is_asked_for(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_a_label_with_a_dash_that_stands_over_a_list_is_its_heading() -> None:
    heading, *under = read("Tree\n\nleaf – underside\nHeron 119, heavy\nHeron 107, light").steps
    assert heading.kind is StepKind.HEADING
    assert [step.area for step in under] == ["leaf – underside"] * 2
