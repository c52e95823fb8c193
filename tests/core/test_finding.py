"""The resolver: whatever way a colour is written, and never one that is not there."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.names.finding import Catalogue, Entry, Match, fold, fold_code

ENTRIES = [
    Entry(1, "Quillfen", "Heron", "119", "Fly Cap"),
    Entry(2, "Quillfen", "Wader", "119", "Fly Cap"),
    Entry(3, "Quillfen", "Heron", "169", "Bracken"),
    Entry(4, "Marrowby", "Tallow", "M01", "Crème-Jug"),
    Entry(5, "Marrowby", "Tallow", "M36", "Ink Cap"),
    Entry(6, "Brackwater", "Scholar", "07", "Robin's Waistcoat"),
    Entry(7, "Tessaline", "Steadfast", "1110", "Lantern 50 %"),
    Entry(8, "Tessaline", "Steadfast", "1120", "Lantern"),
    Entry(9, "Quillfen", "Heron", "142", "Violet Grey"),
]
CATALOGUE = Catalogue(ENTRIES)


def keys(text: str, within: list[str] | None = None) -> list[int]:
    return [entry.key for entry in CATALOGUE.resolve(text, within).hits]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Heron 119", [1]),
        ("119 heron", [1]),
        ("Quillfen Heron 119 Fly Cap", [1]),
        ("quillfen wader fly cap", [2]),
        ("119", [1, 2]),
        ("FLY  CAP", [1, 2]),
        ("fly-cap (119)", [1, 2]),
        ("creme jug", [4]),
        ("Crème Jug M01", [4]),
        ("m1", [4]),
        ("M 01", [4]),
        ("7", [6]),
        ("robins waistcoat", [6]),
        ("Robin’s Waistcoat", [6]),
        ("lantern 50%", [7]),
        ("Lantern", [8]),
        ("Steadfast Lantern 50 %", [7]),
        ("Bracken 169", [3]),
        ("grey violet", [9]),
    ],
)
def test_a_colour_is_found_however_it_is_written(text: str, expected: list[int]) -> None:
    assert keys(text) == expected


def test_one_exact_hit_is_certain_and_two_are_not() -> None:
    assert CATALOGUE.resolve("Heron 119").certain
    assert not CATALOGUE.resolve("119").certain


def test_the_range_named_once_at_the_top_decides() -> None:
    assert keys("119", ["Heron"]) == [1]
    assert keys("Fly Cap", ["Wader"]) == [2]
    # What is not in that range is found elsewhere.
    assert keys("M36", ["Heron"]) == [5]


def test_a_code_and_a_name_that_do_not_belong_together_are_said_to_be_so() -> None:
    finding = CATALOGUE.resolve("Bracken M36")
    assert finding.hits == ()
    assert finding.conflict is not None
    assert [e.key for e in finding.conflict.by_code] == [5]
    assert [e.key for e in finding.conflict.by_name] == [3]
    assert "do not belong together" in finding.conflict.message


def test_a_colour_of_another_range_is_said_to_be_elsewhere() -> None:
    finding = CATALOGUE.resolve("Heron M36")
    assert finding.hits == ()
    assert finding.conflict is not None
    assert "not on the chart of Heron" in finding.conflict.message
    assert [e.key for e in finding.conflict.by_name] == [5]


@pytest.mark.parametrize("text", ["", "   ", "999", "no such thing", "Heron", "†"])
def test_nothing_is_invented(text: str) -> None:
    finding = CATALOGUE.resolve(text)
    assert finding.hits == ()
    assert not finding.certain


def test_the_finder_offers_beginnings_then_parts_then_slips() -> None:
    assert [e.key for e in CATALOGUE.suggest("la").hits][:2] == [7, 8]
    assert CATALOGUE.suggest("cap").match is Match.PARTIAL
    assert {e.key for e in CATALOGUE.suggest("cap").hits} == {1, 2, 5}
    slip = CATALOGUE.suggest("brackan")
    assert slip.match is Match.NEAR
    assert [e.key for e in slip.hits] == [3]
    assert CATALOGUE.suggest("zzzz").match is Match.NONE


@given(st.text(max_size=30))
def test_any_text_is_answered_with_colours_of_the_chart(text: str) -> None:
    known = set(ENTRIES)
    assert set(CATALOGUE.resolve(text).hits) <= known
    assert set(CATALOGUE.suggest(text).hits) <= known


@given(st.sampled_from(ENTRIES))
def test_every_colour_is_found_by_its_label(entry: Entry) -> None:
    assert CATALOGUE.resolve(entry.label).hits == (entry,)


def test_folding() -> None:
    assert fold("  Crème-Brûlée’s  ") == "creme brulees"
    assert fold_code("M 007") == "m7"
    assert fold_code("100") == "100"


@pytest.mark.parametrize(
    "typed", ["grey violet", "violet grey", "violet gray", "violt grey", "grey vioolet", "grey vi"]
)
def test_half_remembered_names_are_found(typed: str) -> None:
    """Words in another order, a slip in one letter, a word not finished yet."""
    catalogue = Catalogue(
        [Entry(1, "Mill", "Lane", "7", "Grey Violet"), Entry(2, "Mill", "Lane", "8", "Violet Hour"),
         Entry(3, "Mill", "Lane", "9", "Grey Door")]
    )  # fmt: skip
    assert [e.key for e in catalogue.suggest(typed).hits] == [1]


def test_a_slip_is_no_reason_to_invent() -> None:
    catalogue = Catalogue([Entry(1, "Mill", "Lane", "7", "Grey Violet")])
    for typed in ("grey tulip", "xx", "violet grey blue"):
        assert catalogue.suggest(typed).hits == ()


def test_the_chart_of_a_range_holds_its_colours_and_no_others() -> None:
    assert [entry.key for entry in CATALOGUE.chart_of("Heron")] == [1, 3, 9]
    assert [entry.key for entry in CATALOGUE.chart_of("Wader")] == [2]
    assert CATALOGUE.chart_of("Nobody") == ()


@pytest.mark.parametrize(
    ("words", "can"),
    [
        (["grey", "violet"], True),  # a name, in any order
        (["m"], True),  # short enough for a code
        (["heron", "wherever"], True),  # a range is named
        (["shadows", "x1"], True),  # what is no plain word
        (["shadows"], False),
        (["shadows", "under", "petals"], False),
    ],
)
def test_words_that_can_mean_no_colour_are_told_at_once(words: list[str], can: bool) -> None:
    assert CATALOGUE.could_mean(words) is can


def test_the_finder_offers_no_more_than_it_is_asked_for() -> None:
    many = Catalogue([Entry(i, "Quillfen", "Heron", str(100 + i), f"Sedge {i}") for i in range(30)])
    assert [entry.key for entry in many.suggest("sedge").hits] == list(range(12))
    assert [entry.key for entry in many.suggest("sedge", 5).hits] == list(range(5))


def test_a_slip_beside_a_number_is_a_slip_and_a_code_of_another_colour_is_none() -> None:
    slipped = Catalogue([*ENTRIES, Entry(10, "Quillfen", "Heron", "1", "Warm Shale 1")])
    assert [entry.key for entry in slipped.suggest("Warm Shael 1").hits] == [10]
    # Both are there, and do not belong together: said, and nothing is put in their place.
    told = CATALOGUE.suggest("Heron 119 Bracken")
    assert told.match is not Match.NEAR
    assert told.conflict is not None
    assert [entry.key for entry in told.conflict.by_name] == [3]


@pytest.mark.parametrize("slipped", ["fly cop", "fly caap", "flycap", "fyl cap", "Fly-Cap"])
def test_a_name_with_one_slip_is_told(slipped: str) -> None:
    assert {entry.key for entry in CATALOGUE.slips_of(slipped)} == {1, 2}


@pytest.mark.parametrize("other", ["fly", "flag cape", "ly ca", "x" * 41])
def test_what_is_more_than_a_slip_away_or_very_short_or_long_is_no_slip(other: str) -> None:
    assert CATALOGUE.slips_of(other) == ()


def test_a_name_that_begins_with_the_name_of_a_range_is_found_all_the_same() -> None:
    both = Catalogue([*ENTRIES, Entry(10, "Brackwater", "Scholar", "08", "Tallow Light")])
    assert [entry.key for entry in both.resolve("Tallow Light").hits] == [10]
    assert both.resolve("tallow light").certain
    # What the range itself calls so goes first.
    three = Catalogue([*both.entries, Entry(11, "Marrowby", "Tallow", "M40", "Light")])
    assert [entry.key for entry in three.resolve("Tallow Light").hits] == [11]
    assert [entry.key for entry in three.resolve("Scholar Tallow Light").hits] == [10]


def test_a_letter_that_is_missing_is_a_slip() -> None:
    for slipped in ("iolet grey", "violetgre", "viole grey"):
        assert [entry.key for entry in CATALOGUE.slips_of(slipped)] == [9]


def test_a_slip_beside_the_name_of_a_range_is_looked_for_in_that_range() -> None:
    assert CATALOGUE.suggest("wader brakcen fly").hits == ()
    told = CATALOGUE.suggest("heron brakcen")
    assert ([entry.key for entry in told.hits], told.match) == ([3], Match.NEAR)


def test_a_word_of_a_name_that_is_a_range_too_counts_as_both() -> None:
    both = Catalogue([*ENTRIES, Entry(10, "Quillfen", "Wader", "120", "Heron Grey")])
    assert [entry.key for entry in both.suggest("heron gery").hits] == [10, 9]
