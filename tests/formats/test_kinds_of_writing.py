"""Recipes in kinds of writing that were tried last: tables, letters for pressure, what is not laid, sentences.

The whole texts were written before the rules saw them; the rules were mended by them. Codes and names on two charts ask
which is meant: “?” is before them.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls, read

TABLE = """
| Step | Pencil | Pressure | Notes |
|------|--------|----------|-------|
| 1 | Heron 101 | light | whole petal |
| 2 | Heron 103 | medium | leave the rim |
| 3 | Heron 116 | light x2 | toward throat |
| 4 | Mystery Rose | heavy | veins |
| 5 | Heron 215 | burnish | all |
"""


def test_a_table_is_read_row_by_row() -> None:
    assert calls(TABLE) == [
        "Heron 101/light", "Heron 103/medium", "Heron 116/light/2", "? Mystery Rose/heavy", "Heron 215",
    ]  # fmt: skip
    reading = read(TABLE)
    assert reading.title == "Untitled recipe"
    assert [step.text for step in reading.steps][:3] == [
        "Step | Pencil | Pressure | Notes", "Heron 101 | light | whole petal", "Heron 103 | medium | leave the rim",
    ]  # fmt: skip


def test_a_column_that_does_not_count_the_rows_is_read() -> None:
    """The codes of Scholar have two digits, and might pass for the numbers of rows."""
    text = "Scholar\n| Nr | Name |\n|:--|--:|\n| 41 | Duster |\n| 09 | Tuck Box |"
    assert calls(text) == ["Scholar 41", "Scholar 09"]
    assert calls("Scholar\n| 41 | light |\n| 09 | heavy |") == ["Scholar 41/light", "Scholar 09/heavy"]
    assert calls("| Heron | 119 | Fly Cap | hard |\n| Wader | 153 | Ice Ledge | light |") == [
        "Heron 119/heavy", "Wader 153/light",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # A first line that is a sentence is no title.
        (
            "Grundierung mit Whey, ganz leicht. Danach Lamplight in den Lichtern, Fly Cap in den Mitten.\n"
            "Heron for everything.\nSchatten: Sloe, mittel",
            ["Heron 215/light", "Heron 110", "Heron 119", "Heron 129/medium"],
        ),
        ("Fly Cap and moss, a study\nHeron 119", ["Heron 119"]),
        ("No. 3 Fly Cap\nHeron 119", ["Heron 119"]),
        # How hard, by a letter; a small one is a unit.
        (
            "Heron\n101 L\n102 M\n119 H\n125 H x2\n215 B",
            ["Heron 101/light", "Heron 102/medium", "Heron 119/heavy", "Heron 125/heavy/2", "Heron 215"],
        ),
        ("Heron\n119 for 120 h", ["Heron 119"]),
        # Counts are no span of codes.
        ("Scholar\nbuild Scholar 41 in 4-5 layers", ["Scholar 41//5"]),
        ("Heron\n119-121", ["Heron 119", "Heron 120", "Heron 121"]),
        # What is not laid.
        ("Tallow\nHills: M40 + M41. Do NOT use M50 here, it goes muddy.", ["Tallow M40", "Tallow M41"]),
        ("Heron\ninstead of 150 I took 151", ["Heron 151"]),
        ("Heron\n121, not 119", ["Heron 121"]),
        ("Heron\n- 121\n- Do not use 126 again.", ["Heron 121"]),
        ("Heron\n121, 123, not over 119", ["Heron 121", "Heron 123"]),
        ("Heron\n121 and never Lamplight, it shouts", ["Heron 121"]),
        ("Heron\nDon't press hard with 119", ["Heron 119"]),
        ("Heron\nnot only 119 but 121", ["Heron 119", "Heron 121"]),
        # Lists by letters and boxes.
        ("Heron\na) 119\nb) Peat Smoke\nc) 121", ["Heron 119", "? Peat Smoke", "Heron 121"]),
        ("Heron\n[ ] 119 light\n[x] 121 heavy", ["Heron 119/light", "Heron 121/heavy"]),
        ("Heron\n(1) 119\n(2) 121", ["Heron 119", "Heron 121"]),
        # A line of a list that begins with a name and says how hard.
        ("Heron\n(1) 119\n(2) Last: Storm Petrel, hard, round the foot", ["Heron 119", "? Storm Petrel/heavy"]),
        ("Heron\n- 119\n- Upper petals, light", ["Heron 119"]),
        # A number after a range is a code, on its chart or not, unless it says how many there are.
        ("Wader 30? I had none, used Heron 128", ["? 30", "Heron 128"]),
        ("I have the Heron 36 set. Heron 119", ["Heron 119"]),
        # Names with a small word in them.
        ("Heron\nSloe et Brume du Soir", ["Heron 129", "? Brume du Soir"]),
        # Each with its own pressure behind it, or one for all.
        ("Heron\npetals: 124 (M) 126 (H)", ["Heron 124/medium", "Heron 126/heavy"]),
        ("Heron\n161 171 heavy", ["Heron 161/heavy", "Heron 171/heavy"]),
        # What goes somewhere, what is laid in the end, what is asked for in words.
        ("Heron\n119\nSaddle Dust goes in the knots.", ["Heron 119", "? Saddle Dust"]),
        ("Heron\nHeron 119. The left wings go dark.", ["Heron 119"]),
        ("Heron\nIm Schatten 121, ganz zuletzt Alte Leiter.", ["Heron 121", "? Alte Leiter"]),
        ("Heron\nQ: which blue for the shadow?\nA: Sloe", ["Heron 129"]),
        # What is before a colon is what a colour is for.
        ("Heron\nLeaf: Sloe\nStem: Gorse Bloom\nPetal: 119, light", ["Heron 129", "? Gorse Bloom", "Heron 119/light"]),
        ("Heron\nLeaf: Sloe\nPaper: Hot Pressed\nPetal: 119, light", ["Heron 129", "Heron 119/light"]),
        ("Heron\n- Leaf: Sloe\n- Stem: Gorse Bloom\n- Petal: 119", ["Heron 129", "? Gorse Bloom", "Heron 119"]),
        # A range, and how one layer is beside another, are no colours.
        (
            "Heron\n119, 121, 123 (in that order, Heron), each layer a bit harder",
            ["Heron 119", "Heron 121", "Heron 123"],
        ),
        ("Heron\n151 > 153 > bare", ["Heron 151", "Heron 153"]),
        # Sentences of two words, days, ways of working.
        ("Heron\nDay one. 161, medium. Day two. 171. Sign it.", ["Heron 161/medium", "Heron 171"]),
        ("Heron\n102 and 104 alternating, tiny ovals", ["Heron 102", "Heron 104"]),
        ("Heron\n102+104 (blend, let dry)", ["Heron 102", "Heron 104"]),
    ],
)
def test_other_kinds_of_writing(text: str, expected: list[str]) -> None:
    assert calls(text) == expected
