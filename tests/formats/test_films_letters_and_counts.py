"""Recipes as they are told in films, letters and short lists: what is no colour there, and what is none the less."""

from __future__ import annotations

import pytest
from tests.formats.test_recipe_text import LABELS, calls, read

from tidy_tinder.core.vocabulary import Finish


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        # A time in a film counts no layers.
        ("2:10 First layer - Primrose Bank light pressure", ["Heron 103/light//base"]),
        ("3:30 Second layer: 107 from the centre outwards", ["Heron 107"]),
        ("[12:40] Rocks: Soot + 160", ["Tallow M33", "Heron 160"]),
        ("10:05 two layers of 119", ["Heron 119//2"]),
        # How much of each of two.
        ("119 + 107 (50/50)", ["Heron 119", "Heron 107"]),
        ("60/40 119 and 107", ["Heron 119", "Heron 107"]),
        # The number of a layer is no code of its colour.
        ("FUR LAYER 1 — Straw Hat (light)", ["Heron 104/light"]),
        ("Coat 2: 119, then 107", ["Heron 119", "Heron 107"]),
        ("layer 1 Apricot Flush, layer 2 Whey", ["Heron 115", "Heron 215"]),
        # Two figures are a code: a range of such codes is layered with them, too.
        ("Scholar: layer 14 over 12, then layer 33", ["Scholar 12///below", "Scholar 14", "Scholar 33"]),
        ("Scholar: layer 12 all over", ["Scholar 12"]),
        ("layer 119, then layer 107 lightly", ["Heron 119", "Heron 107/light"]),
        # Counts in brackets behind a name are no code either.
        ("Ember (2 layers, medium), Whey (one coat)", ["Heron 116/medium/2", "Heron 215"]),
        ("Ember 2 layers, then Whey 1 coat", ["Heron 116//2", "Heron 215"]),
        # A small letter says how hard as a large one does.
        ("1x 122 m", ["Heron 122/medium"]),
        ("2x 124 h (left edge)", ["Heron 124/heavy/2"]),
        ("119 l -> highlight", ["Heron 119/light"]),
        ("2x 124 h, 117 m (tips), 101 l", ["Heron 124/heavy/2", "Heron 117/medium", "Heron 101/light"]),
    ],
)
def test_numbers_are_read_as_they_are_meant(line: str, expected: list[str]) -> None:
    assert calls(f"Berries\nHeron\n{line}") == expected


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("Hi Maud, I began with 119 and Whey.", ["Heron 119", "Heron 215"]),
        ("Dear Ann and Tom, the leaf is 160.", ["Heron 160"]),
        ("I did not use any black. Love, Ines", []),
        ("119 over 107. Viele Grüße, Hanne", ["Heron 107///below", "Heron 119"]),
    ],
)
def test_nobody_who_is_greeted_is_a_colour(line: str, expected: list[str]) -> None:
    assert [one for one in calls(f"Berries\nHeron\n{line}") if "black" not in one] == expected


@pytest.mark.parametrize(
    "line",
    [
        "Rowan Berry over about two thirds, Whey only underneath",
        "119 in three thin layers, with just a touch of 107 in the last one",
        "grass - flick strokes. Use 119 & 107",
        "whiskers — scratch out with a blade, then 119",
        "Blatt – 160 in drei Schichten, Adern aussparen",
        "leaves: 160, then 161; veins lifted; then 101",
    ],
)
def test_verbs_and_small_words_are_not_asked_about(line: str) -> None:
    assert not [one for one in calls(f"Berries\nHeron\n{line}") if one.startswith("?")]


@pytest.mark.parametrize(
    ("line", "asked"),
    [
        ("oat, mist, sloe", "? mist"),
        ("finish with mist, then 119", "? mist"),
        ("119, Weiß, 107", "? Weiß"),
        ("mix warm clay and 119", "? warm clay"),
    ],
)
def test_a_colour_that_is_a_verb_as_well_is_still_asked_about(line: str, asked: str) -> None:
    assert asked in calls(f"Berries\nHeron\n{line}")


@pytest.mark.parametrize(
    ("line", "finish"),
    [
        ("Shade the water with 145, then 148 near the rocks", Finish.DRY),
        ("water ........ 145", Finish.DRY),
        ("145 and 148 over the water again", Finish.DRY),
        ("rocks and water: 145, then 148", Finish.DRY),
        ("145, then go over it with water", Finish.WET),
        ("145, soften with a damp brush", Finish.WET),
        ("Mit etwas Wasser anlösen: 145", Finish.WET),
        ("145, add a little clean water", Finish.WET),
        ("145 avec un peu d'eau", Finish.WET),
    ],
)
def test_water_that_is_drawn_wets_nothing(line: str, finish: Finish) -> None:
    assert read(f"Evening sea\nHeron\n{line}").steps[-1].finish == finish


def test_a_first_line_of_colours_is_no_title() -> None:
    reading = read("Ember (2 layers), Rowan Berry (3x, hard), a pale grey\nHeron")
    assert reading.title == "Untitled recipe"
    assert len(reading.calls) >= 2


def test_what_a_line_is_for_is_kept_without_its_time_and_with_its_number() -> None:
    lines = ["3:30 Second layer: 119", "FUR LAYER 2 — 107", "[12:40] Rocks: 160"]
    assert [read(f"Berries\nHeron\n{line}").steps[-1].area for line in lines] == [
        "Second layer",
        "FUR LAYER 2",
        "Rocks",
    ]


def test_a_code_that_has_lost_its_letter_is_asked_about() -> None:
    """Scholar, which has a 33 of its own, is named nowhere."""
    first, again = read("Moth\nbody: M33\nfeelers: 33 again").calls
    assert first.key is not None
    assert again.key is None
    assert [LABELS[key] for key in again.candidates] == ["Tallow M33", "Scholar 33"]
    assert "M33" in again.problem


def test_a_number_that_was_read_as_nothing_may_be_a_code_short() -> None:
    assert calls("Moth\nHeron and Tallow\nbody: M33\nedges 33 once more, for 33 minutes")[1:] == ["? 33"]


def test_what_lies_below_stays_below_where_a_code_has_lost_its_letter() -> None:
    first = ["Heron 107///below", "Tallow M33"]
    assert calls("Moth\nHeron and Tallow\nbody: M33 over 107\nedges: 33 over 119") == [
        *first,
        "Heron 119///below",
        "? 33",
    ]
    assert calls("Moth\nHeron and Tallow\nbody: M33 over 107") == first


def test_a_label_after_a_time_is_not_looked_through() -> None:
    assert not read("Moth\nHeron\n3:30 Second layer: 119").steps[-1].left


def test_a_code_of_a_range_that_is_named_is_its_own() -> None:
    assert calls("Moth\nScholar and Tallow\nbody: M33\nfeelers: 33") == ["Tallow M33", "Scholar 33"]


def test_white_paper_is_not_asked_about() -> None:
    steps = read("Turnip\nTallow\nbottom: white paper + M01\nLaisser le papier blanc").steps
    assert not steps[-2].left


def test_a_table_with_bars_between_its_cells_has_a_head() -> None:
    rows = (
        "Nr. | Farbe | Druck | Lagen",
        "101 | Oxlip | leicht | 2",
        "116 | Ember | mittel | 1",
        "215 | Whey | polieren |",
    )
    text = "\n".join(("Cherry", "Heron", *rows))
    steps = read(text).steps
    assert calls(text) == ["Heron 101/light/2", "Heron 116/medium", "Heron 215"]
    assert steps[-1].finish == Finish.BURNISHED


def test_bars_without_a_head_part_colours() -> None:
    assert calls("Cherry\nHeron\n101 | Oxlip | 116") == ["Heron 101", "Heron 116"]


@pytest.mark.parametrize("line", ["215/Whey, polieren", "119, 107, burnish", "215 | Whey | polieren"])
def test_what_is_done_is_no_colour_of_a_list(line: str) -> None:
    (step,) = [step for step in read(f"Cherry\nHeron\n{line}").steps if step.calls]
    assert step.finish == Finish.BURNISHED
    assert all(call.key is not None for call in step.calls)
