"""Pasted charts: written in many ways, read as one; nothing guessed, nothing dropped."""

from __future__ import annotations

import re
import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.chart_lists import LISTS

from tidy_tinder.formats.chart_list.reading import LONGEST_LINE, NO_CODE, NO_NAMES, TOO_LONG, read_chart_list
from tidy_tinder.formats.chart_list.written import WrittenChart, WrittenColour


def said(colour: WrittenColour) -> str:
    beside = (colour.opacity, colour.lightfastness, colour.effect, colour.hex)
    count = f" ×{colour.count}" if colour.count > 1 else ""
    return "/".join([f"{colour.code} {colour.name}", *(word for word in beside if word)]) + count


def taken(text: str) -> list[str]:
    return [said(colour) for colour in read_chart_list(text).colours]


def problems(text: str) -> list[tuple[int, str]]:
    """Line and what is said of it, or of a colour on it."""
    lines = read_chart_list(text).lines
    return [
        (line.number, problem)
        for line in lines
        for problem in (line.problem, *(c.problem for c in line.colours))
        if problem
    ]


@pytest.mark.parametrize(("text", "expected"), LISTS.values(), ids=LISTS.keys())
def test_a_list_is_read(text: str, expected: list[str]) -> None:
    assert taken(text) == expected
    assert problems(text) == []


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # A number at the end of a name is the code of another colour where it stands apart and could be one.
        ("101 Oxlip\n102 Kettle 103\n104 Sedge\n105 Rook", ["101 Oxlip", "102 Kettle 103", "104 Sedge", "105 Rook"]),
        ("1 Warm Grey, 2\n2 Sedge\n3 Rook\n5 Jug", ["1 Warm Grey, 2", "2 Sedge", "3 Rook", "5 Jug"]),
        # Within a line a small number begins another colour only as the next one, or where it stands apart.
        ("1 Oxlip 2 Kettle\n3 Sedge\n4 Rook\n5 Jug", ["1 Oxlip", "2 Kettle", "3 Sedge", "4 Rook", "5 Jug"]),
        ("1 Oxlip, 9 Kettle\n3 Sedge\n4 Rook\n5 Jug", ["1 Oxlip", "9 Kettle", "3 Sedge", "4 Rook", "5 Jug"]),
        ("1 Warm Grey 4 Pale\n2 Sedge\n3 Rook\n5 Jug", ["1 Warm Grey 4 Pale", "2 Sedge", "3 Rook", "5 Jug"]),
        ("Oxlip 101 Kettle 102\nSedge 103 Rook 104", ["101 Oxlip", "102 Kettle", "103 Sedge", "104 Rook"]),
        # The numbers of a numbered list are no codes where others are; where there are none, they are.
        ("1. Oxlip 11\n2. Kettle 12\n3. Sedge 13", ["11 Oxlip", "12 Kettle", "13 Sedge"]),
        ("1. Warm Grey 3\n2. Kettle 4\n3. Sedge 5", ["1 Warm Grey 3", "2 Kettle 4", "3 Sedge 5"]),
        ("1 101 Oxlip\n2 102 Kettle\n3 103 Sedge", ["101 Oxlip", "102 Kettle", "103 Sedge"]),
        ("1 101 Oxlip\n9 102 Kettle\n90 103 Sedge", ["1 101 Oxlip", "9 102 Kettle", "90 103 Sedge"]),
        # Where a list is written in two ways, a number is no name as long as there are words.
        ("1 101 Oxlip\n2 102 Kettle\nSedge 103\nRook 104\nJug 105",
         ["101 Oxlip", "102 Kettle", "103 Sedge", "104 Rook", "105 Jug"]),
    ],
)  # fmt: skip
def test_the_whole_list_decides_which_numbers_are_codes(text: str, expected: list[str]) -> None:
    assert taken(text) == expected
    assert problems(text) == []


def test_a_code_that_stands_apart_without_a_name_is_said() -> None:
    for text in ("101 Oxlip\n102 Kettle, 103\n104 Sedge\n105 Rook", "11 Oxlip\n12 Kettle, 13\n14 Sedge"):
        assert problems(text) == [(2, "No name stands with this code.")]


@pytest.mark.parametrize(
    ("text", "colours", "told"),
    [
        # Families and headings among the colours stay, and are said.
        ("Set of 24\nBlues\n101 Oxlip\n102 Kettle\n103 Sedge", 3, [(2, NO_CODE)]),
        ("101 Oxlip\n102 Kettle\nReds and pinks\n103 Sedge", 3, [(3, NO_CODE)]),
        ("101 Oxlip\n102 Kettle\n104-108\n109 Sedge", 3, [(3, NO_NAMES)]),
        ("101 Oxlip\n102\n\n103 Sedge", 2, [(2, "No name stands with this code.")]),
        ("101 Oxlip\n101 Oxlip\n102 Kettle", 2, [(2, "It stands in line 1 already.")]),
        ("101 Oxlip\n0101 Kettle\n102 Sedge", 2, [(2, "The code 0101 is Oxlip in line 1 already.")]),
        # The same number twice is no numbering of lines.
        ("1 101 Oxlip\n1 102 Kettle\n3 103 Sedge", 2, [(2, "The code 1 is 101 Oxlip in line 1 already.")]),
        ("Code\tName\n101\tOxlip\n\tKettle\n102\t", 1,
         [(3, "No code stands with this name."), (4, "No name stands with this code.")]),
        (f"101 Oxlip\n102 {'a' * 121}\n103 Sedge", 2, [(2, "A name has at most 120 characters.")]),
        (f"101 Oxlip\n{'102 Kettle ' * 400}\n103 Sedge", 2, [(2, TOO_LONG)]),
    ],
)  # fmt: skip
def test_what_is_not_read_stays_in_its_place_and_says_why(text: str, colours: int, told: list[tuple[int, str]]) -> None:
    assert len(read_chart_list(text).colours) == colours
    assert problems(text) == told


@pytest.mark.parametrize(
    ("text", "title"),
    [
        ("Quillfen Heron\n101 Oxlip\n102 Kettle", "Quillfen Heron"),
        ("Quillfen Heron:\n101 Oxlip\n102 Kettle", "Quillfen Heron"),
        ("Heron 101 Oxlip\nHeron 102 Kettle\nHeron 103 Sedge\nHeron 104 Rook", "Heron"),
        ("Heron pencils:\nOxlip\nKettle\nSedge", "Heron pencils"),
        ("Heron\nCode;Name\n101;Oxlip", "Heron"),
        ("101 Oxlip\n102 Kettle", ""),
        # What all names have in common is taken for a title only where a name is left.
        ("Cool Grey 1 131\nCool Grey 2 132\nCool Grey 3 133\nCool Grey 4 134", ""),
    ],
)
def test_the_words_above_a_list_are_its_title(text: str, title: str) -> None:
    assert read_chart_list(text).title == title


@pytest.mark.parametrize(
    ("above", "title", "box"),
    [
        ("Quillfen Heron, set of 24", "Quillfen Heron", "set of 24"),
        ("Quillfen Heron – 24 set", "Quillfen Heron", "24 set"),
        ("Heron (tin of 12 pencils)", "Heron", "tin of 12 pencils"),
        ("Set of 24", "Set of 24", ""),
        ("Heron 24", "Heron 24", ""),
    ],
)
def test_a_title_may_name_the_box_too(above: str, title: str, box: str) -> None:
    read = read_chart_list(f"{above}:\nOxlip\nKettle\nSedge")
    assert (read.title, read.box) == (title, box)


def test_a_list_without_codes_is_numbered_and_says_so() -> None:
    assert read_chart_list("Oxlip\nKettle").numbered
    assert not read_chart_list("1 Oxlip\n2 Kettle").numbered


def test_prices_and_what_a_shop_writes_are_left_out_by_name() -> None:
    shop, _ = LISTS["a shop's page"]
    left = [word for line in read_chart_list(shop).lines for word in line.left_out]
    assert {"£2.10", "£2.20", "£2.30"} <= set(left)
    assert left.count("Add to basket") == 3


_WORD = re.compile(r"\w+")


def words_of(chart: WrittenChart) -> set[str]:
    """All words that the reading still has, wherever it put them."""
    kept = [chart.title]
    for line in chart.lines:
        kept += [line.text if line.problem else "", *line.left_out]
        for c in line.colours:
            kept += [
                c.code,
                c.name,
                c.opacity,
                c.lightfastness,
                c.effect,
                c.hex,
                str(c.count),
                line.text if c.problem else "",
            ]
    return {word.casefold() for text in kept for word in _WORD.findall(text)}


# Words of a reading that stand for others in the list, and those that only announce.
_SAID_OTHERWISE = {"lf", "astm", "bws", "t", "o", "st", "no", "nr", "n", "x", "2x", "x3", "neon"}


@pytest.mark.parametrize(("text", "expected"), LISTS.values(), ids=LISTS.keys())
def test_no_word_of_a_list_is_dropped(text: str, expected: list[str]) -> None:
    chart = read_chart_list(text)
    numbers = {str(i) for i in range(1, 20)}  # those of a numbered list
    lost = {word.casefold() for word in _WORD.findall(text)} - words_of(chart) - _SAID_OTHERWISE - numbers
    assert lost <= ({"semi"} if expected else set())


CODES = st.integers(1, 9000).map(lambda n: f"{n:03d}")
NAMES = st.lists(
    st.sampled_from("Oxlip Kettle Sedge Rook Ember Slate Tallow Wren Fern Cinder".split()), min_size=1, max_size=3
)
STYLES = st.sampled_from(
    ["{c} {n}", "{n} {c}", "{c}\t{n}", "{n}\t{c}", "{c}: {n}", "{c} – {n}", "• {c} {n}", "{n} ({c})", "{c} {n} ***",
     "{c}, {n}, II", "{c}\t{n}\tLF I\topaque", "{n}, {c}, £1.20"]
)  # fmt: skip
BETWEEN = st.sampled_from(["\n", "\n\n", "\r\n"])


@given(st.dictionaries(CODES, NAMES, min_size=2, max_size=40), STYLES, BETWEEN)
def test_a_list_in_one_style_comes_back_as_it_was(chart: dict[str, list[str]], style: str, between: str) -> None:
    unlike = {" ".join(words) + f" {chr(97 + i % 26)}{i}x": code for i, (code, words) in enumerate(chart.items())}
    text = between.join(style.format(c=code, n=name) for name, code in unlike.items())
    read = read_chart_list(text)
    assert [(c.code, c.name) for c in read.colours] == [(code, name) for name, code in unlike.items()]


@given(st.text(max_size=400))
def test_any_text_is_read_without_harm_and_no_line_is_lost(text: str) -> None:
    read = read_chart_list(text)
    assert [line.text for line in read.lines] == [line[: LONGEST_LINE + 1] for line in text.splitlines()]
    kept = words_of(read)
    for line in read.lines:
        words = {word.casefold() for word in _WORD.findall(line.text) if re.search(r"[^\W_]", word)}
        assert line.colours or line.left_out or line.problem or words <= kept


def work(text: str) -> int:
    """Calls of functions that reading a text takes: a measure that no slow machine changes."""
    calls = 0

    def count(_frame: object, event: str, _argument: object) -> None:
        nonlocal calls
        calls += event in ("call", "c_call")

    sys.setprofile(count)
    try:
        read_chart_list(text)
    finally:
        sys.setprofile(None)
    return calls


@pytest.mark.parametrize(
    "piece", ["1 ", "1x ", "a;", "101 Oxlip ", "a\n", "1\n", "101 Oxlip\n", "Add to basket\n", "* ", "£1 "]
)
def test_reading_takes_as_long_as_the_text_is_long(piece: str) -> None:
    """A pasted text must not stop the server."""
    short, long = (piece * count if "\n" in piece else (piece * 60 + "\n") * (count // 60) for count in (300, 1200))
    assert work(long) < 6 * work(short)


def test_a_running_number_may_begin_anywhere_and_has_no_great_gaps() -> None:
    assert taken("5. 101 Oxlip\n6. 102 Lemon\n7. 103 Gate\n8. 107 Wax") == [
        "101 Oxlip", "102 Lemon", "103 Gate", "107 Wax",
    ]  # fmt: skip
    assert taken("1 101 Oxlip\n2 102 Lemon\n3 103 Gate\n90 107 Wax")[-1] == "90 107 Wax"


def test_what_is_said_beside_the_last_of_two_colours_on_a_line_is_said_of_it() -> None:
    assert taken("Lemon 102 Gate 103 opaque\nOxlip 101\nWax 107") == [
        "102 Lemon", "103 Gate/opaque", "101 Oxlip", "107 Wax",
    ]  # fmt: skip
