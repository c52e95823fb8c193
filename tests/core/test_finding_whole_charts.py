"""Every colour of the demo's charts is found, however it is written; twins are twins of one another."""

from __future__ import annotations

import csv
from collections.abc import Callable
from functools import cache
from importlib import resources

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.names.finding import Catalogue, Entry
from tidy_tinder.core.names.spans import read_spans
from tidy_tinder.core.standins.twins import CHART, TWIN_WITHIN, Condition, MarksAt, near_twins
from tidy_tinder.core.vocabulary import Pressure


@cache
def entries() -> tuple[Entry, ...]:
    text = resources.files("tidy_tinder.demo").joinpath("data/catalogue.csv").read_text(encoding="utf-8")
    rows = csv.DictReader(text.splitlines())
    return tuple(Entry(i, r["maker"], r["range"], r["code"], r["name"]) for i, r in enumerate(rows, 1))


@cache
def catalogue() -> Catalogue:
    return Catalogue(entries())


@pytest.mark.parametrize(
    "written",
    [
        lambda e: f"{e.range_name} {e.code}",
        lambda e: f"{e.maker} {e.range_name} {e.code} {e.name}",
        lambda e: f"{e.range_name} {e.name}",
        lambda e: f"{e.range_name} {e.name} {e.code}".upper(),
        lambda e: f"{e.range_name} {e.code.lstrip('0')} ({e.name})",
    ],
)
def test_range_and_code_or_name_find_exactly_that_colour(written: Callable[[Entry], str]) -> None:
    for entry in entries():
        found = catalogue().resolve(written(entry))
        assert [e.key for e in found.hits] == [entry.key], written(entry)


def test_words_in_another_order_find_the_name() -> None:
    for entry in entries():
        words = entry.name.split()
        if len(words) > 1:
            turned = " ".join([*words[1:], words[0]])
            assert entry.name in {e.name for e in catalogue().suggest(turned).hits}, turned


def test_one_letter_left_out_is_forgiven() -> None:
    missed = []
    for entry in entries():
        if len(entry.name) >= 6:
            middle = len(entry.name) // 2
            slip = entry.name[:middle] + entry.name[middle + 1 :]
            if entry.name not in {e.name for e in catalogue().suggest(slip).hits}:
                missed.append(slip)
    assert missed == []


def test_a_code_of_one_and_the_name_of_another_are_never_taken_for_either() -> None:
    chart = [e for e in entries() if e.range_name == "Heron"]
    for entry, other in zip(chart, chart[3:], strict=False):
        found = catalogue().resolve(f"Heron {entry.code} {other.name}")
        assert found.hits == ()
        assert found.conflict is not None


@given(st.data())
def test_any_span_of_a_chart_is_the_colours_between_its_ends(data: st.DataObject) -> None:
    of_range = data.draw(st.sampled_from(["Heron", "Tallow", "Scholar"]))
    chart = [e for e in entries() if e.range_name == of_range]
    first = data.draw(st.integers(0, len(chart) - 1))
    last = data.draw(st.integers(first, len(chart) - 1))
    read = read_spans(f"{chart[first].code}-{chart[last].code}", chart)
    assert list(read.keys) == [e.key for e in chart[first : last + 1]]
    assert read.unknown == ()


labs = st.tuples(st.floats(20, 90), st.floats(-60, 60), st.floats(-60, 60))


@given(st.lists(labs, min_size=2, max_size=12, unique=True), st.integers(0, 11))
def test_twins_are_mutual_and_within_reach(made: list[tuple[float, float, float]], at: int) -> None:
    here = Condition(1, Pressure.HEAVY, 1)
    marks = {here: MarksAt({i: np.array(lab) for i, lab in enumerate(made)}), CHART: MarksAt({})}
    key = at % len(made)
    found = near_twins(key, marks, here, limit=20)
    assert [t.difference.delta_e for t in found] == sorted(t.difference.delta_e for t in found)
    for twin in found:
        assert twin.key != key
        assert twin.difference.delta_e <= TWIN_WITHIN
        assert key in {t.key for t in near_twins(twin.key, marks, here, limit=20)}
