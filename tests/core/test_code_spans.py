"""Typed codes: spans follow the order of the chart, and what is not there is named."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.names.spans import read_spans

# A chart whose printed order is not that of its numbers: 215 was added later between 103 and 104.
CHART = [
    Entry(i, "Quillfen", "Heron", code, name)
    for i, (code, name) in enumerate(
        [
            ("101", "Oxlip"),
            ("102", "Cut Lemon"),
            ("103", "Primrose Bank"),
            ("215", "Whey"),
            ("104", "Straw Hat"),
            ("M05", "Oat-Milk"),
            ("07", "Crow"),
        ]
    )
]


def codes(text: str) -> list[str]:
    return [CHART[key].code for key in read_spans(text, CHART).keys]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("101", ["101"]),
        ("101, 104", ["101", "104"]),
        ("102-104", ["102", "103", "215", "104"]),
        ("104 – 102", ["102", "103", "215", "104"]),
        ("103 to 215; 07", ["103", "215", "07"]),
        ("101 102 103", ["101", "102", "103"]),
        ("101 - 103 and m5", ["101", "102", "103", "M05"]),
        ("m05\n7", ["M05", "07"]),
        ("Oxlip, straw hat", ["101", "104"]),
        ("oat-milk", ["M05"]),
        ("101,101,101", ["101"]),
        ("101,, ;104", ["101", "104"]),
        ("", []),
    ],
)
def test_codes_are_read_in_chart_order(text: str, expected: list[str]) -> None:
    reading = read_spans(text, CHART)
    assert [CHART[key].code for key in reading.keys] == expected
    assert reading.unknown == ()


def test_what_is_not_on_the_chart_is_named_as_it_was_written() -> None:
    reading = read_spans("101, 999, 102-998, Brambel", CHART)
    assert [CHART[key].code for key in reading.keys] == ["101"]
    assert reading.unknown == ("999", "102-998", "Brambel")


@given(st.text(max_size=60))
def test_any_text_is_read_without_inventing(text: str) -> None:
    reading = read_spans(text, CHART)
    assert list(reading.keys) == sorted(set(reading.keys))
    assert all(any(c.isalnum() for c in piece) or piece.strip() for piece in reading.unknown)


@given(st.lists(st.sampled_from(CHART), min_size=1, unique=True))
def test_every_list_of_codes_is_read_whole(entries: list[Entry]) -> None:
    reading = read_spans(", ".join(e.code for e in entries), CHART)
    assert set(reading.keys) == {e.key for e in entries}
