"""Swatches one by one: which one counts, typed, removed, opacity, side by side; what is this; kin; tray."""

from __future__ import annotations

from datetime import date

import pytest
from tests.services.at_home import BUFF, PRINT, VELLUM, card, colour_id

from tidy_tinder.core.difference.lamps import Lamp
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.standins.singles import Basis
from tidy_tinder.core.vocabulary import Finish, Ground, Pressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.exchange.bulk import NamedSwatch, add_swatches
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.standins.mark_beside_mark import standins_for_text
from tidy_tinder.services.swatches.beside import MarkAsked, lay_beside
from tidy_tinder.services.swatches.one_by_one import NewTyped, PastSwatch, history_of, opacity_of, type_swatch
from tidy_tinder.services.swatches.store import MadeMark, Measurement, note_swatch, remove_swatch, store_swatch


def history(collection: Collection, of: int) -> tuple[PastSwatch, ...]:
    with collection() as session:
        return history_of(session, of)


def swatch(L: float, source: Source, day: int) -> NamedSwatch:
    return NamedSwatch(
        "Heron", "119", "Cotton print paper", Pressure.HEAVY, 1, Finish.DRY, Ground.PAPER, (L, 50.0, 30.0),
        None, source, "", date(2026, 5, day),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("made", "counts"),
    [
        ([swatch(40, Source.TYPED, 1), swatch(50, Source.PHOTO, 9)], 40),
        ([swatch(40, Source.READER, 1), swatch(50, Source.PHOTO, 9), swatch(60, Source.TYPED, 9)], 40),
        ([swatch(40, Source.READER, 1), swatch(50, Source.READER, 2)], 50),
        ([swatch(40, Source.READER, 2), swatch(50, Source.READER, 1)], 40),
        ([swatch(40, Source.PHOTO, 1), swatch(50, Source.PHOTO, 2)], 50),
    ],
)
def test_the_newest_by_reader_counts_and_a_photo_never_outranks_it(
    demo: Collection, made: list[NamedSwatch], counts: float
) -> None:
    add_swatches(demo, made)
    fly_cap = colour_id(demo, "Heron", "119")
    assert card(demo, fly_cap, PRINT).mark.zones[0].lab[0] == counts
    here = [p for p in history(demo, fly_cap) if p.row.paper_id == PRINT]
    assert len(here) == len(made)
    assert [p.row.lab[0] for p in here if p.counts] == [counts]


def test_a_typed_swatch_is_kept_shown_and_removed(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    number, _ = type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.HEAVY, (45.0, 55.0, 30.0), note="by eye"))
    assert card(demo, fly_cap, PRINT).mark.trust.value == "measured"
    past = next(p for p in history(demo, fly_cap) if p.row.id == number)
    note_swatch(demo, number, past.row.revision, "by a friend")
    with pytest.raises(ChangedMeanwhileError):
        note_swatch(demo, number, past.row.revision, "by me")
    done = remove_swatch(demo, number)
    assert card(demo, fly_cap, PRINT).mark.trust.value == "predicted"
    undo(demo, done.change_id)
    assert card(demo, fly_cap, PRINT).mark.trust.value == "measured"


def test_what_no_mark_can_be_is_refused(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    for new in (
        NewTyped(fly_cap, PRINT, "hard", (45, 5, 3)),  # type: ignore[arg-type] # a word that is none
        NewTyped(fly_cap, PRINT, Pressure.HEAVY, (45, 5, 3), layers=13),
        NewTyped(fly_cap, PRINT, Pressure.HEAVY, (45, 5, 3), finish=Finish.BURNISHED),
        NewTyped(fly_cap, PRINT, Pressure.HEAVY, (45, 5, 3), over="glass"),  # type: ignore[arg-type] # a word that is none
    ):
        with pytest.raises(RefusedError):
            type_swatch(demo, new)
    with pytest.raises(OutOfRangeError):
        type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.HEAVY, (145, 5, 3)))
    with pytest.raises(NotFoundError):
        type_swatch(demo, NewTyped(99999, PRINT, Pressure.HEAVY, (45, 5, 3)))
    with pytest.raises(NotFoundError):
        remove_swatch(demo, 99999)


def test_a_mark_over_black_gives_an_opacity(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.HEAVY, (60.0, 40.0, 30.0)))
    assert opacity_of([p for p in history(demo, fly_cap) if p.row.paper_id == PRINT]) == ()
    type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.HEAVY, (55.0, 35.0, 25.0), over=Ground.BLACK))
    (found,) = opacity_of([p for p in history(demo, fly_cap) if p.row.paper_id == PRINT])
    assert found.test.opacity is not None
    assert found.test.opacity.value == "opaque"
    assert 0.7 < found.test.contrast_ratio < 0.9
    assert not found.by_photo
    # What a photo says of another paper is named so, and comes after it.
    with writing(demo, "by photo") as session:
        for over, light in ((Ground.PAPER, 60.0), (Ground.BLACK, 30.0)):
            mark = MadeMark(fly_cap, VELLUM, Pressure.HEAVY, 2, over=over)
            store_swatch(session, mark, Measurement((light, 40.0, 30.0), Source.PHOTO, doubt=2.0))
    tests = opacity_of(history(demo, fly_cap))
    both = [test for test in tests if test.layers == 2 or test.paper_name == found.paper_name]
    assert [test.by_photo for test in both] == [False, True]


def test_marks_are_laid_beside_across_papers_and_pressures(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    asked = [MarkAsked(fly_cap, paper, Pressure.HEAVY) for paper in (VELLUM, BUFF, PRINT)]
    laid = lay_beside(demo, asked)
    assert laid[0].difference is None
    assert laid[1].difference is not None
    assert laid[1].difference.delta_L < 0
    assert [one.band is None for one in laid] == [True, True, False]
    neon = lay_beside(demo, [asked[0], MarkAsked(colour_id(demo, "Tallow", "M94"), PRINT, Pressure.HEAVY)])[1]
    assert (neon.patch, neon.difference, neon.band) == (None, None, None)
    for count in (1, 7):
        with pytest.raises(RefusedError, match="Two to 6"):
            lay_beside(demo, [MarkAsked(fly_cap, VELLUM, Pressure.HEAVY)] * count)


def test_marks_of_measured_spectra_are_judged_under_lamp_light_too(demo: Collection) -> None:
    ids = [colour_id(demo, "Heron", "101"), colour_id(demo, "Heron", "125"), colour_id(demo, "Wader", "101")]
    first, second, third = lay_beside(demo, [MarkAsked(i, VELLUM, Pressure.HEAVY) for i in ids])
    assert first.lamps is None
    assert second.lamps is not None
    assert second.difference is not None
    # The spectra are those of the marks: in daylight both ways agree but for rounding.
    assert second.lamps.daylight == pytest.approx(second.difference.delta_e, abs=0.05)
    assert {one.lamp for one in second.lamps.lamps} == set(Lamp)
    # What is predicted has no spectrum of its own.
    assert third.lamps is None
    ranked = standins_for_text(demo, "Heron 105", "vellum", Pressure.HEAVY, Closest.OVERALL)
    with_both = [o for o in ranked.on_paper if o.lamps is not None]
    assert with_both
    assert all(o.basis is Basis.PAPER for o in with_both)
