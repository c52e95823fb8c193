"""Swatching sessions with the simulated reader: read, doubted, averaged, left and taken up again, undone."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any, Literal

import numpy as np
import pytest
from sqlalchemy import select
from tests.services.at_home import PRINT, VELLUM, colour_id

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import Effect, Finish, Ground, Opacity, Pressure
from tidy_tinder.devices import errors
from tidy_tinder.devices.errors import ReaderError
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.papers import edit_paper, paper_pages
from tidy_tinder.services.reader import MarkUnder, ReaderLink, lay_paper_under, lay_under, read_paper
from tidy_tinder.services.swatches.board import board
from tidy_tinder.services.swatches.session_plan import SessionPlan, Which, count_marks, start_session
from tidy_tinder.services.swatches.sessions import (
    Outcome,
    SessionView,
    accept_item,
    close_session,
    open_session,
    read_item,
    reread_item,
    session_cards,
    skip_item,
)
from tidy_tinder.services.swatches.store import remove_swatch
from tidy_tinder.storage.models import Colour, SessionItem, Swatch
from tidy_tinder.storage.queries.fits import dry_marks
from tidy_tinder.storage.queries.swatches import made_twice, tried_over_black


@pytest.fixture
def link() -> Iterator[ReaderLink]:
    found = ReaderLink()
    found.start_simulated()
    found.calibrate()
    yield found
    found.close()


def begin(collection: Collection, *codes: str, **more: object) -> SessionView:
    ids = tuple(colour_id(collection, "Heron", code) for code in codes)
    plan = SessionPlan(PRINT, Which.CHOSEN, ("light", "medium", "heavy"), colour_ids=ids, **more)  # type: ignore[arg-type] # parts of a plan
    number, _ = start_session(collection, plan)
    return open_session(collection, number)


def stored(collection: Collection, swatch: int) -> Swatch:
    with collection() as session:
        return session.get_one(Swatch, swatch)


def test_a_session_reads_its_marks_and_keeps_each_at_once(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119", "161")
    assert [(i.colour.code, i.pressure) for i in view.items] == [
        (code, pressure) for code in ("119", "161") for pressure in ("light", "medium", "heavy")
    ]
    done = [read_item(demo, link, item.id) for item in view.items]
    assert [d.outcome for d in done] == ["stored"] * 6
    true = demo_world().reflectance("Cotton print paper", (("Heron 119", "heavy"),))
    with demo() as session:
        newest = session.query(Swatch).order_by(Swatch.id.desc()).limit(4).all()[-1]
    assert (newest.source, newest.pressure, newest.aperture_mm) == ("reader", "heavy", 8.0)
    assert newest.spectrum is not None
    # What it read is the truth, but for the hand and the noise.
    assert np.max(np.abs(np.array(newest.spectrum) - true)) < 0.06
    after = open_session(demo, view.card.id)
    assert (after.card.read, [i.state for i in after.items]) == (6, ["read"] * 6)


def test_it_is_left_and_taken_up_by_another_start_of_the_program(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    read_item(demo, link, view.items[0].id)
    (card,) = session_cards(demo)
    assert (card.read, card.marks, card.closed) == (1, 3, False)
    later = ReaderLink()
    later.start_simulated()
    later.calibrate()
    assert read_item(demo, later, view.items[1].id).outcome == "stored"
    later.close()
    close_session(demo, view.card.id)
    assert session_cards(demo)[0].closed


def test_only_what_is_missing_is_read(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    read_item(demo, link, view.items[0].id)
    ids = (colour_id(demo, "Heron", "119"),)
    plan = SessionPlan(
        PRINT, Which.CHOSEN, (Pressure.LIGHT, Pressure.MEDIUM, Pressure.HEAVY), over_black=True, colour_ids=ids
    )
    assert count_marks(demo, plan).marks == 3
    assert count_marks(demo, SessionPlan(VELLUM, Which.OWNED, (Pressure.HEAVY,), only_missing=False)).marks > 150
    everything = SessionPlan(VELLUM, Which.CHOSEN, (Pressure.HEAVY,), colour_ids=ids)
    with pytest.raises(RefusedError, match="Nothing is left to read"):
        start_session(demo, everything)


def test_the_mean_of_three_is_kept_with_its_count(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119", average_of=3)
    outcomes = [read_item(demo, link, view.items[2].id) for _ in range(3)]
    assert [(o.outcome, o.item.readings) for o in outcomes] == [("more", 1), ("more", 2), ("stored", 0)]
    with demo() as session:
        newest = session.query(Swatch).order_by(Swatch.id.desc()).first()
    assert newest is not None
    assert newest.averaged_of == 3


def test_bare_paper_is_doubted_and_read_again(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    heavy = view.items[2].id
    link.follows = False
    lay_paper_under(demo, link, PRINT)
    doubted = read_item(demo, link, heavy)
    assert doubted.outcome == "doubt"
    assert "looks like bare Cotton print paper" in doubted.item.doubt
    # It outlives a restart: the doubted reading is in the database.
    assert open_session(demo, view.card.id).items[2].doubt == doubted.item.doubt
    link.follows = True
    assert read_item(demo, link, heavy).outcome == "stored"


def test_the_wrong_pencil_is_doubted_and_named(demo: Collection, link: ReaderLink) -> None:
    fly_cap = (colour_id(demo, "Heron", "119"),)
    plan = SessionPlan(VELLUM, Which.CHOSEN, (Pressure.HEAVY,), only_missing=False, colour_ids=fly_cap)
    number, _ = start_session(demo, plan)
    item = open_session(demo, number).items[0]
    link.follows = False
    lay_under(demo, link, MarkUnder(colour_id(demo, "Heron", "161"), VELLUM, Pressure.HEAVY))
    doubted = read_item(demo, link, item.id)
    assert doubted.outcome == "doubt"
    assert "differs from the earlier swatch" in doubted.item.doubt
    assert "It looks like Heron 161 Moss" in doubted.item.doubt
    kept = accept_item(demo, link, item.id)
    assert kept.outcome == "stored"
    assert kept.change is not None
    undo(demo, kept.change.change_id)
    assert open_session(demo, number).items[0].doubt == doubted.item.doubt


def test_a_colour_that_cannot_be_this_one_is_doubted_by_its_chart(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    link.follows = False
    lay_under(demo, link, MarkUnder(colour_id(demo, "Heron", "161"), PRINT, Pressure.HEAVY))
    doubted = read_item(demo, link, view.items[2].id)
    assert "away from anything that 119 Fly Cap can be here" in doubted.item.doubt


def test_hardly_any_right_reading_is_doubted(demo: Collection, link: ReaderLink) -> None:
    """Of 90 true readings on a new paper and a repeated one, at most two are asked for again."""
    codes = [str(n) for n in range(101, 200, 7)]
    view = begin(demo, *codes)
    first = [read_item(demo, link, item.id).outcome for item in view.items]
    again = begin(demo, *codes, only_missing=False)
    second = [read_item(demo, link, item.id).outcome for item in again.items]
    assert len(first + second) == 90
    assert (first + second).count(Outcome.DOUBT) <= 2


def test_a_mark_is_left_out_and_taken_in_again(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    skip_item(demo, view.items[0].id)
    assert open_session(demo, view.card.id).card.skipped == 1
    reread_item(demo, view.items[0].id)
    assert read_item(demo, link, view.items[0].id).outcome == "stored"


@pytest.mark.parametrize(
    ("kind", "error"),
    [
        ("not-calibrated", errors.NotCalibratedError),
        ("calibration-old", errors.CalibrationOldError),
        ("lamp-low", errors.LampLowError),
        ("battery-low", errors.BatteryLowError),
        ("lifted", errors.LiftedError),
        ("garbage", errors.GarbageError),
        ("lost", errors.ConnectionLostError),
    ],
)
def test_a_fault_stores_nothing_and_loses_nothing(
    demo: Collection, link: ReaderLink, kind: str, error: type[ReaderError]
) -> None:
    view = begin(demo, "119")
    read_item(demo, link, view.items[0].id)
    link.fault(kind)
    with pytest.raises(error):
        read_item(demo, link, view.items[1].id)
    assert [i.state for i in open_session(demo, view.card.id).items] == ["read", "waiting", "waiting"]
    if kind in ("not-calibrated", "calibration-old"):
        link.calibrate()
    # The connection is taken up again by itself.
    assert read_item(demo, link, view.items[1].id).outcome == "stored"


def test_burnished_solvent_and_layered_marks_are_other_marks(demo: Collection, link: ReaderLink) -> None:
    white = colour_id(demo, "Tallow", "M02")
    seen = {}
    for finish, burnisher, layers in (
        ("dry", None, 1),
        ("burnished", white, 1),
        ("solvent", None, 1),
        ("dry", None, 4),
    ):
        view = begin(demo, "161", finish=finish, burnisher_id=burnisher, layers=layers)
        done = read_item(demo, link, view.items[1].id)
        assert done.item.reading is not None
        seen[(finish, layers)] = np.array(done.item.reading.lab)
    dry = seen[("dry", 1)]
    assert seen[("dry", 4)][0] < dry[0] - 5
    assert all(delta_e_2000(lab, dry) > 2 for key, lab in seen.items() if key != ("dry", 1))
    with pytest.raises(RefusedError, match="which pencil"):
        begin(demo, "161", finish="burnished")


def test_the_board_counts_what_was_read(demo: Collection, link: ReaderLink) -> None:
    def heron() -> tuple[int, int, int]:
        row = next(r for r in board(demo).rows if r.paper_id == PRINT)
        return row.cells[0].measured

    assert heron() == (0, 0, 0)
    view = begin(demo, "119")
    for item in view.items[1:]:
        read_item(demo, link, item.id)
    assert heron() == (0, 1, 1)


def test_a_papers_own_colour_is_read_from_its_bare_surface(demo: Collection, link: ReaderLink) -> None:
    lab = read_paper(demo, link, VELLUM)
    assert float(delta_e_2000(np.array(lab), np.array([94.49, -0.29, 1.47]))) < 1.5


def test_what_makes_no_session_is_refused(demo: Collection, link: ReaderLink) -> None:
    for plan in (
        SessionPlan(PRINT, Which.OWNED, ()),
        SessionPlan(PRINT, Which.OWNED, ("hard",)),  # type: ignore[arg-type] # a word that is none
        SessionPlan(PRINT, Which.OWNED, (Pressure.HEAVY,), layers=13),
        SessionPlan(PRINT, Which.OWNED, (Pressure.HEAVY,), average_of=2),
        SessionPlan(PRINT, Which.OWNED, (Pressure.HEAVY,), burnisher_id=1),
        SessionPlan(PRINT, Which.TRAY, (Pressure.HEAVY,)),
    ):
        with pytest.raises(RefusedError):
            start_session(demo, plan)
    with pytest.raises(NotFoundError):
        start_session(demo, SessionPlan(PRINT, Which.SET, (Pressure.HEAVY,), set_id=999))
    with pytest.raises(NotFoundError):
        read_item(demo, link, 999)
    with pytest.raises(errors.NotConnectedError):
        read_item(demo, ReaderLink(), begin(demo, "119").items[0].id)


def test_a_doubted_reading_is_not_averaged_with_the_next_one(demo: Collection, link: ReaderLink) -> None:
    """The wrong pencil under the reader once must not tint the mark that is kept."""
    view = begin(demo, "119", average_of=3)
    heavy = view.items[2].id
    link.follows = False
    lay_paper_under(demo, link, PRINT)
    assert [read_item(demo, link, heavy).outcome for _ in range(3)] == ["more", "more", "doubt"]
    link.follows = True
    anew = read_item(demo, link, heavy)
    assert (anew.outcome, anew.item.readings) == ("more", 1)
    assert [read_item(demo, link, heavy).outcome for _ in range(2)] == ["more", "stored"]
    with demo() as session:
        newest = session.query(Swatch).order_by(Swatch.id.desc()).first()
    assert newest is not None
    assert newest.averaged_of == 3
    true = demo_world().reflectance("Cotton print paper", (("Heron 119", "heavy"),))
    assert np.max(np.abs(np.array(newest.spectrum) - true)) < 0.06


def test_over_black_a_first_mark_may_look_like_the_bare_bar(
    demo: Collection, link: ReaderLink, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A transparent pencil hardly shows on black (common practice, no source): what looks like the bare bar, L* 23, is
    kept there, and doubted as soon as an earlier mark says otherwise.
    """
    fly_cap = (colour_id(demo, "Heron", "119"),)

    def begin_on_black(only_missing: bool) -> int:
        plan = SessionPlan(PRINT, Which.CHOSEN, (), over_black=True, colour_ids=fly_cap, only_missing=only_missing)
        return open_session(demo, start_session(demo, plan)[0]).items[0].id

    lay_paper_under(demo, link, PRINT)
    true, info = link.read()

    def reads(L: float) -> None:
        seen = replace(true, reflectance=recover_reflectance([L, 0.0, 0.0]))
        monkeypatch.setattr(link, "read", lambda: (seen, info))

    reads(23.0)
    assert read_item(demo, link, begin_on_black(True)).outcome == "stored"
    reads(40.0)
    doubted = read_item(demo, link, begin_on_black(False))
    assert doubted.outcome == "doubt"
    assert "differs from the earlier swatch" in doubted.item.doubt


def test_the_mark_of_a_removed_swatch_waits_again(demo: Collection, link: ReaderLink) -> None:
    view = begin(demo, "119")
    read = read_item(demo, link, view.items[0].id)
    assert read.change is not None
    with demo() as session:
        newest = session.query(Swatch).order_by(Swatch.id.desc()).first()
    assert newest is not None
    removed = remove_swatch(demo, newest.id)
    after = open_session(demo, view.card.id)
    assert (after.items[0].state, after.items[0].reading, after.card.read) == ("waiting", None, 0)
    assert session_cards(demo)[0].read == 0
    undo(demo, removed.change_id)
    assert open_session(demo, view.card.id).items[0].state == "read"
    remove_swatch(demo, newest.id)
    assert read_item(demo, link, view.items[0].id).outcome == "stored"


def test_four_pencils_are_made_once_more_at_the_end(demo: Collection) -> None:
    plan = SessionPlan(VELLUM, Which.OWNED, (Pressure.LIGHT, Pressure.HEAVY), over_black=True, only_missing=False)
    once, twice = (count_marks(demo, replace(plan, twice=both)) for both in (False, True))
    assert twice.marks == once.marks + 4 * 2
    marks = [
        (i.colour_id, i.pressure, i.over) for i in items_of(demo, start_session(demo, replace(plan, twice=True))[0])
    ]
    again = marks[once.marks :]
    assert len({colour for colour, _, _ in again}) == 4
    assert set(again) <= set(marks[: once.marks])
    assert all(over == Ground.PAPER for _, _, over in again)
    few = replace(plan, which=Which.CHOSEN, colour_ids=(marks[0][0],), over_black=False, twice=True)
    assert count_marks(demo, few).marks == 2 * 2


def test_four_pencils_are_laid_in_three_layers_last(demo: Collection, link: ReaderLink) -> None:
    plan = SessionPlan(
        PRINT, Which.OWNED, (Pressure.LIGHT, Pressure.HEAVY), only_missing=False, twice=True, layered=True
    )
    without = count_marks(demo, replace(plan, layered=False))
    assert count_marks(demo, plan).marks == without.marks + 4
    number, _ = start_session(demo, plan)
    items = open_session(demo, number).items
    assert {i.layers for i in items[:-4]} == {1}
    last = items[-4:]
    assert [(i.pressure, i.layers, i.over) for i in last] == [(p, 3, "paper") for p in ("medium", "heavy") * 2]
    # Far apart in the list: none of them from the same quarter.
    owned = list(dict.fromkeys(i.colour.id for i in items))
    quarters = [owned.index(i.colour.id) * 4 // len(owned) for i in last]
    assert quarters == [0, 1, 2, 3]
    assert {i.colour.effect for i in last} == {"ordinary"}
    read = read_item(demo, link, last[1].id)
    assert (read.outcome, read.item.layers) == ("stored", 3)
    assert read.change is not None
    assert "heavy in 3 layers read" in read.change.label
    with demo() as session:
        newest = session.scalars(select(Swatch).order_by(Swatch.id.desc())).first()
    assert newest is not None
    assert (newest.colour_id, newest.pressure, newest.layers) == (last[1].colour.id, "heavy", 3)
    # The reader saw three layers, in which there is more wax than in one.
    name = f"{last[1].colour.range_name} {last[1].colour.code}"
    seen = np.array([newest.lab_L, newest.lab_a, newest.lab_b])
    three, one = (
        reflectance_to_lab(demo_world().reflectance("Cotton print paper", ((name, "heavy"),) * n)) for n in (3, 1)
    )
    assert delta_e_2000(seen, three) < delta_e_2000(seen, one)


def test_eight_pencils_of_all_classes_are_laid_over_black_before_those_in_layers(demo: Collection) -> None:
    plan = SessionPlan(PRINT, Which.OWNED, (Pressure.HEAVY,), few_over_black=True, layered=True)
    items = open_session(demo, start_session(demo, plan)[0]).items
    few = items[-12:-4]
    assert {(i.pressure, i.over, i.layers) for i in few} == {("heavy", "black", 1)}
    assert {i.over for i in (*items[:-12], *items[-4:])} == {"paper"}
    assert {i.colour.effect for i in few} == {"ordinary"}
    assert {i.colour.opacity for i in few} == {"transparent", "semi", "opaque"}
    with demo() as session:
        tried = tried_over_black(session)
    assert count_marks(demo, plan).over_black == len(tried) > 0
    assert not tried & {i.colour.id for i in few}


def test_one_that_was_read_over_black_is_not_asked_for_again_unless_all_is(demo: Collection, link: ReaderLink) -> None:
    plan = SessionPlan(VELLUM, Which.OWNED, (), few_over_black=True)
    number, _ = start_session(demo, plan)
    before = count_marks(demo, plan).over_black
    first = open_session(demo, number).items[0]
    assert read_item(demo, link, first.id).outcome == "stored"
    assert count_marks(demo, replace(plan, paper_id=PRINT)).over_black == before + 1
    of_these = replace(plan, which=Which.CHOSEN, colour_ids=(first.colour.id,))
    assert count_marks(demo, of_these).marks == 0
    assert count_marks(demo, replace(of_these, only_missing=False)).marks == 1
    # Where each is laid over black already, no few are.
    each = replace(plan, over_black=True)
    assert count_marks(demo, each).marks == count_marks(demo, replace(each, few_over_black=False)).marks


def few_over_black(collection: Collection, *printed: Opacity | Literal[""]) -> list[str]:
    """What charts print of those that are laid over black, of pencils whose charts print this."""
    with writing(collection, "Other charts") as session:
        open_ones = (Colour.effect == Effect.ORDINARY, Colour.id.not_in(tried_over_black(session)))
        rows = session.scalars(select(Colour).where(*open_ones).order_by(Colour.range_id, Colour.position)).all()
        for colour, opacity in zip(rows, printed, strict=False):
            colour.opacity = opacity
        ids = tuple(colour.id for colour in rows[: len(printed)])
    plan = SessionPlan(PRINT, Which.CHOSEN, (), colour_ids=ids, few_over_black=True)
    return [i.colour.opacity for i in open_session(collection, start_session(collection, plan)[0]).items]


def test_those_over_black_are_spread_over_the_classes_not_over_the_chart(demo: Collection) -> None:
    assert few_over_black(demo, *(Opacity.TRANSPARENT, Opacity.OPAQUE) * 8) == ["transparent"] * 4 + ["opaque"] * 4


def test_pencils_without_a_printed_class_are_laid_over_black_where_others_are_too_few(demo: Collection) -> None:
    assert few_over_black(demo, *("",) * 9, *(Opacity.SEMI,) * 9) == ["semi"] * 8
    assert few_over_black(demo, *("",) * 9, *(Opacity.SEMI,) * 3) == ["semi"] * 3 + [""] * 5


def test_layers_that_are_measured_are_not_asked_for_again(demo: Collection, link: ReaderLink) -> None:
    plan = SessionPlan(VELLUM, Which.OWNED, (Pressure.HEAVY,), layered=True)
    number, _ = start_session(demo, plan)
    first = open_session(demo, number).items[-4:]
    assert count_marks(demo, plan).layered == 0
    assert read_item(demo, link, first[0].id).outcome == "stored"
    assert count_marks(demo, plan).layered == 1
    assert count_marks(demo, replace(plan, paper_id=PRINT)).layered == 0
    again = open_session(demo, start_session(demo, plan)[0]).items[-4:]
    assert first[0].colour.id not in {i.colour.id for i in again}
    # Where all single marks are there already, the four in layers are what is left to read.
    of_these = replace(plan, which=Which.CHOSEN, colour_ids=tuple(i.colour.id for i in first[:3]))
    left = open_session(demo, start_session(demo, of_these)[0]).items
    assert [(i.colour.id, i.layers) for i in left] == [(i.colour.id, 3) for i in first[1:3]]


def test_a_paper_that_takes_fewer_layers_is_not_asked_for_three(demo: Collection) -> None:
    plan = SessionPlan(PRINT, Which.OWNED, (), only_missing=False, layered=True)
    assert (count_marks(demo, plan).marks, count_marks(demo, plan).takes_layers) == (4, True)
    print_paper = next(page for page in paper_pages(demo) if page.id == PRINT)
    edit_paper(demo, PRINT, print_paper.revision, replace(print_paper.said, most_layers=2))
    assert (count_marks(demo, plan).marks, count_marks(demo, plan).takes_layers) == (0, False)


def test_what_is_not_modelled_is_not_laid_in_layers(demo: Collection) -> None:
    with demo() as session:
        special = session.scalars(select(Colour.id).where(Colour.effect == Effect.METALLIC)).first()
    assert special is not None
    plan = SessionPlan(VELLUM, Which.CHOSEN, (), colour_ids=(special, colour_id(demo, "Heron", "119")), layered=True)
    assert count_marks(demo, plan).marks == 1
    with pytest.raises(RefusedError, match="Nothing is left to read"):
        start_session(demo, replace(plan, colour_ids=(special,)))


def test_three_heavy_layers_may_be_far_from_one(demo: Collection, link: ReaderLink) -> None:
    one = read_item(demo, link, begin(demo, "219").items[-1].id)
    three = read_item(demo, link, begin(demo, "219", layers=3).items[-1].id)
    assert (one.outcome, three.outcome, three.item.doubt) == ("stored", "stored", "")


@pytest.mark.parametrize("few", [{"layered": True}, {"few_over_black": True}])
@pytest.mark.parametrize("otherwise", [{"layers": 2}, {"finish": Finish.SOLVENT}])
def test_a_few_are_laid_beside_single_dry_marks_only(
    demo: Collection, otherwise: dict[str, Any], few: dict[str, Any]
) -> None:
    plan = SessionPlan(PRINT, Which.OWNED, (Pressure.HEAVY,), **few)
    with pytest.raises(RefusedError, match="beside dry marks of one layer"):
        start_session(demo, replace(plan, **otherwise))


def items_of(collection: Collection, session_id: int) -> list[SessionItem]:
    with collection() as session:
        query = select(SessionItem).where(SessionItem.session_id == session_id).order_by(SessionItem.position)
        return list(session.scalars(query))


def test_every_making_that_was_measured_as_surely_is_fitted(demo: Collection) -> None:
    def so_far() -> tuple[int, int]:
        with demo() as session:
            return len(dry_marks(session)), made_twice(session)

    marks, twice = so_far()
    assert (marks > 700, twice) == (True, 0)
    with writing(demo, "Made once more") as session:
        of = session.scalars(select(Swatch).where(Swatch.finish == Finish.DRY, Swatch.source == "reader")).first()
        assert of is not None
        for source in ("reader", "typed"):
            again = {c.key: getattr(of, c.key) for c in Swatch.__table__.columns if c.key != "id"}
            session.add(Swatch(**again | {"source": source}))
    # What was typed is surer known by the reader; it is a making, but not one to learn from.
    assert so_far() == (marks + 1, 1)
