"""Fixtures for all tests: an empty collection, the demo loaded once, and the application on each."""

from __future__ import annotations

import fcntl
import os
import shutil
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import settings
from sqlalchemy import select

from tidy_tinder.demo.loader import load_demo
from tidy_tinder.services.background.runtime import Collection, mixed_pairs, open_collection
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.services.collection.cards import deal_cards_on_all
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.collection.predictions import keep_predictions
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.storage.models import Paper, PictureState, ReferencePicture
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

# A slow machine is no failure: time belongs in make benchmark. On CI the examples are the same each time, so that a
# change is judged by what it did; on a desk they are new each time and go on searching.
settings.register_profile("desk", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "desk")


MIXED_ON = ("Vellum board", "Buff sanded card")
_PATIENCE = 120.0
TABLES = "worked-out"
"""The folder beside a collection in which its mixed tables are kept."""


def close(collection: Collection) -> None:
    """Let go of the database file."""
    collection.close()


def built_once(path: Path, build: Callable[[Path], None]) -> Path:
    """A file that one test process builds and all others wait for."""
    with path.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            unfinished = path.with_suffix(".unfinished")
            build(unfinished)
            unfinished.rename(path)
    return path


@pytest.fixture(scope="session")
def templates(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of what is built once in a run, however many processes share it.

    TEMPLATES names one for several runs of one state of the code: `make mutants` puts its faults in afterwards.
    """
    if kept := os.environ.get("TEMPLATES"):
        return Path(kept)
    base = tmp_path_factory.getbasetemp()
    return base.parent if "PYTEST_XDIST_WORKER" in os.environ else base


@pytest.fixture(scope="session")
def surveys() -> Surveys:
    """What this process surveyed: copies of the demo begin as the same collection, which is fitted once."""
    return Surveys()


@pytest.fixture(scope="session")
def empty_file(templates: Path) -> Path:
    """A new collection's database, migrated once: one white paper and nothing else; tests get copies."""
    return built_once(templates / "empty.sqlite", build_empty)


@pytest.fixture(scope="session")
def demo_file(templates: Path) -> Path:
    """The demo's database, loaded and fitted once; tests get copies."""
    return built_once(templates / "demo.sqlite", build_demo)


@pytest.fixture(scope="session")
def drawn_file(templates: Path) -> Path:
    """The demo as it is opened: with its drawings and their pictures."""
    return built_once(templates / "drawn.sqlite", lambda path: build_demo_of(path, drawings=True))


def build_empty(path: Path) -> None:
    collection = open_collection(path)
    begin_collection(collection)
    close(collection)


def build_demo(path: Path) -> None:
    """Loaded without its drawings and their pictures (16 MB a copy), fitted, and mixed on the papers that tests ask for
    most: the tables lie beside it.
    """
    build_demo_of(path, drawings=False)


def build_demo_of(path: Path, drawings: bool) -> None:
    """The demo, fitted and mixed."""
    collection = open_collection(path)
    load_demo(collection, drawings)
    begin_collection(collection)
    collection.fit_once()
    with collection() as session:
        for paper in session.scalars(select(Paper).where(Paper.name.in_(MIXED_ON))).all():
            scene = Scene.on(session, paper.id)
            assert scene.known is not None, "it was fitted just now"
            mixed_pairs(session, scene.known, scene.fit, paper.id, None, False)
    open_pictures(collection)
    deal_cards_on_all(collection)
    keep_predictions(collection)
    close(collection)


def open_pictures(collection: Collection) -> None:
    """Open the pictures that wait, as each program that is served would do anew."""
    opener = PictureOpener(collection)
    opener.begin()
    begun = time.monotonic()
    with collection() as session:
        waits = select(ReferencePicture.reference_id).where(
            ReferencePicture.state.in_((PictureState.WAITING, PictureState.OPENING))
        )
        while session.scalars(waits).first() is not None:
            assert time.monotonic() - begun < _PATIENCE, "the pictures do not open"
            session.rollback()
            time.sleep(0.1)
    opener.close()


def demo_copy(demo_file: Path, path: Path) -> Path:
    """The demo at a path of a test's own, with its mixed tables: six seconds of mixing that no test is about."""
    path.parent.mkdir(exist_ok=True)
    shutil.copy(demo_file, path)
    tables = path.parent / TABLES
    tables.mkdir(exist_ok=True)
    for file in (demo_file.parent / TABLES).glob("*.npz"):
        try:
            os.link(file, tables / file.name)
        except OSError:  # on another disk
            shutil.copy(file, tables / file.name)
    return path


@pytest.fixture
def empty(empty_file: Path, tmp_path: Path) -> Iterator[Collection]:
    """A new collection."""
    path = tmp_path / "collection.sqlite"
    shutil.copy(empty_file, path)
    collection = open_collection(path)
    yield collection
    close(collection)


@pytest.fixture
def demo(demo_file: Path, tmp_path: Path, surveys: Surveys) -> Iterator[Collection]:
    """A copy of the demo that a test may change."""
    collection = open_collection(demo_copy(demo_file, tmp_path / "demo.sqlite"), surveys)
    yield collection
    close(collection)


@pytest.fixture
def client(demo: Collection) -> Iterator[FlaskClient]:
    """The application on the demo, in process."""
    app = create_app(demo, demo=True)
    yield app.test_client()
    close_devices(app)
