"""What was predicted is there for the next program, as it was; anything else in its place is passed over."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import select

from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection import kept_predictions, predictions
from tidy_tinder.services.collection.predictions import Predictions, keep_predictions, predictions_on
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.storage.models import Paper, Swatch

FILE = Path("worked-out/predictions.npz")


class _PredictedError(Exception):
    """Something was predicted."""


def refuse(*_said: object, **_named: object) -> None:
    raise _PredictedError


@pytest.fixture
def kept(demo: Collection, tmp_path: Path) -> Path:
    """The demo's database, closed, with its predictions on two papers kept beside it."""
    both(demo)
    keep_predictions(demo)
    demo.close()
    folder = tmp_path / "next"
    (folder / FILE).parent.mkdir(parents=True)
    shutil.copy(demo.database, folder / "collection.sqlite")
    shutil.copy(demo.worked_out / FILE.name, folder / FILE)
    return folder


def both(collection: Collection) -> list[Predictions]:
    with collection() as session:
        return [predictions_on(session, paper) for paper in session.scalars(select(Paper).order_by(Paper.id).limit(2))]


def test_the_next_program_predicts_nothing_again(kept: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    again = open_collection(kept / "collection.sqlite")
    (kept / FILE).rename(kept / "away")
    anew = both(again)
    again.close()
    (kept / "away").rename(kept / FILE)
    third = open_collection(kept / "collection.sqlite")
    monkeypatch.setattr(predictions, "predict", refuse)
    for left, predicted in zip(both(third), anew, strict=True):
        assert left.places == predicted.places
        assert (left.anchors, left.home, left.by_chart) == (predicted.anchors, predicted.home, predicted.by_chart)
        np.testing.assert_allclose(left.lab, predicted.lab, atol=1e-9)
        np.testing.assert_allclose(left.band, predicted.band, atol=1e-9)
    # What was not asked for then is not kept.
    with third() as session, pytest.raises(_PredictedError):
        predictions_on(session, session.scalars(select(Paper).order_by(Paper.id.desc())).all()[0])
    third.close()


def test_after_another_swatch_they_are_predicted_anew(kept: Path) -> None:
    collection = open_collection(kept / "collection.sqlite")
    first = both(collection)[0]
    with collection() as session:
        swatched = set(session.scalars(select(Swatch.colour_id)))
    colour = min(set(first.places) - swatched)
    was = first.of(colour, Pressure.HEAVY)
    collection.close()
    assert was is not None
    L, a, b = was.lab
    again = open_collection(kept / "collection.sqlite")
    type_swatch(again, NewTyped(colour, 1, Pressure.HEAVY, (L - 4.0, a, b)))
    now = both(again)[0].of(colour, Pressure.HEAVY)
    assert now is not None
    assert L - 4.5 < now.lab[0] < L - 1.0
    again.close()


def test_a_paper_that_is_asked_for_after_a_swatch_is_predicted_anew(
    kept: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What was read from the file for the collection as it was then does not hold for it as it is now."""
    collection = open_collection(kept / "collection.sqlite")
    with collection() as session:
        first, second = session.scalars(select(Paper).order_by(Paper.id).limit(2))
        known = predictions_on(session, first)
        swatched = set(session.scalars(select(Swatch.colour_id)))
        monkeypatch.setattr(predictions, "predict", refuse)
        colour = min(set(known.places) - swatched)
    type_swatch(collection, NewTyped(colour, 1, Pressure.HEAVY, (50.0, 0.0, 0.0)))
    with collection() as session, pytest.raises(_PredictedError):
        predictions_on(session, session.get_one(Paper, second.id))
    collection.close()


def _cut(file: Path) -> None:
    file.write_bytes(file.read_bytes()[:-2000])


def _of_other_pencils(file: Path) -> None:
    with np.load(file) as arrays:
        others = {name: arrays[name] for name in arrays.files}
    np.savez(file, **{**others, "pencils": others["pencils"] + 1})


def _of_other_shape(file: Path) -> None:
    with np.load(file) as arrays:
        others = {name: arrays[name] for name in arrays.files}
    np.savez(file, **{name: part[:5] if name.startswith("lab") else part for name, part in others.items()})


@pytest.mark.parametrize(
    "harm",
    [lambda file: file.write_bytes(b"nothing"), lambda file: file.write_bytes(b""), _cut, _of_other_pencils,
     _of_other_shape, lambda file: file.unlink()],
)  # fmt: skip
def test_what_is_no_whole_file_of_this_collection_is_passed_over(
    kept: Path, harm: Callable[[Path], object], monkeypatch: pytest.MonkeyPatch
) -> None:
    harm(kept / FILE)
    monkeypatch.setattr(predictions, "predict", refuse)
    collection = open_collection(kept / "collection.sqlite")
    with pytest.raises(_PredictedError):
        both(collection)
    collection.close()


def test_another_program_predicts_for_itself(kept: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept_predictions, "changed_at", lambda: 1)
    monkeypatch.setattr(predictions, "predict", refuse)
    collection = open_collection(kept / "collection.sqlite")
    with pytest.raises(_PredictedError):
        both(collection)
    collection.close()


def test_what_cannot_be_kept_is_said_and_nothing_else_happens(
    demo: Collection, tmp_path: Path, caplog: pytest.LogCaptureFixture
) -> None:
    both(demo)
    shutil.rmtree(demo.worked_out, ignore_errors=True)
    demo.worked_out.write_text("a file where a folder should be", encoding="utf-8")
    keep_predictions(demo)
    assert "were not kept" in caplog.text
    demo.worked_out.unlink()
