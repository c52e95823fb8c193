"""Whole pages read from photos by the tests' own camera: colours, what is doubtful, what is empty, what is refused."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from tests.core.sheet_camera import Camera, Shot, grey_share
from tests.core.sheet_eyes import Eye, published_chart

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.errors import NoSheetError, RefusedPageError, WrongPageError
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.judging import CellReading, CellState, Flag
from tidy_tinder.core.sheet.knowledge import Guide, PageKnowledge
from tidy_tinder.core.sheet.layout import Layout, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.quality import Gate
from tidy_tinder.core.sheet.reading import PageReading, ReadingStep, read_page
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

Array = NDArray[np.float64]
SHEET = sheet_layout(PageSize.A4, CellCount.NINETY)
FRAME = frame_layout(PageSize.A4)
PAPER = np.full(31, 0.87)
BUFF = np.linspace(0.48, 0.74, 31)
COVER = {Pressure.LIGHT: 0.3, Pressure.MEDIUM: 0.6, Pressure.HEAVY: 0.95}
EYE = Eye(lamp="D50", vivid=0.05)
GOOD = Shot(tilt=6, turn=2, contrast=0.25)


@cache
def marks(layout: Layout, on_buff: bool = False) -> dict[tuple[int, Pressure], Array]:
    """Reflectances: the published chart's patches as pencils, each thinner at lighter pressure."""
    paper = BUFF if on_buff else PAPER
    chart = published_chart("BabelColor Average")[:18]
    return {
        (cell.index, pressure): (1 - cover) * paper + cover * chart[i % len(chart)]
        for i, cell in enumerate(layout.places[:72])
        for pressure, cover in COVER.items()
    }


def triple(reflectance: Array) -> tuple[float, float, float]:
    L, a, b = reflectance_to_lab(reflectance)
    return float(L), float(a), float(b)


def photo_of(
    layout: Layout, made: dict[tuple[int, Pressure], Array], shot: Shot, paper: Array = PAPER, printed: Array = PAPER
) -> NDArray[np.uint8]:
    keys = list(made)
    shares = EYE.shares(np.array([made[key] for key in keys]), printed) if keys else np.zeros((0, 3))
    colours = {key: (float(r), float(g), float(b)) for key, (r, g, b) in zip(keys, shares, strict=True)}
    r, g, b = EYE.shares(paper[None], printed)[0]
    return Camera(layout, shot, colours, (float(r), float(g), float(b)), tooth=0.05).photo()


@cache
def reading(layout: Layout = SHEET, shot: Shot = GOOD) -> PageReading:
    return read_page(photo_of(layout, marks(layout), shot), [(layout, PageKnowledge(triple(PAPER)))])


def cell(read: PageReading, index: int) -> CellReading:
    return next(one for one in read.cells if one.index == index)


def off(read: PageReading, made: dict[tuple[int, Pressure], Array], clean: bool = True) -> tuple[Array, Array]:
    """ΔE00 of clean cells from the truth, and what is said of it."""
    pairs = [
        (float(delta_e_2000(zone.lab, reflectance_to_lab(made[one.index, pressure]))), zone.spread)
        for one in read.cells
        if one.state is CellState.CLEAN or not clean
        for pressure, zone in one.zones.items()
        if (one.index, pressure) in made
    ]
    return np.array(pairs)[:, 0], np.array(pairs)[:, 1]


def test_colours_and_how_far_they_may_be_off_by_the_paper_alone() -> None:
    read = reading()
    assert read.guide is Guide.PAPER
    assert read.code == "TT1 K7QW2MXA 1/1 sheet A4"
    far, spread = off(read, marks(SHEET))
    assert len(far) > 100
    # The goals of design page 6-sheet for heavy zones, which are the hardest.
    assert np.median(far) < 3.2
    assert np.percentile(far, 95) < 8.0
    assert np.mean(far <= spread) > 0.85


def test_known_cells_and_a_ramp_make_it_nearer_and_surer() -> None:
    made = marks(SHEET)
    photo = photo_of(SHEET, made, GOOD)
    ramp = {patch.black: triple(grey_share(patch.black) * PAPER) for patch in SHEET.ramp}
    known = {key: triple(made[key]) for key in list(made) if key[1] is Pressure.HEAVY and key[0] < 12}
    found = {}
    for guide, knowledge in {
        Guide.PAPER: PageKnowledge(triple(PAPER)),
        Guide.RAMP: PageKnowledge(triple(PAPER), ramp),
        Guide.CELLS: PageKnowledge(triple(PAPER), {}, known),
        Guide.CELLS_AND_RAMP: PageKnowledge(triple(PAPER), ramp, known),
    }.items():
        read = read_page(photo, [(SHEET, knowledge)])
        assert read.guide is guide
        far, spread = off(read, made)
        assert np.mean(far <= spread) > 0.85
        found[guide] = (np.median(far), np.median(spread))
    assert found[Guide.CELLS][0] < 1.1  # the goal with twelve known cells
    assert found[Guide.CELLS][0] < found[Guide.PAPER][0]
    assert found[Guide.CELLS_AND_RAMP][1] < found[Guide.RAMP][1] < found[Guide.PAPER][1]


def test_empty_cells_are_empty_and_coloured_ones_are_clean() -> None:
    read = reading()
    states = {one.index: one.state for one in read.cells}
    coloured = {index for index, _ in marks(SHEET)}
    assert {i for i, state in states.items() if state is CellState.EMPTY} == set(states) - coloured
    clean = [i for i, state in states.items() if state is CellState.CLEAN]
    assert len(clean) > 0.8 * len(coloured)


def test_a_white_pencil_on_white_is_told_by_the_bar_that_it_covers() -> None:
    made = marks(SHEET)
    index = next(one.index for one in SHEET.places if (one.index, Pressure.LIGHT) not in made)
    photo = Camera(SHEET, Shot(), {}).photo()
    bar = next(one.bar for one in SHEET.cells if one.index == index)
    assert bar is not None
    corners = Camera(SHEET, Shot()).places(np.array([(bar.x + 0.2, bar.y), (bar.right - 0.2, bar.bottom)])).astype(int)
    (left, top), (right, bottom) = corners
    photo[top:bottom, left:right] = 120  # covered with white, not quite hidden
    read = read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))])
    assert cell(read, index).state is CellState.DOUBTFUL
    assert cell(read, index).flags == (Flag.WHITE_OR_EMPTY,)
    assert {one.state for one in read.cells if one.index != index} == {CellState.EMPTY}


def test_on_a_frame_an_empty_cell_is_asked_about() -> None:
    read = read_page(
        photo_of(FRAME, marks(FRAME), GOOD, PAPER), [(FRAME, PageKnowledge(triple(PAPER)))]
    )  # fmt: skip
    empty = [one for one in read.cells if one.state is CellState.EMPTY]
    assert len(empty) == len(FRAME.places) - 72
    assert all(one.flags == (Flag.WHITE_OR_EMPTY,) for one in empty)


def changed(index: int, how: dict[Pressure, Array]) -> dict[tuple[int, Pressure], Array]:
    return {**marks(SHEET), **{(index, pressure): mark for pressure, mark in how.items()}}


def test_cells_coloured_in_wrongly_are_told_why() -> None:
    blue = published_chart("BabelColor Average")[12]
    thin = {pressure: (1 - cover) * PAPER + cover * blue for pressure, cover in COVER.items()}
    turned = dict(zip(MARK_PRESSURES, (thin[p] for p in reversed(MARK_PRESSURES)), strict=True))
    made = {**changed(3, turned), **{(7, p): m for p, m in {**thin, Pressure.LIGHT: PAPER}.items()}}
    read = read_page(photo_of(SHEET, made, GOOD), [(SHEET, PageKnowledge(triple(PAPER)))])
    assert Flag.ORDER in cell(read, 3).flags
    assert Flag.BARE_ZONE in cell(read, 7).flags
    assert cell(read, 4).flags == reading().cells[4].flags


def test_what_a_reader_says_otherwise_is_told_beside_it() -> None:
    made = marks(SHEET)
    known = {key: triple(made[key]) for key in made if key[1] is Pressure.HEAVY and key[0] < 14}
    L, a, b = known[5, Pressure.HEAVY]
    known[5, Pressure.HEAVY] = (L + 25.0, a - 20.0, b)
    read = read_page(photo_of(SHEET, made, GOOD), [(SHEET, PageKnowledge(triple(PAPER), {}, known))])
    assert Flag.OTHERWISE in cell(read, 5).flags
    assert cell(read, 5).off[Pressure.HEAVY] > 10
    # What the photo says of it is what was coloured, not what the reader said of another mark.
    assert delta_e_2000(cell(read, 5).zones[Pressure.HEAVY].lab, reflectance_to_lab(made[5, Pressure.HEAVY])) < 5


def test_cells_that_were_measured_but_are_empty_on_this_page_say_nothing_of_the_others() -> None:
    made = marks(SHEET)
    known = {key: triple(mark) for key, mark in made.items() if key[1] is Pressure.HEAVY}
    half = {key: mark for key, mark in made.items() if key[0] < 36}
    spreads = []
    for coloured in (made, half):
        read = read_page(photo_of(SHEET, coloured, GOOD), [(SHEET, PageKnowledge(triple(PAPER), {}, known))])
        far, spread = off(read, half)
        assert np.median(far) < 1.1
        spreads.append(np.median(spread))
    assert spreads[1] < 1.3 * spreads[0]


@pytest.mark.parametrize(("shine", "worst"), [(0.004, None), (0.03, Flag.REFLECTION), (0.25, Flag.BLINDED)])
def test_a_lamp_mirrored_in_the_page_is_told_where_it_is(shine: float, worst: Flag | None) -> None:
    read = read_page(photo_of(SHEET, marks(SHEET), Shot(shine=shine)), [(SHEET, PageKnowledge(triple(PAPER)))])
    middle = min(SHEET.places, key=lambda c: np.hypot(c.box.middle[0] - 105, c.box.middle[1] - 148.5))
    corner = SHEET.places[0]
    assert worst is None or worst in cell(read, middle.index).flags
    assert not {Flag.REFLECTION, Flag.BLINDED} & set(cell(read, corner.index).flags)
    if worst is None:
        assert not any({Flag.REFLECTION, Flag.BLINDED} & set(one.flags) for one in read.cells)
    if worst is Flag.BLINDED:
        assert cell(read, middle.index).state is CellState.LEFT_OUT


@pytest.mark.parametrize(("shadow", "told"), [(0.0, False), (0.06, False), (0.3, True)])
def test_a_shadow_is_told_by_its_edge_not_by_how_dark_it_is(shadow: float, told: bool) -> None:
    read = reading(shot=Shot(shadow=shadow, shade=0.2))
    gates = {finding.gate for finding in read.quality.findings}
    assert (Gate.SHADOW in gates) is told
    assert Gate.LIGHT not in gates
    if told:
        far, spread = off(read, marks(SHEET), clean=False)
        assert np.mean(far <= spread) > 0.85


@pytest.mark.parametrize(("darker", "told"), [(0.985, False), (0.94, True)])
def test_bare_windows_that_part_are_told(darker: float, told: bool) -> None:
    """The last bare window has a little less light; ΔE00 of 1 is 2.5 % of the light near white."""
    made = {(c.index, p): darker * BUFF for c in FRAME.cells[-1:] for p in MARK_PRESSURES}
    photo = photo_of(FRAME, made, Shot(), BUFF)
    read = read_page(photo, [(FRAME, PageKnowledge(triple(BUFF)))])
    assert (Gate.BARE in {finding.gate for finding in read.quality.findings}) is told


def test_a_frame_tells_the_paper_under_it_without_knowing_it() -> None:
    made = marks(FRAME, on_buff=True)
    ramp = {patch.black: triple(grey_share(patch.black) * PAPER) for patch in FRAME.ramp}
    photo = photo_of(FRAME, made, GOOD, BUFF)
    read = read_page(photo, [(FRAME, PageKnowledge(triple(BUFF), ramp))])
    assert read.art_paper is not None
    lab, spread = read.art_paper
    away = float(delta_e_2000(lab, reflectance_to_lab(BUFF)))
    assert away <= spread
    assert away < 6.0  # it is printed on a white that office paper only about is
    far, said = off(read, made)
    assert np.median(far) < 2.2
    assert np.mean(far <= said) > 0.85


def test_the_page_that_is_shown_is_found_among_the_set() -> None:
    second = sheet_layout(PageSize.A4, CellCount.NINETY, slot=1)
    known = PageKnowledge(triple(PAPER))
    photo = Camera(second, GOOD).photo()
    assert read_page(photo, [(SHEET, known), (second, known)]).flat.found.layout is second
    with pytest.raises(WrongPageError, match="page 2"):
        read_page(photo, [(SHEET, known)])


@pytest.mark.parametrize(("covered", "taken"), [(0.0, True), (0.45, True), (0.75, False)])
def test_half_of_the_marks_are_enough_where_the_dots_confirm_the_page(covered: float, taken: bool) -> None:
    photo, camera = Camera(SHEET, Shot()).photo(), Camera(SHEET, Shot())
    for place in (1, 2, 5, 6):
        x, y = camera.places(np.array([SHEET.markers[place].box.middle]))[0].astype(int)
        photo[max(y - 85, 0) : y + 85, max(x - 85, 0) : x + 85] = 200
    for x, y in camera.places(np.array(SHEET.dots))[: round(covered * len(SHEET.dots))].astype(int):
        photo[y - 9 : y + 10, x - 9 : x + 10] = 200
    if taken:
        assert len(read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))]).flat.found.seen) == 4
    else:
        with pytest.raises(NoSheetError, match="Only 4 of its eight marks"):
            read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))])


def test_whoever_waits_is_told_each_step_and_can_stop() -> None:
    told: list[ReadingStep] = []
    photo = photo_of(SHEET, {}, Shot())
    read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))], said=told.append)
    assert told == list(ReadingStep)

    def stop(step: ReadingStep) -> None:
        if step is ReadingStep.MEASURING:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))], said=stop)


def test_a_picture_that_is_not_good_enough_is_refused_with_what_to_do() -> None:
    photo = photo_of(SHEET, {}, Shot(lamp=(0.05, 0.05, 0.05)))
    with pytest.raises(RefusedPageError, match="bring a lamp"):
        read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))])


def test_a_marker_covered_by_another_hand_costs_nothing_but_a_warning() -> None:
    photo = photo_of(SHEET, marks(SHEET), Shot())
    for place in (0, 1, 2):
        x, y = Camera(SHEET, Shot()).places(np.array([SHEET.markers[place].box.middle]))[0].astype(int)
        cv2.circle(photo, (int(x), int(y)), 75, (140, 110, 95), -1)
    read = read_page(photo, [(SHEET, PageKnowledge(triple(PAPER)))])
    assert Gate.MARKERS in {finding.gate for finding in read.quality.findings}
    far, _ = off(read, marks(SHEET))
    plain, _ = off(reading(shot=Shot()), marks(SHEET))
    assert np.median(far) < np.median(plain) + 0.3
