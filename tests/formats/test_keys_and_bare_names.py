"""Letters that stand for colours, names that stand alone on their lines, and what is no code though it looks like one.

Ways of writing are common practice, no source; the names are on no chart, so each must be asked for.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls

ASKED: list[tuple[str, list[str]]] = [
    # A letter is what an equals sign makes it, in every line after and before.
    (
        "Heron\nKey: A = 119, B = 107 + 163, C = Iron Gate\n1. A all over, light\n2. B in the folds\n"
        "3. C, then A again",
        ["Heron 119/light", "Heron 107", "Heron 163", "? Iron Gate", "Heron 119"],
    ),
    ("Heron\nPetals: S then D\nS = 119 heavy\nD = 107",
     ["Heron 119/heavy", "Heron 107"]),
    # A letter that nothing lays keeps its colour where it is.
    ("Heron\nS = 119, D = 107\nS on the petals, an S curve below", ["Heron 107", "Heron 119"]),
    ("Heron\nS = 119\nAn S curve, then 107", ["Heron 119", "Heron 107"]),
    # An article is none, nor is a letter that says how hard.
    ("Heron\nA = 119\nA light touch on the ears\nA soft cloth helps", ["Heron 119"]),
    ("Heron\nH = 119\n107 H on the cap\nH on the stem", ["Heron 107/heavy", "Heron 119"]),
    # A colon gives no letter to a colour: it says where that goes.
    ("Heron\nS: 119\nS curve along the neck, 107", ["Heron 119", "Heron 107"]),
    # Nothing but names, one on each line.
    ("Light to dark\nButtermilk\nPrimrose Path\nTreacle Tin",
     ["? Buttermilk", "? Primrose Path", "? Treacle Tin"]),
    ("Order of work\nLeft Ear\nNose\nRight Ear", []),
    ("Heron\nEars\n119\nNose\n107", ["Heron 119", "Heron 107"]),
    # A checklist.
    ("Heron\n[ ] Harvest Gold\n[x] Kelp\n[x] No. 119\n[ ] kneaded eraser\n[ ] Tissue\n[ ] A4 hot press",
     ["? Harvest Gold", "? Kelp", "Heron 119"]),
    # What looks like a count or a code.
    ("Heron\n117 base, 119 second", ["Heron 117///base", "Heron 119"]),
    ("Heron\nHold it for 119 seconds", []),
    ("Heron\nA4 smooth board, 119", ["Heron 119"]),
    ("Pencils: A3, A4, B7", ["? A3", "? A4", "? B7"]),
    # Places of a colour.
    ("Eyes: 119; deepest Tar", ["? 119", "? Tar"]),
    ("Cap\nLayer 1 GINGER BISCUIT\nLayer 2 BRICK LANE (shadow side)", ["? GINGER BISCUIT", "? BRICK LANE"]),
    ("I graded Delft into the far hills", ["? Delft"]),
    ("First 119, then gorse bloom on the shadow side", ["? 119", "? gorse bloom"]),
    ("119, then work inward on the left side", ["? 119"]),
    ("Fond « Nuit d'Été » bien appuyé.", ["? Nuit d'Été"]),
    # Steps that go on with those before them; a label that nothing speaks of again says where a colour goes.
    ("L1: Buttercup Cream\nL2: L1 + Amber Ale\nL3: L2 + 119\nL4: burnish",
     ["? Buttercup Cream", "? Buttercup Cream", "? Amber Ale", "? Buttercup Cream", "? Amber Ale", "? 119"]),
    ("Heron\nB1: 119\nB2: 107", ["Heron 119", "Heron 107"]),
    ("B12: Sea Foam\nC7: Bog Oak", ["? B12", "? Sea Foam", "? C7", "? Bog Oak"]),
    ("L1: Buttercup Cream\nL2: L1 + Amber Ale\nL3: same as above",
     ["? Buttercup Cream", "? Buttercup Cream", "? Amber Ale", "? same as above", "? same as above"]),
    # Dots after a label, brackets, labels in a line.
    ("Heron\npetals ... 119\nheart ... Cordial, Lamp, Cordial", ["Heron 119", "? Cordial", "? Lamp", "? Cordial"]),
    ("The shawl (Mustard Pot, Custard) and the skirt (Denim, Harebell)",
     ["Heron 108", "? Custard", "? Denim", "? Harebell"]),
    ("Tags: Fox, Fur, Tutorial\nTechniques: Layering, Blending, Shading\nFinished (Monday, Tuesday)", []),
    ("Order (Blending, Burnishing, Layering)", []),
    ("Heron\nLicht: Boterbloem. Donker: 126 met 119. Steel: Walnoot.",
     ["? Boterbloem", "Heron 126", "Heron 119", "? Walnoot"]),
    ("Die Berge mit Schieferdach und 119. Mit Pinsel verblenden, mit Geduld.", ["? Schieferdach", "? 119"]),
    ("Sable 119, ombré de Noisette.", ["? 119", "? Noisette"]),
    ("Highlights in paper white, a layer of wax comes later", []),
]  # fmt: skip


@pytest.mark.parametrize(("text", "expected"), ASKED)
def test_what_is_written_so_is_asked_for(text: str, expected: list[str]) -> None:
    assert calls(f"A study\n{text}") == expected
