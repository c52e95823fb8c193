"""Recipes as notes to oneself: what was tried and left, repeats of several steps, layers of what was named, tables that
number their layers, and codes under a range that has none of them. Written afresh (common practice, no source).
"""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import calls, read

STEPS = "Berries\nHeron\n1. 101 light\n2. 119 medium\n3. 126 over 119, hard\n"
THIRD = ["Heron 119/heavy//below", "Heron 126/heavy"]


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("4. repeat 2 and 3 where needed", ["Heron 119/medium", *THIRD]),
        ("4. repeat steps 1-2", ["Heron 101/light", "Heron 119/medium"]),
        ("4. Repeat step 1 and 2, harder", ["Heron 101/medium", "Heron 119/heavy"]),
        ("4. repeat step 3 without 126", ["Heron 119/heavy//below"]),
        ("4. same but without 119", ["Heron 126/heavy"]),
        ("4. repeat step 1.", ["Heron 101/light"]),
        ("4. Repeat step 3 without 119 and Heron 126", []),
        ("4. same as step 3 but without Heron 119. Then 101", ["Heron 101"]),
        ("4. repeat 1-2 times", THIRD),
        ("4. repeat steps 3-1", ["? repeat steps 3-1"]),
        ("4. repeat 3 times with 107", ["Heron 107"]),
        ("4. repeat step 9", ["? repeat step 9"]),
    ],
)
def test_several_steps_are_repeated_and_what_is_left_out_is_not(line: str, expected: list[str]) -> None:
    assert calls(STEPS + line)[4:] == expected


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("Schritte 1 bis 2 wiederholen, kräftiger", ["Heron 101/medium", "Heron 119/heavy"]),
        ("Recommencer les étapes 1 et 2", ["Heron 101/light", "Heron 119/medium"]),
        ("then steps 2 and 3 again", ["Heron 119/medium", *THIRD]),
        ("repeat step 2", ["Heron 119/medium"]),
    ],
)
def test_steps_are_known_by_the_numbers_that_they_are_written_with(line: str, expected: list[str]) -> None:
    palette = "Berries\nHeron\nPencils: 101, 119, 126\nPaper: 107 behind it\n"
    assert calls(palette + STEPS.removeprefix("Berries\nHeron\n") + line)[8:] == expected


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("I tried 130 first and did not like it", []),
        ("tested 130 on the edge but it was too dark; then 119", ["Heron 119"]),
        ("I tried 130 first, then 119", ["Heron 130", "Heron 119"]),
        ("Statt 126 geht auch 124", []),
        ("instead of 126 you can use 124; then 107", ["Heron 107"]),
        ("124 instead of 126", ["Heron 124"]),
        ("if you have no 116, use 126 instead", []),
        ("if you have no 116 use 126, then 107 over all", ["Heron 107"]),
        ("if you don't have the 116, just take 126, then burnish with 107", ["Heron 107///burnisher"]),
        ("124 instead of 126 and 107 on the edge", ["Heron 124", "Heron 107"]),
        ("do not use 119 or 126 here", []),
        ("107, without 119 and 126", ["Heron 107"]),
        ("not 119, and 126 on top", ["Heron 126"]),
        ("119; if you don't own Ember, take 126.", ["Heron 119"]),
    ],
)
def test_what_was_tried_in_vain_or_stands_in_for_what_is_missing_is_not_laid(line: str, expected: list[str]) -> None:
    assert calls(f"Berries\nHeron\n{line}") == expected


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("I worked 126 in. When I had four layers of it I switched to 119.", ["Heron 126//4", "Heron 119"]),
        ("126, then two coats of that before 119", ["Heron 126//2", "Heron 119"]),
        ("126, then two coats of 119", ["Heron 126", "Heron 119//2"]),
        ("107 from the pupil out, flick strokes (L pressure)", ["Heron 107/light"]),
        ("126 middel, 119 zwaar", ["Heron 126/medium", "Heron 119/heavy"]),
    ],
)
def test_layers_of_it_are_of_the_colour_before(line: str, expected: list[str]) -> None:
    assert calls(f"Berries\nHeron\n{line}") == expected


def table(head: str, *rows: str) -> str:
    return "\n".join(["Berries", "Heron", "", f"| {head} |", "|---|---|---|", *(f"| {row} |" for row in rows)])


def test_a_column_that_numbers_the_layers_counts_none() -> None:
    rows = ("1 | 101 | 2/5", "2 | 126 | 3/5", "3 | 119 | 5/5", "3 | 107 | 4/5")
    text = table("Layer | Colour | Pressure", *rows)
    assert calls(text) == ["Heron 101/light", "Heron 126/medium", "Heron 119/heavy", "Heron 107/heavy"]
    assert {step.layers for step in read(text).steps} == {1}


@pytest.mark.parametrize("head", ["Layers", "Layer"])
def test_a_column_of_how_many_layers_counts_them(head: str) -> None:
    text = table(f"{head} | Colour | Pressure", "2 | 101 | light", "1 | 126 | medium")
    assert calls(text) == ["Heron 101/light", "Heron 126/medium"]
    assert [step.layers for step in read(text).steps if step.calls] == [2, 1]


@pytest.mark.parametrize("line", ["Heron 101 and 17", "Heron 501, 17", "From the Heron 36 set: 101, 17"])
def test_a_number_that_the_range_before_it_does_not_have_is_asked_about(line: str) -> None:
    """Scholar has a 17, and is spoken of nowhere."""
    last = read(f"- {line}").calls[-1]
    assert (last.as_written, last.key) == ("17", None)
    assert "not on the chart of Heron" in last.problem


@pytest.mark.parametrize(
    "text", ["- Heron 101, then Scholar 17", "Scholar and Heron\n- Heron 101 and 17", "- Tallow M33 and M09"]
)
def test_a_number_of_a_range_that_is_spoken_of_is_not_asked_about(text: str) -> None:
    assert all(call.key is not None for call in read(text).calls)
