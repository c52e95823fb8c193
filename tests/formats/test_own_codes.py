"""Codes to which a recipe gives names that no chart at hand has under them.

Ways of writing are common practice, no source.
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls, read

ASKED: list[tuple[str, list[str]]] = [
    # By itself twelve is a colour of a chart; here it is Peony.
    ("Petal\n1) 12 (Peony) all over, light\n2) 12 + 40 (Garnet) in the folds\n3) 7 (Blossom Milk), then 40 again",
     ["? Peony/light", "? Peony", "? Garnet", "? Blossom Milk", "? Garnet"]),
    # The chart's own name, however it is written, and what is said of a colour.
    ("Heron\n119 (Fly Cap), 107 (beeswax), 119 (fly-cap)", ["Heron 119", "Heron 107", "Heron 119"]),
    ("Heron\n119 (Flycap), then 119", ["Heron 119", "? Flycap", "Heron 119"]),
    ("Heron\n119 (Petals), 107 (Light), 107 (Blue), 119 (Last), 107 (A), 119 (Left Ear)",
     ["Heron 119", "Heron 107/light", "Heron 107", "Heron 119", "Heron 107", "Heron 119"]),
    # Another name: what the chart has is offered, and asked for wherever that code stands.
    ("Heron 119 (Brambel), heavy\nthen 119 over 107",
     ["? Heron 119 (Brambel)/heavy", "? Heron 119 (Brambel)", "Heron 107///below"]),
    # By itself on a line, and numbers of something else.
    ("Petal\n12 (Peony)\nthen 12", ["? Peony", "? Peony"]),
    ("Petal\nFigure 12 (Front)\nLayer 3 (Base), page 14 (Top)\n119 (Heron)", ["Heron 119"]),
    # Counts are no codes.
    ("Petal\n12 (Peony) all over\nwait 12 minutes, 12 layers of patience", ["? Peony"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "expected"), ASKED, ids=[text[:40] for text, _ in ASKED])
def test_a_code_means_the_name_that_the_recipe_gives_it(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_the_charted_colour_is_offered_and_where_it_stands_is_kept() -> None:
    text = "Heron 119 (Brambel)\nthen 119"
    first, second = read(text).calls
    (charted,) = read("Heron 119").calls
    assert first.candidates == second.candidates == (charted.key,)
    assert first.problem == second.problem == "119 is Heron 119 Fly Cap; no colour there is called “brambel”."
    assert first.as_written == second.as_written == "Heron 119 (Brambel)"
    assert (first.start, first.end) == (0, len("Heron 119 (Brambel)"))
    assert "then 119"[second.start : second.end] == "119"
