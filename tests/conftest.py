"""Fixtures for all tests: an empty collection, the demo loaded once, and the application on each."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import settings

from tidy_tinder.demo.loader import load_demo
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

# A slow machine is no failure: time belongs in make benchmark. On CI the examples are the same each time, so that a
# change is judged by what it did; on a desk they are new each time and go on searching.
settings.register_profile("desk", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "desk")


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
    """The folder of what is built once in a run, however many processes share it."""
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


def build_empty(path: Path) -> None:
    collection = open_collection(path)
    begin_collection(collection)
    close(collection)


def build_demo(path: Path) -> None:
    collection = open_collection(path)
    load_demo(collection)
    begin_collection(collection)
    collection.fit_once()
    close(collection)


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
    path = tmp_path / "demo.sqlite"
    shutil.copy(demo_file, path)
    collection = open_collection(path, surveys)
    yield collection
    close(collection)


@pytest.fixture
def client(demo: Collection) -> Iterator[FlaskClient]:
    """The application on the demo, in process."""
    app = create_app(demo, demo=True)
    yield app.test_client()
    close_devices(app)
