"""Lists of what is owned, as people keep them: nothing guessed, nothing dropped."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.test_recipe_text import CHARTS, LABELS

from tidy_tinder.core.names.finding import Entry
from tidy_tinder.formats.owned_list import ListedPiece, read_owned_list


def read(text: str) -> tuple[ListedPiece, ...]:
    return read_owned_list(text, CHARTS)


def settled(text: str) -> list[str]:
    """The colours that are sure, each with its count where that is not one."""
    return [
        LABELS[key] + (f" ×{piece.count}" if piece.count > 1 else "")
        for piece in read(text)
        if not piece.problem
        for key in piece.keys
    ]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        # A range holds for what follows: on a line of its own, before a colon, before a code.
        ("Heron\n101\n102", ["Heron 101", "Heron 102"]),
        ("Quillfen Heron:\n101", ["Heron 101"]),
        ("Heron: 101, 102\n103", ["Heron 101", "Heron 102", "Heron 103"]),
        ("Heron 101, 102", ["Heron 101", "Heron 102"]),
        ("Heron\n101\nTallow\nM12; m 09", ["Heron 101", "Tallow M12", "Tallow M09"]),
        # Spans, in the order of the chart.
        ("Heron\n101-215", ["Heron 101", "Heron 102", "Heron 103", "Heron 215"]),
        ("Heron 103 – 101, 119", ["Heron 101", "Heron 102", "Heron 103", "Heron 119"]),
        ("Tallow M01 to M03", ["Tallow M01", "Tallow M02", "Tallow M03"]),
        ("M01-M03", ["Tallow M01", "Tallow M02", "Tallow M03"]),
        # Several codes on a line.
        ("Heron\n101 102 119", ["Heron 101", "Heron 102", "Heron 119"]),
        ("Heron 101 102", ["Heron 101", "Heron 102"]),
        # Numbers and bullets before.
        ("Heron\n1. 119\n2) Bracken\n- 101\n• 102", ["Heron 119", "Heron 169", "Heron 101", "Heron 102"]),
        ("Heron\n[x] 119\n[ ] 101\n✓ 102", ["Heron 119", "Heron 101", "Heron 102"]),
        # Counts.
        ("Heron\n2x 119\n101 x3\n102 (2)\n2 × 103", ["Heron 119 ×2", "Heron 101 ×3", "Heron 102 ×2", "Heron 103 ×2"]),
        # Names, codes with names, in any order.
        ("Heron\nFly Cap\nBeeswax 107\n169 Bracken.", ["Heron 119", "Heron 107", "Heron 169"]),
        ("Fly Cap (Heron)", ["Heron 119"]),
        ("Heron\t119\t101", ["Heron 119", "Heron 101"]),
        ("", []),
    ],
)  # fmt: skip
def test_a_list_is_read(text: str, expected: list[str]) -> None:
    assert settled(text) == expected


@pytest.mark.parametrize(
    ("text", "piece", "says"),
    [
        ("Heron\n119 Bracken", "119 Bracken", "do not belong together"),
        ("Oxlip", "Oxlip", "several"),
        ("101-104", "101-104", "The charts of Heron, Wader have these codes; write the range"),
        ("Heron\n101-999", "101-999", "no colour there is called “999”"),
        ("Heron\nBeewax", "Beewax", "near it are these"),
        ("Heron\nmy favourites of last year", "my favourites of last year", "No chart here has it."),
        ("Heron\n101 999", "101 999", "no colour there is called"),
    ],
)
def test_what_is_not_sure_is_offered_and_never_taken(text: str, piece: str, says: str) -> None:
    (only,) = read(text)
    assert only.text == piece
    assert says in only.problem
    assert settled(text) == []


@given(st.lists(st.sampled_from(CHARTS.entries), min_size=1, max_size=8), st.sampled_from(["", "- ", "3. ", "[x] "]))
def test_any_list_of_codes_with_their_ranges_is_read_whole(entries: list[Entry], bullet: str) -> None:
    text = "\n".join(f"{bullet}{entry.range_name} {entry.code} {entry.name}" for entry in entries)
    assert [key for piece in read(text) for key in piece.keys if not piece.problem] == [e.key for e in entries]


@given(st.text(max_size=200))
def test_any_text_is_read_and_what_is_not_understood_is_shown(text: str) -> None:
    for piece in read(text):
        assert piece.text.strip()
        assert piece.problem or piece.keys
        assert 1 <= piece.count <= 9
