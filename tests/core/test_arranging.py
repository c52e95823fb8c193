"""Order on the shelf, neighbours, grades, twins, and what a mark can be."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.marks.arranging import HUE_FAMILIES, arrange, ladder_gaps
from tidy_tinder.core.marks.neighbours import neighbours
from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.names.grades import grade_family, grade_of
from tidy_tinder.core.standins.twins import CHART, Condition, MarksAt, near_twins
from tidy_tinder.core.vocabulary import Pressure

VELLUM = Condition(1, Pressure.HEAVY, 1)
BUFF_LIGHT = Condition(4, Pressure.LIGHT, 1)


@pytest.mark.parametrize(
    ("lab", "family"),
    [
        # Unitary hues in CIELAB lie near 24° (red), 90° (yellow), 163° (green), 246° (blue); from memory.
        ((50, 60 * np.cos(np.radians(24)), 60 * np.sin(np.radians(24))), "reds"),
        ((85, 0, 70), "yellows"),
        ((50, 60 * np.cos(np.radians(163)), 60 * np.sin(np.radians(163))), "greens"),
        ((50, 50 * np.cos(np.radians(246)), 50 * np.sin(np.radians(246))), "blues"),
        ((60, 2, -3), "greys"),
        ((60, 50, -5), "pinks and magentas"),
    ],
)
def test_a_colour_stands_in_the_family_of_its_hue(lab: tuple[float, float, float], family: str) -> None:
    assert arrange(np.array([lab])).family == (family,)


@given(st.lists(st.tuples(st.floats(0, 100), st.floats(-90, 90), st.floats(-90, 90)), min_size=1, max_size=20))
def test_every_colour_stands_somewhere(labs: list[tuple[float, float, float]]) -> None:
    found = arrange(np.array(labs))
    assert set(found.family) <= set(HUE_FAMILIES)
    assert np.all((found.value >= 0) & (found.value <= 10))
    assert np.all((found.hue >= 0) & (found.hue < 360))


def test_greys_are_told_warm_from_cool() -> None:
    """Warmer is toward orange, cooler toward blue (common practice, no source)."""
    warm, cool = arrange(np.array([[60, 2, 4], [60, -1, -4]])).temperature
    assert warm > 0 > cool
    with pytest.raises(ShapeError):
        arrange(np.array([60, 2, 4]))


def test_the_holes_of_a_ladder_are_found_from_light_to_dark() -> None:
    (gap,) = ladder_gaps([9.0, 3.0, 8.0, 5.5, 4.0])
    assert (gap.after, gap.lighter, gap.darker) == (1, 8.0, 5.5)
    assert ladder_gaps([]) == ladder_gaps([5.0]) == ()


def test_neighbours_lie_where_they_are_said_to_lie() -> None:
    own = np.array([50.0, 40.0, 0.0])
    others = {
        1: np.array([60.0, 40.0, 0.0]), 2: np.array([40.0, 40.0, 0.0]), 3: np.array([50.0, 38.0, 12.0]),
        4: np.array([50.0, 38.0, -12.0]), 5: np.array([90.0, -40.0, 0.0]),
    }  # fmt: skip
    assert {n.direction: n.key for n in neighbours(own, others)} == {
        "lighter": 1, "darker": 2, "hue up": 3, "hue down": 4,
    }  # fmt: skip
    grey = {n.direction for n in neighbours(np.array([50.0, 0.0, 1.0]), {1: np.array([58.0, 0.0, 1.0])})}
    assert grey == {"lighter"}
    assert neighbours(own, {}) == ()


@pytest.mark.parametrize(
    ("name", "grade"),
    [("Weathervane 10 %", ("Weathervane", 10)), ("Weathervane 30%", ("Weathervane", 30)), ("Kettle", ("Kettle", 100))],
)
def test_a_grade_is_read_from_a_name(name: str, grade: tuple[str, int]) -> None:
    assert grade_of(name) == grade


def test_a_family_is_the_grades_of_one_colour_in_one_range() -> None:
    chart = [
        Entry(1, "M", "Lane", "1", "Rust"), Entry(2, "M", "Lane", "2", "Rust 10 %"),
        Entry(3, "M", "Lane", "3", "Rust 50 %"),
        Entry(4, "M", "Brook", "4", "Rust 30 %"), Entry(5, "M", "Lane", "5", "Kettle"),
    ]  # fmt: skip
    assert [e.key for e in grade_family(chart[1], chart)] == [1, 3, 2]
    assert grade_family(chart[4], chart) == ()


def test_twins_are_compared_like_with_like_and_parted_where_they_differ_most() -> None:
    known: dict[Condition, dict[int, tuple[float, float, float]]] = {
        VELLUM: {0: (50, 40, 20), 1: (51, 40, 20), 3: (80, 0, 0)},
        BUFF_LIGHT: {0: (60, 20, 25), 1: (66, 20, 25), 4: (60, 20, 25)},
        CHART: {0: (50, 42, 20), 2: (50.5, 42, 20), 3: (50, 42, 20)},
    }
    marks = {at: MarksAt({key: np.array(lab, float) for key, lab in of.items()}) for at, of in known.items()}
    found = near_twins(0, marks, VELLUM)
    # 3 is near by chart, but known to be far on the paper; 4 is not known where the comparison is made.
    assert [t.key for t in found] == [1, 2]
    assert (found[0].at, found[0].parts_at, found[0].kinds) == (VELLUM, BUFF_LIGHT, 2)
    assert found[0].parting.delta_e > found[0].difference.delta_e
    assert found[1].at == CHART
