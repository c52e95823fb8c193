"""A large collection surveyed in another process: the very same, kept, stopped, and made here where that one ends."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from sqlalchemy import delete, func, select, update
from tests.conftest import close, demo_copy

from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.services.background import surveyed_apart
from tidy_tinder.services.background.apart import OutdatedError
from tidy_tinder.services.background.fitter import Fitter
from tidy_tinder.services.background.runtime import Collection, open_collection, past_jobs
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.storage.models import Colour, PencilFitted, Swatch


@pytest.fixture
def few(demo_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Collection]:
    """The demo with the swatches of every eighth pencil, charts of few, fits of none, and taken for a large one."""
    collection = open_collection(demo_copy(demo_file, tmp_path / "few" / "collection.sqlite"))
    with collection() as session:
        session.execute(delete(PencilFitted))
        session.execute(delete(Swatch).where(Swatch.colour_id % 8 != 0))
        session.execute(update(Colour).where(Colour.id % 8 > 1).values(lab_L=None, lab_a=None, lab_b=None))
        session.commit()
    monkeypatch.setattr(surveyed_apart, "MANY_SWATCHES", 0)
    yield collection
    close(collection)


def kept(collection: Collection) -> int:
    with collection() as session:
        return session.scalar(select(func.count(PencilFitted.id))) or 0


def newest(fitter: Fitter) -> Survey:
    assert fitter.newest is not None
    return fitter.newest.survey


def assert_same(one: Survey, other: Survey) -> None:
    assert (one.home, one.by_chart, one.hand) == (other.home, other.by_chart, other.hand)
    assert one.pencils.keys() == other.pencils.keys()
    for key, fit in one.pencils.items():
        assert np.array_equal(fit.unknowns, other.pencils[key].unknowns)
        assert np.array_equal(fit.covariance, other.pencils[key].covariance)
    assert one.papers.keys() == other.papers.keys()
    for key, paper in one.papers.items():
        assert np.array_equal(paper.unknowns, other.papers[key].unknowns)
        assert np.array_equal(paper.covariance, other.papers[key].covariance)


def test_it_is_the_same_and_kept_as_if_it_were_made_here(few: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    there = Fitter(few, Surveys())
    there.run_once()
    made = past_jobs(few)[0]
    assert (made.state, made.done, made.reused) == ("done", made.total, 0)
    keeps = kept(few)
    assert keeps > 20
    surveys = Surveys()
    again = Fitter(few, surveys)
    again.run_once()
    job = past_jobs(few)[0]
    assert (job.done, job.reused, kept(few)) == (job.total, job.total, keeps)
    once_more = Fitter(few, surveys)
    once_more.run_once()
    assert newest(once_more) is newest(again)
    assert (past_jobs(few)[0].state, kept(few)) == ("done", keeps)
    monkeypatch.undo()
    with few() as session:
        session.execute(delete(PencilFitted))
        session.commit()
    here = Surveys().now(few).survey
    assert_same(newest(there), here)
    assert_same(newest(again), here)


def test_a_newer_mark_stops_it_and_what_was_fitted_is_kept(few: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    advance = Fitter._advance

    def cut_off(self: Fitter, done: int, *rest: Any) -> None:
        advance(self, done, *rest)
        if done > 20:
            raise OutdatedError

    monkeypatch.setattr(Fitter, "_advance", cut_off)
    with pytest.raises(OutdatedError):
        Fitter(few, Surveys()).run_once()
    job = past_jobs(few)[0]
    assert job.state == "cancelled"
    assert kept(few) > 0


def test_where_the_other_process_ends_it_is_made_here(few: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    popen: Any = subprocess.Popen

    def ended(_command: object, **how: Any) -> Any:
        return popen(["false"], **how)

    monkeypatch.setattr(subprocess, "Popen", ended)
    fitter = Fitter(few, Surveys())
    fitter.run_once()
    assert past_jobs(few)[0].state == "done"
    assert_same(newest(fitter), Surveys().now(few).survey)


def test_a_program_that_ends_does_not_wait_for_it(few: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    fitter = Fitter(few, Surveys())
    advance = Fitter._advance

    def end(self: Fitter, *how_far: Any) -> None:
        advance(self, *how_far)
        fitter.close()

    monkeypatch.setattr(Fitter, "_advance", end)
    with pytest.raises(OutdatedError):
        fitter.run_once()
    assert past_jobs(few)[0].state == "running"  # the next program takes it up
