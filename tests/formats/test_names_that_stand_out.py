"""Names told by one capital in a sentence, by what is listed beside them, or by a picture before them.

Ways of writing are common practice, no source; the names are on no chart, so each must be asked for.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls

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
    # Pictures for bullets, and one before a title.
    ("✏️ Tiger Lily – petals\n✏️ Heron 119 – spots", ["? Tiger Lily", "Heron 119"]),
    ("🦊 Fern fox\nHeron 119, heavy", ["Heron 119/heavy"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "expected"), ASKED, ids=[text[:40] for text, _ in ASKED])
def test_what_may_name_a_colour_is_asked_for(text: str, expected: list[str]) -> None:
    assert calls(text) == expected
