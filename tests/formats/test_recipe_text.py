"""Recipes as people write them: two dozen ways, and nothing dropped."""

from __future__ import annotations

import csv
import sys
from importlib import resources

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.written_recipes import WRITTEN

from tidy_tinder.core.names.finding import Catalogue, Entry
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_text import RecipeReading, read_recipe


def charts() -> Catalogue:
    """The demo's charts: five ranges, two of which share codes and names."""
    text = resources.files("tidy_tinder.demo").joinpath("data/catalogue.csv").read_text(encoding="utf-8")
    rows = csv.DictReader(text.splitlines())
    return Catalogue(Entry(i, r["maker"], r["range"], r["code"], r["name"]) for i, r in enumerate(rows, 1))


CHARTS = charts()
LABELS = {entry.key: f"{entry.range_name} {entry.code}" for entry in CHARTS.entries}


def read(text: str) -> RecipeReading:
    return read_recipe(text, CHARTS)


def said(call: ReadCall) -> str:
    """A call in one word: “Heron 119/heavy/2/glaze”, “?” for one to settle."""
    name = LABELS[call.key] if call.key is not None else f"? {call.as_written}"
    name += f" or {LABELS[call.other]}" if call.other is not None else ""
    parts = [name, call.pressure, str(call.layers) if call.layers > 1 else "", call.role]
    return "/".join(parts).rstrip("/")


def calls(text: str) -> list[str]:
    return [said(call) for call in read(text).calls]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # The range once at the top, in several wordings.
        ("Heron\n119, 107 then M12", ["Heron 119", "Heron 107", "Tallow M12"]),
        ("Pencils: Quillfen Wader\n119, 107", ["Wader 119", "Wader 107"]),
        ("Marrowby Tallow unless noted\nOat then Soot", ["Tallow M09", "Tallow M33"]),
        ("All colours from Quillfen Heron\nBracken (169) → Oxlip", ["Heron 169", "Heron 101"]),
        # The range before a colour or before a list.
        ("Heron 119, 107 then M12", ["Heron 119", "Heron 107", "Tallow M12"]),
        ("Heron: 119, 107\nFly Cap", ["Heron 119", "Heron 107", "Heron 119"]),
        ("Fly Cap (Quillfen Heron)", ["Heron 119"]),
        # Arrows, pluses, slashes, words between.
        ("Heron\nBracken->Oxlip", ["Heron 169", "Heron 101"]),
        ("Heron\n119 + 107 / 101 and 169; 123", ["Heron 119", "Heron 107", "Heron 101", "Heron 169", "Heron 123"]),
        ("Heron\nFly Cap, then Beeswax, then Cream Jug", ["Heron 119", "Heron 107", "Tallow M12"]),
        # What lies below goes down first.
        ("Heron\nCherry Stone (126) over Rosehip", ["Heron 123///below", "Heron 126"]),
        # Case, accents, order of code and name.
        ("Heron\nfly cap, BEESWAX", ["Heron 119", "Heron 107"]),
        ("Heron\n107 Beeswax, Rosehip 123", ["Heron 107", "Heron 123"]),
        ("Tallow\nm12, M 09", ["Tallow M12", "Tallow M09"]),
        # Pressure and layers: at the colour, after it, for a group.
        ("Heron\n119 lightly, 107 hard", ["Heron 119/light", "Heron 107/heavy"]),
        ("Heron\n119, medium → 107, heavy", ["Heron 119/medium", "Heron 107/heavy"]),
        ("Heron\n119, 107; light, two layers", ["Heron 119/light/2", "Heron 107/light/2"]),
        ("Heron\ntwo light layers of Amber Jar", ["Heron 111/light/2"]),
        ("Heron\n119, two layers, heavy", ["Heron 119/heavy/2"]),
        ("Heron\n119, 107, two layers, heavy", ["Heron 119/heavy/2", "Heron 107/heavy/2"]),
        ("Heron\n119, heavy, 3 coats; 107, light", ["Heron 119/heavy/3", "Heron 107/light"]),
        ("Heron\n119 heavy, two layers, light", ["Heron 119/heavy/2"]),
        ("Heron\n119 double pass, 107 in 20 passes", ["Heron 119//2", "Heron 107//12"]),
        ("Heron\nAmber Jar x3", ["Heron 111//3"]),
        # Numbered, bulleted, with an area before a colon.
        ("Heron\n1. 119\n2) 107\n- 101\nStep 4: 169", ["Heron 119", "Heron 107", "Heron 101", "Heron 169"]),
        ("Heron\nShadow side: 119, medium", ["Heron 119/medium"]),
        # Roles.
        ("Heron\nBurnish with Oat", ["Tallow M09///burnisher"]),
        ("Heron\nburnish with oat", ["Tallow M09///burnisher"]),
        ("Heron\nGlaze of Damson, light", ["Heron 127/light//glaze"]),
        ("Heron\nUndercoat: 107, light", ["Heron 107/light"]),
        # Numbers that are no codes.
        ("Heron\n119, wait 10 minutes, 3 layers of 107", ["Heron 119", "Heron 107//3"]),
        # A grade whose name holds a figure and a sign.
        ("Steadfast\nLantern 50 %, Lantern 30%", ["Steadfast 1110", "Steadfast 1100"]),
        ("Heron\nCool Ash 4 then Cool Ash 2", ["Heron 205", "Heron 203"]),
    ],
)
def test_a_recipe_is_read(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_a_whole_recipe_keeps_its_title_areas_and_order() -> None:
    reading = read(
        "Scarlet cap\nQuillfen Heron\n\nCap\n1. Map with Oxlip 101, light, leaving the warts bare\n"
        "2. Body: 119, heavy\n\nGround:\n3. blend with solvent, let it dry\n4. lift the edge\n"
    )
    assert reading.title == "Scarlet cap"
    assert reading.ranges == ("Heron",)
    assert [(s.kind, s.area, len(s.calls)) for s in reading.steps] == [
        ("note", "", 0),
        ("heading", "Cap", 0),
        ("step", "Cap", 1),
        ("step", "Cap", 1),
        ("heading", "Ground", 0),
        ("step", "Ground", 0),
        ("step", "Ground", 0),
    ]
    assert reading.steps[2].text == "Map with Oxlip 101, light, leaving the warts bare"
    assert reading.steps[5].finish == "solvent"


def test_a_name_on_two_charts_is_offered_not_chosen() -> None:
    call = read("Oxlip, light").calls[0]
    assert call.key is None
    assert [LABELS[key] for key in call.candidates] == ["Heron 101", "Wader 101"]
    assert "Which one" in call.problem


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # Half of the lines are colours and nothing else: capitals name one, too.
        ("Heron\n- Gorse Bloom\n- 119", ["? Gorse Bloom", "Heron 119"]),
        ("Heron\n1. lightly Gorse Bloom, two layers\n2. 119, heavy\n3. let it dry\n4. 107",
         ["? Gorse Bloom/light/2", "Heron 119/heavy", "Heron 107"]),
        ("Heron\n- Outline the cap\n- 119\n- Let it dry\n- 107", ["Heron 119", "Heron 107"]),
        ("Heron\n- Gorse\n- 119\n- let it dry\n- 107", ["? Gorse", "Heron 119", "Heron 107"]),
        # All others are: whatever stands there, but for what is known to be none.
        ("Heron\n- gorse\n- 119\n- 107", ["? gorse", "Heron 119", "Heron 107"]),
        ("Heron\n- 119\n- 107\n- Beeswacks", ["Heron 119", "Heron 107", "? Beeswacks"]),
        ("Heron\n- 119\n- 107\n- Burnish", ["Heron 119", "Heron 107"]),
        ("Heron\n- 119\n- Solvent Wash\n- 107", ["Heron 119", "Heron 107"]),
        ("Heron\n- same as above\n- 119\n- 107", ["Heron 119", "Heron 107"]),
        ("Heron\n- 119\n- 107\n- 10 minutes", ["Heron 119", "Heron 107"]),
        ("Heron\n- 119\n- 107\n- Same as above", ["Heron 119", "Heron 107", "Heron 107"]),
        # What is asked for is what stands above, and a step that counts.
        ("Heron\n- 119\n- 107\n- Gorse Bloom\n- same as above but heavier",
         ["Heron 119", "Heron 107", "? Gorse Bloom", "? same as above/heavy"]),
        ("Heron\n119\nGorse Bloom\n107\nrepeat step 2", ["Heron 119", "? Gorse Bloom", "Heron 107", "? repeat step 2"]),
        ("Heron\n- 119\n- 107\n- blend with the side of the point", ["Heron 119", "Heron 107"]),
        # Another list, whatever it is, stands for itself; a blank line parts none.
        ("Heron\nTools:\n- Sharp Knife\n- Paper Towel\nCap:\n- 119\n\n- 107\n- Gorse",
         ["Heron 119", "Heron 107", "? Gorse"]),
        # Fewer are: words.
        ("Heron\n- gorse bloom\n- 119", ["Heron 119"]),
        ("Heron\n- Sharpen First\n- Tape It Down\n- 119", ["Heron 119"]),
        (
            "Heron\n- 119 into the Cap where it is dark\n- Gorse Bloom\n- 107 along the rim",
            ["Heron 119", "? Gorse Bloom", "Heron 107"],
        ),
    ],
)  # fmt: skip
def test_in_a_list_of_colours_a_line_that_may_be_one_is_asked_for(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


@pytest.mark.parametrize(
    ("lines", "asked"),
    [
        # A paragraph that begins with colours: what else has their place may be one.
        (["119", "Gorse Bloom", "107", "Wren Wing"], ["Gorse Bloom", "Wren Wing"]),
        (["119", "Gorse", "107"], ["Gorse"]),
        (["119", "lightly Gorse Bloom, heavy", "107"], ["Gorse Bloom"]),
        (["119", "Gorse Bloom 50%", "107", "Now let it rest a day"], ["Gorse Bloom 50%"]),
        (["Cap:", "119", "Gorse Bloom", "107", "Gills:", "119"], ["Gorse Bloom"]),
        # Single words between are headings as well as not: where there are several, they are.
        (["119", "Shadows", "107", "Lights", "169"], []),
        # One that begins with a heading may have more; with nothing to stand over it is none.
        (["Cap", "119", "107", "Lower Gills", "107"], []),
        (["Cap", "119", "107", "Lower Gills"], ["Lower Gills"]),
        (["Cap", "119", "Gorse Bloom", "Wren Wing", "107", "169"], ["Gorse Bloom", "Wren Wing"]),
        (["Cap", "119", "Gorse Bloom", "Shadows", "107", "169"], ["Gorse Bloom"]),
        # A word that is a colour's is none of an area.
        (["Cap", "119", "Sage Green", "107"], ["Sage Green"]),
        (["Cap", "119", "sepia", "107"], ["sepia"]),
        (["Cap", "119", "Green Leaves", "107"], []),
        (["Gills", "107", "Gorse Bloom"], ["Gorse Bloom"]),
        # Headings with a paragraph of their own, marked ones, what is known to be no colour, and prose.
        (["119", "107", "", "Lower Gills", "", "119"], []),
        (["119", "107", "# Lower Gills", "119", "Left Wing:", "107"], []),
        (["119", "107", "Burnish", "119"], []),
        (["119 into the Cap", "Lower Gills", "107 along the rim"], []),
        (["119", "Sharpen First", "Tape It Down", "Turn The Page", "107"], []),
    ],
)  # fmt: skip
def test_in_a_paragraph_of_colours_so_is_one_that_would_pass_for_a_heading(lines: list[str], asked: list[str]) -> None:
    found = read("\n".join(["Study", "Heron", *lines])).calls
    assert [call.as_written for call in found if call.key is None] == asked
    assert [said(call) for call in found if call.key is not None] == [
        said(call) for line in lines for call in read(f"Study\nHeron\n{line}").calls if call.key is not None
    ]


def test_what_stood_under_a_line_that_asks_stands_under_the_heading_before_it() -> None:
    read_as = read("Study\nCap:\nHeron 119\nGorse Bloom\nHeron 107\nGills:\nHeron 119").steps
    assert [(step.kind, step.area) for step in read_as] == [
        (StepKind.HEADING, "Cap"), (StepKind.STEP, "Cap"), (StepKind.STEP, "Cap"), (StepKind.STEP, "Cap"),
        (StepKind.HEADING, "Gills"), (StepKind.STEP, "Gills"),
    ]  # fmt: skip


def test_a_name_on_two_charts_is_settled_by_the_only_range_spoken_of() -> None:
    assert calls("Bark\n1) Heron 196\n2) Lichen, medium") == ["Heron 196", "Heron 165/medium"]


@pytest.mark.parametrize(
    ("text", "title", "asked"),
    [
        ("Sage Green\nHeron 119\n107", "Untitled recipe", ["Sage Green"]),
        ("Sage Green\nBurnt Umber, light\nHeron 119", "Untitled recipe", ["Sage Green", "Burnt Umber"]),
        # An empty line, a mark, or words beside it make a title of it; so does a list of something else.
        ("Sage Green\n\nHeron 119", "Sage Green", []),
        ("# Sage Green\nHeron 119", "Sage Green", []),
        ("Sage Green Leaf\nHeron 119", "Sage Green Leaf", []),
        ("Sage Green\nfor my sister\nHeron 119", "Sage Green", []),
        ("Plum\nHeron 119", "Plum", []),
        ("A cat\nHeron\n\nDark Grey\n119\n107", "A cat", ["Dark Grey"]),
        ("A cat\nHeron\n\nDark Grey\n\n119\n107", "A cat", ["Dark Grey"]),
        ("A cat\nHeron\n\nDark Grey:\n119\n107", "A cat", []),
    ],
)
def test_a_colour_in_the_first_line_of_a_list_is_no_title_and_no_heading(
    text: str, title: str, asked: list[str]
) -> None:
    reading = read(text)
    assert reading.title == title
    assert [call.as_written for call in reading.calls if call.key is None] == asked


def test_a_hue_in_prose_that_a_chart_has_is_asked_for_as_one_that_may_be_meant() -> None:
    charts = Catalogue([Entry(1, "Maker", "Lane", "1", "Red"), Entry(2, "Maker", "Lane", "2", "Barn Door")])
    call = read_recipe("Lane\nuse a red for the cap\n", charts).calls[0]
    assert (call.key, call.candidates) == (None, (1,))
    assert call.problem == "“red” may name a colour. Say which, or that it is none."
    other = read_recipe("Lane\nuse a blue for the cap\n", charts).calls[0]
    assert (other.key, other.candidates) == (None, ())
    assert other.problem == "“blue” is on no chart here."


def test_a_code_and_a_name_that_do_not_belong_together_are_to_settle() -> None:
    call = read("Heron\n119 Bracken, light").calls[0]
    assert call.key is None
    assert [LABELS[key] for key in call.candidates] == ["Heron 119", "Heron 169"]
    assert "do not belong together" in call.problem
    assert call.pressure == "light"


@pytest.mark.parametrize(
    ("text", "written", "near"),
    [
        ("Heron\n119, Brambel, 107", "Brambel", []),
        ("Heron\n119, Beewax then 107", "Beewax", ["Heron 107"]),
        ("Heron\n119 then 999", "999", []),
        ("Tallow\nDo it with M99, hard", "M99", []),
        ("Heron\n119, grimble, 107", "grimble", []),
    ],
)
def test_what_cannot_be_read_stays_in_its_place_to_be_settled(text: str, written: str, near: list[str]) -> None:
    open_calls = [call for call in read(text).calls if call.key is None]
    assert [call.as_written for call in open_calls] == [written]
    assert [LABELS[key] for key in open_calls[0].candidates] == near
    step = next(step for step in read(text).steps if step.calls)
    assert step.text[open_calls[0].start : open_calls[0].end] == written


@pytest.mark.parametrize(
    "text",
    ["Heron\n119, heavy, in circles", "Heron\nMap the cap with 119, leave the rest", "Heron\n119. Wait 5 min"],
)
def test_prose_is_not_taken_for_a_colour(text: str) -> None:
    assert [call for call in calls(text) if call.startswith("?")] == []


def test_a_light_to_dark_order_is_no_pressure() -> None:
    assert calls("Heron\nGills, light to dark: Straw Hat, Amber Jar") == ["Heron 104", "Heron 111"]


@given(st.text(max_size=300))
def test_any_text_is_read_and_nothing_is_lost(text: str) -> None:
    reading = read(text)
    kept = reading.title + " ".join(step.text for step in reading.steps)
    for word in text.split():
        if word.isalpha():
            assert word in kept


@given(st.lists(st.sampled_from(CHARTS.entries), min_size=1, max_size=6))
def test_any_list_of_full_names_is_read_whole(entries: list[Entry]) -> None:
    text = ", ".join(f"{e.range_name} {e.code} {e.name}" for e in entries)
    assert [call.key for call in read(f"A list\n{text}").calls] == [entry.key for entry in entries]


def work(text: str) -> int:
    """Calls of functions, in Python and in C, that reading a text takes: a measure that no slow machine changes."""
    calls = 0

    def count(_frame: object, event: str, _argument: object) -> None:
        nonlocal calls
        calls += event in ("call", "c_call")

    sys.setprofile(count)
    try:
        read(text)
    finally:
        sys.setprofile(None)
    return calls


@pytest.mark.parametrize(
    ("text", "expected"), [row for rows in WRITTEN.values() for row in rows], ids=lambda each: str(each)[:40]
)
def test_what_people_write_is_read_or_asked_about(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_the_table_of_writings_is_large_and_each_kind_has_several() -> None:
    assert sum(map(len, WRITTEN.values())) >= 120
    assert all(len(rows) >= 3 for rows in WRITTEN.values())


@given(
    before=st.text(max_size=60), after=st.text(max_size=60),
    entry=st.sampled_from([e for e in CHARTS.entries if e.range_name == "Tallow"]),
    bullet=st.sampled_from(["", "- ", "1. ", "• ", "#", "no. ", "  ", "Step 3: "]),
)  # fmt: skip
def test_no_text_loses_a_code_that_stands_alone_on_a_line(before: str, after: str, entry: Entry, bullet: str) -> None:
    """Whatever stands on the lines round it: it is read, or it is asked what it means."""
    line = f"{bullet}{entry.code}"
    text = f"{before}\n{line}\n{after}"
    found = [call for step in read(text).steps for call in step.calls if call.as_written.strip() == entry.code]
    assert found
    assert all(call.key is not None or call.candidates or call.problem for call in found)


@pytest.mark.parametrize(
    "again",
    ["119, ", "119 ", "bracken ", "Zzz, ", "119\n", "light ", "heron tallow ", "Beewax, ", "1 ", "(119) ", " and",
     "Heron: ", "119 x3, ", "119 over 107 ", "word "],
)  # fmt: skip
def test_reading_takes_work_in_proportion_to_the_text(again: str) -> None:
    """A long line of codes took 7.8 s, and all other requests waited: for four times the text it worked 16 times."""
    some, much = (work("Heron\n" + again * count) for count in (60, 240))
    assert much < 5 * some


def test_spaces_in_a_row_are_one_and_cost_nothing() -> None:
    """Patterns with spaces on both sides took 5.7 s over four thousand of them."""
    assert [step.text for step in read("Heron\n119" + " " * 40_000 + "\u00a0\t107").steps] == ["Heron", "119 107"]
    assert calls("Heron\n119" + " " * 40_000 + "107") == ["Heron 119", "Heron 107"]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # What lies under another keeps the role that it has itself, not that of the first.
        ("Heron\nglaze 101, 169 under 119", ["Heron 101///glaze", "Heron 169///below", "Heron 119"]),
        # "Or" between two colours is a choice; between lists nothing is thrown away.
        ("Heron\n101 102 or 103 107", ["Heron 101", "Heron 102", "Heron 103", "Heron 107"]),
        # Among other words: a long code; a name behind its range; a name that begins with a capital.
        ("shade softly with 1110 here", ["Steadfast 1110/light"]),
        ("then heron oxlip at the rim", ["Heron 101"]),
        ("use Bilberry stain here", ["Heron 130"]),
        # A name's words turned round are a colour by themselves, and not among other words.
        ("Stain Bilberry, light", ["Heron 130/light"]),
        ("a touch of Stain bilberry there", []),
    ],
)
def test_edges_of_what_means_a_colour(text: str, expected: list[str]) -> None:
    assert calls(text) == expected


def test_a_name_with_an_and_is_one_name_wherever_it_stands() -> None:
    catalogue = Catalogue([Entry(1, "Mill", "Lane", "7", "Moss and Stone"), Entry(2, "Mill", "Lane", "8", "Oxlip")])
    for before in range(0, 240, 3):
        text = f"Lane\n{'so ' * (before // 3)}Moss and Stone, then Oxlip"
        assert [call.key for call in read_recipe(text, catalogue).calls] == [1, 2], before
