"""A log made into lines, and the plan beside it."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.bench.as_done import DoneLayer, DoneLine, Logged, done_lines
from tidy_tinder.core.bench.beside_plan import Beside, Planned, Use, beside_plan
from tidy_tinder.core.vocabulary import LogKind, Pressure

PENCIL, LIGHT, HEAVY = LogKind.PENCIL, Pressure.LIGHT, Pressure.HEAVY


def used(
    pencil: int,
    area: str = "Cap",
    pressure: Pressure = LIGHT,
    layers: int = 1,
    step: int | None = 1,
    section: int | None = None,
) -> Logged:
    return Logged(PENCIL, area, pencil, pressure, layers, step, section)


def test_ticked_layers_of_one_pencil_are_one_and_pencils_of_a_step_one_line() -> None:
    lines = done_lines([used(7), used(7), used(8, pressure=HEAVY), used(7)])
    assert lines == (
        DoneLine("Cap", PENCIL, (DoneLayer(7, LIGHT, 2), DoneLayer(8, HEAVY, 1), DoneLayer(7, LIGHT, 1)), "", (), 1),
    )


def test_layers_that_were_logged_in_several_lines_add_up() -> None:
    [line] = done_lines([used(7, layers=2), used(7, layers=3), Logged(PENCIL, "Cap", 7, LIGHT, step=1)])
    # The last did not say how many: at least one.
    assert line.layers == (DoneLayer(7, LIGHT, 6),)


def test_areas_come_in_the_order_in_which_they_were_begun_each_in_its_own_time() -> None:
    lines = done_lines([used(1, "Cap"), used(2, "Stem"), used(3, "Cap"), Logged(LogKind.SOLVENT, "Cap", step=1)])
    assert [(line.area, line.kind) for line in lines] == [("Cap", PENCIL), ("Cap", LogKind.SOLVENT), ("Stem", PENCIL)]
    assert [layer.pencil for layer in lines[0].layers] == [1, 3]


def test_the_same_in_another_section_is_one_line_and_what_differs_stands_by_itself() -> None:
    log = [
        used(1, section=1),
        used(2, section=1, step=2),
        used(1, section=2, layers=3),
        used(9, section=2, step=2),
        used(2, section=2, step=3),
    ]
    lines = done_lines(log)
    assert [(tuple(layer.pencil for layer in line.layers), line.sections) for line in lines] == [
        ((1,), (1, 2)),
        ((9,), (2,)),
        ((2,), (2,)),
        ((2,), (1,)),
    ]
    assert lines[0].layers[0].layers == 3


def test_notes_are_kept_in_their_place() -> None:
    lines = done_lines([used(1), Logged(LogKind.NOTE, "Cap", step=1, note="too wet"), used(2)])
    assert [line.note for line in lines] == ["", "too wet", ""]


@given(
    st.lists(
        st.tuples(
            st.integers(1, 4), st.sampled_from(["Cap", "Stem"]), st.integers(1, 3), st.sampled_from([None, 1, 2])
        ),
        max_size=30,
    )
)
def test_no_pencil_is_lost_and_none_is_made_up(entries: list[tuple[int, str, int, int | None]]) -> None:
    log = [used(pencil, area, step=step, section=section) for pencil, area, step, section in entries]
    lines = done_lines(log)
    assert {(line.area, layer.pencil) for line in lines for layer in line.layers} == {(o.area, o.pencil) for o in log}
    for line in lines:
        assert len(set(line.sections)) == len(line.sections)


def test_planned_beside_used_tells_each_kind() -> None:
    done = done_lines(
        [used(1, step=1, layers=2), used(2, step=1), used(3, step=2, layers=3), used(9, step=2), used(5, step=None)]
    )
    planned = [Planned(1, 1, 2), Planned(1, 2, 3), Planned(2, 3, 1), Planned(2, 4, 1, (9,)), Planned(3, 6, 1)]
    assert beside_plan(planned, done) == (
        Beside(Use.AS_PLANNED, 1, 1, 2, 1, 2),
        Beside(Use.FEWER, 1, 2, 3, 2, 1),
        Beside(Use.MORE, 2, 3, 1, 3, 3),
        Beside(Use.INSTEAD, 2, 4, 1, 9, 1),
        Beside(Use.NOT_USED, 3, 6, 1, None, 0),
        Beside(Use.ADDED, None, None, 0, 5, 1),
    )
