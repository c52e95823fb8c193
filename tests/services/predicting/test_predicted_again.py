"""After a swatch only what it changed is predicted anew, and it is what a program that begins afresh predicts."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest
from sqlalchemy import select
from tests.conftest import close

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.marks import PaperFit, Prediction, predict
from tidy_tinder.core.vocabulary import Pressure, Tooth
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.predictions import Predictions, predictions_on
from tidy_tinder.services.papers import PaperAs, edit_paper
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.storage.models import Paper


def on_all_papers(collection: Collection) -> list[Predictions]:
    with collection() as session:
        papers = session.scalars(select(Paper).order_by(Paper.id)).all()
        return [predictions_on(session, paper, layers) for paper in papers for layers in (1, 2)]


def same(ours: Sequence[Predictions], theirs: Sequence[Predictions]) -> bool:
    """To nine digits: how many are worked out together moves the last ones."""
    return all(
        one.places == other.places
        and np.allclose(one.lab, other.lab, rtol=0, atol=1e-9)
        and np.allclose(one.band, other.band, rtol=0, atol=1e-9)
        for one, other in zip(ours, theirs, strict=True)
    )


@pytest.fixture
def counted(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """How many pencils each prediction was asked for."""
    asked: list[int] = []

    def counting(pencils: Sequence[PencilFit], paper: PaperFit, kinds: Sequence[Kind]) -> Prediction:
        asked.append(len(pencils))
        return predict(pencils, paper, kinds)

    monkeypatch.setattr("tidy_tinder.services.collection.predictions.predict", counting)
    return asked


@pytest.fixture(autouse=True)
def nothing_kept(demo: Collection) -> None:
    """No predictions of an earlier program: what is predicted here is counted."""
    (demo.worked_out / "predictions.npz").unlink(missing_ok=True)


def begun_afresh(collection: Collection) -> list[Predictions]:
    afresh = open_collection(collection.database)
    predictions = on_all_papers(afresh)
    close(afresh)
    return predictions


def test_only_what_a_swatch_changed_is_predicted_anew(demo: Collection, counted: list[int]) -> None:
    first = on_all_papers(demo)
    assert sum(counted) == len(counted) * len(first[0].places)
    counted.clear()
    type_swatch(demo, NewTyped(5, 2, Pressure.HEAVY, (48.0, 12.0, 9.0)))
    demo.fit_once()
    again = on_all_papers(demo)
    assert 0 < sum(counted) < 0.4 * len(counted) * len(first[0].places)
    assert not same(again, first)
    assert same(again, begun_afresh(demo))


def test_a_paper_that_was_changed_is_predicted_anew(demo: Collection, counted: list[int]) -> None:
    first = on_all_papers(demo)
    counted.clear()
    with demo() as session:
        revision = session.scalars(select(Paper.revision).where(Paper.id == 3)).one()
    said = PaperAs("Hairy", "", "", (70.0, 4.0, 12.0), Tooth.ROUGH, 8, False, True)
    edit_paper(demo, 3, revision, said)
    demo.fit_once()
    again = on_all_papers(demo)
    assert sorted(counted)[-2:] == [len(first[0].places)] * 2
    assert same(again, begun_afresh(demo))
