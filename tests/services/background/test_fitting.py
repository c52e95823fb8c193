"""The collection fitted: what is kept, what a new swatch costs, cancelled and taken up again."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import delete, func, select
from tests.conftest import close
from tests.services.at_home import BUFF, PRINT, VELLUM, card, colour_id

from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.optics.tooth import PaperModel
from tidy_tinder.core.vocabulary import Finish, Pressure
from tidy_tinder.services.background.apart import OutdatedError
from tidy_tinder.services.background.fitter import Fitter
from tidy_tinder.services.background.inputs import inputs_of
from tidy_tinder.services.background.runtime import Collection, open_collection, past_jobs
from tidy_tinder.services.background.stored_fits import StoredFits, Surveys, fit_from, plain_fit, survey_of
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.exchange.backup import CollectionFiles, back_up, restore
from tidy_tinder.services.journal import undo
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.storage.models import PencilFitted, Swatch

WAIT_SECONDS = 180


@pytest.fixture
def not_fitted(demo_file: Path, tmp_path: Path) -> Iterator[Collection]:
    """The demo with the swatches of every fourth pencil, and fits of none."""
    path = Path(shutil.copy(demo_file, tmp_path / "not-fitted.sqlite"))
    collection = open_collection(path)
    with collection() as session:
        session.execute(delete(PencilFitted))
        session.execute(delete(Swatch).where(Swatch.colour_id % 4 != 0))
        session.commit()
    yield collection
    close(collection)


@pytest.fixture
def background(demo: Collection) -> Fitter:
    return demo.keep_fitted()


def wait_for(fitter: Fitter, version: int) -> None:
    """Until the fitter has a version; its thread signals nothing, so it is looked at."""
    waiting = threading.Event()
    for _ in range(WAIT_SECONDS * 50):
        if fitter.newest is not None and fitter.newest.version == version:
            return
        waiting.wait(0.02)
    raise AssertionError(f"version {version} was not fitted in {WAIT_SECONDS} s")


def swatch(collection: Collection, code: str, paper: int = BUFF, L: float = 45.0) -> int:
    _, change = type_swatch(
        collection, NewTyped(colour_id(collection, "Heron", code), paper, Pressure.MEDIUM, (L, 40.0, 20.0))
    )
    assert change is not None
    return change.change_id


def version(collection: Collection) -> int:
    with collection() as session:
        return inputs_of(session).version


def kept(collection: Collection) -> int:
    with collection() as session:
        return session.scalar(select(func.count(PencilFitted.id))) or 0


def test_the_demos_fits_are_kept_and_are_the_same_when_read_again(demo: Collection) -> None:
    fits = StoredFits(demo)
    with demo() as session:
        inputs = inputs_of(session)
    found = Surveys().of(inputs, lambda: survey_of(inputs, fits)).survey
    assert fits.done == fits.reused > 500
    assert found.home == VELLUM
    assert len(found.pencils) > 380
    assert len(found.by_chart) > 150
    heron = colour_id(demo, "Heron", "119")
    again = fit_from(plain_fit(found.pencils[heron]))
    assert (again.unknowns == found.pencils[heron].unknowns).all()
    assert (again.covariance == found.pencils[heron].covariance).all()
    # A reader's marks do not err alike.
    assert not any(mark.alike for mark in inputs.marks if mark.noise < 0.5)
    assert again.follows.any()
    assert again == found.pencils[heron]
    assert [one.kind for one in again.left] == [one.kind for one in found.pencils[heron].left]


def test_a_fit_at_home_is_not_taken_for_one_of_the_same_mark_elsewhere(not_fitted: Collection) -> None:
    """They are of one pencil, and only the first follows its paper."""
    mark = Evidence(np.array([50.0, 30.0, 20.0]), PaperModel(np.full(31, 0.8)), Kind(Pressure.HEAVY))
    fits = StoredFits(not_fitted)
    away, home = (fits.fit([[replace(mark, at_home=there)]], [""], 0.1)[0] for there in (False, True))
    assert len(fits.needed) == 2
    assert np.array_equal(away.unknowns, home.unknowns)
    assert home.follows.any()
    assert not away.follows.any()


def test_effects_and_what_is_not_dry_are_left_out(demo: Collection) -> None:
    neon = colour_id(demo, "Tallow", "M94")
    type_swatch(demo, NewTyped(neon, VELLUM, Pressure.HEAVY, (60.0, 60.0, 10.0)))
    wet = NewTyped(colour_id(demo, "Heron", "119"), VELLUM, Pressure.HEAVY, (30.0, 40.0, 20.0), finish=Finish.SOLVENT)
    with demo() as session:
        before = len(inputs_of(session).marks)
    type_swatch(demo, wet)
    with demo() as session:
        inputs = inputs_of(session)
    assert len(inputs.marks) == before
    assert neon not in {colour.key for colour in inputs.colours} | {mark.pencil for mark in inputs.marks}


def test_a_new_swatch_has_only_those_fitted_anew_that_it_concerns(demo: Collection) -> None:
    swatch(demo, "119", PRINT)
    fits = StoredFits(demo)
    with demo() as session:
        survey_of(inputs_of(session), fits)
    assert fits.done - fits.reused == 1


def test_a_job_says_how_far_it_is_and_drops_what_is_not_needed(demo: Collection) -> None:
    before = kept(demo)
    swatch(demo, "119", PRINT)
    demo.fit_once()
    job = past_jobs(demo)[0]
    assert (job.state, job.done, job.taken_up) == ("done", job.total, 0)
    assert job.reused == job.total - 1
    # 119 is known by one mark more now; its fit without that mark is still that of the step before.
    assert before <= kept(demo) <= before + 1


def test_a_newer_swatch_cancels_the_job_and_what_was_fitted_is_kept(
    not_fitted: Collection, monkeypatch: pytest.MonkeyPatch
) -> None:
    advance = Fitter._advance
    swatched: list[int] = []

    def swatching_meanwhile(self: Fitter, done: int, *rest: object) -> None:
        if done > 60 and not swatched:
            swatched.append(swatch(not_fitted, "119", PRINT))
        advance(self, done, *rest)  # type: ignore[arg-type] # passed on as it came

    monkeypatch.setattr(Fitter, "_advance", swatching_meanwhile)
    fitter = Fitter(not_fitted, Surveys())
    with pytest.raises(OutdatedError):
        fitter.run_once()
    cut = past_jobs(not_fitted)[0]
    assert cut.state == "cancelled"
    assert 0 < cut.done < cut.total
    assert kept(not_fitted) >= 48
    fitter.run_once()
    done = past_jobs(not_fitted)[0]
    assert (done.state, done.id > cut.id) == ("done", True)
    assert done.reused >= cut.done
    assert fitter.newest is not None
    assert fitter.newest.version == version(not_fitted)


def test_a_program_that_ends_is_taken_up_where_it_was(not_fitted: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    swatch(not_fitted, "119", PRINT)
    advance = Fitter._advance

    class PowerCutError(BaseException):
        pass

    def cut_off(self: Fitter, done: int, *rest: object) -> None:
        advance(self, done, *rest)  # type: ignore[arg-type] # passed on as it came
        if done > 100:
            raise PowerCutError

    monkeypatch.setattr(Fitter, "_advance", cut_off)
    with pytest.raises(PowerCutError):
        not_fitted.fit_once()
    left = past_jobs(not_fitted)[0]
    assert left.state == "running"
    monkeypatch.setattr(Fitter, "_advance", advance)
    not_fitted.fit_once()
    taken = past_jobs(not_fitted)[0]
    assert (taken.id, taken.state, taken.taken_up) == (left.id, "done", 1)
    assert taken.reused >= left.done > 100


def test_in_the_background_marks_follow_a_swatch(demo: Collection, background: Fitter) -> None:
    fly_cap = colour_id(demo, "Heron", "120")
    wait_for(background, version(demo))
    assert not demo.fitting().working
    before = card(demo, fly_cap, PRINT).mark
    assert before.trust is Trust.PREDICTED
    # A mark as it was predicted confirms the guess, so all others are surer.
    heavy = card(demo, colour_id(demo, "Heron", "119"), PRINT).mark.zones[0].lab
    _, change = type_swatch(demo, NewTyped(colour_id(demo, "Heron", "119"), PRINT, Pressure.HEAVY, heavy))
    assert change is not None
    assert demo.fitting().working
    wait_for(background, version(demo))
    after = card(demo, fly_cap, PRINT).mark
    assert (after.zones[0].band or 99) < (before.zones[0].band or 0)
    undo(demo, change.change_id)
    demo.fitting()
    wait_for(background, version(demo))
    assert card(demo, fly_cap, PRINT).mark == before


def test_a_page_is_told_how_long_ago_predictions_came_also_while_newer_ones_are_made(
    demo: Collection, background: Fitter
) -> None:
    """Whoever has just asked for marks asks once more only where predictions may have come since."""
    hours = 3600.0
    first = demo.fitting()
    assert (first.working, first.version) == (True, 0)
    assert first.age_seconds > hours
    wait_for(background, version(demo))
    assert demo.fitting().age_seconds < hours
    swatch(demo, "119", PRINT)
    again = demo.fitting()
    assert again.version > 0
    assert again.age_seconds < hours


def test_before_the_first_fit_marks_are_measured_or_by_chart(demo: Collection, background: Fitter) -> None:
    # Nothing has been asked for yet, so the thread rests.
    assert background.newest is None
    assert card(demo, colour_id(demo, "Heron", "119")).mark.trust is Trust.MEASURED
    assert card(demo, colour_id(demo, "Heron", "119"), PRINT).mark.trust in (Trust.CHART, Trust.PREDICTED)


@pytest.mark.parametrize("fails", [False, True])
def test_what_the_first_page_shows_comes_before_any_fit_and_stops_none(
    demo: Collection, caplog: pytest.LogCaptureFixture, fails: bool
) -> None:
    done: list[str] = []

    def first() -> None:
        done.append("drawn")
        if fails:
            raise LookupError("no such paper")

    fitter = demo.keep_fitted(first=first, then=lambda: done.append("fitted"))
    with demo() as session:
        demo.fitted(session)
    wait_for(fitter, version(demo))
    fitter.close()
    assert done == ["drawn", "fitted"]
    assert ("no such paper" in caplog.text) is fails


def test_what_fails_is_told_to_the_log_and_not_waited_for(
    demo: Collection, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken(_surveys: object, _inputs: object, _fits: object) -> None:
        raise ArithmeticError("made to fail")

    monkeypatch.setattr(Surveys, "of", broken)
    fitter = demo.keep_fitted()
    assert demo.fitting().working
    waiting = threading.Event()
    while demo.fitting().working:
        waiting.wait(0.02)
    assert "made to fail" in caplog.text
    assert fitter.newest is None
    assert card(demo, colour_id(demo, "Heron", "119"), PRINT).mark.trust is Trust.CHART


def test_a_restored_collection_is_fitted_anew(not_fitted: Collection, tmp_path: Path) -> None:
    files = CollectionFiles(not_fitted.database)
    back_up(files, tmp_path / "copy.zip")
    fitter = not_fitted.keep_fitted()
    swatch(not_fitted, "119", PRINT, 60.0)
    not_fitted.fitting()
    wait_for(fitter, version(not_fitted))
    restore(files, tmp_path / "copy.zip", not_fitted)
    assert fitter.newest is None
    not_fitted.fitting()
    wait_for(fitter, version(not_fitted))
    assert card(not_fitted, colour_id(not_fitted, "Heron", "119"), PRINT).mark.trust is Trust.PREDICTED


def test_fitting_now_writes_nothing(demo: Collection) -> None:
    before, jobs_before = kept(demo), past_jobs(demo)
    swatch(demo, "119", PRINT)
    assert Surveys().now(demo).version == version(demo)
    assert (kept(demo), past_jobs(demo)) == (before, jobs_before)
