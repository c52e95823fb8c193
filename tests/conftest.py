"""Fixtures for all tests: an empty collection, the demo loaded once, and the application on each."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import settings

from tidy_tinder.demo.loader import load_demo
from tidy_tinder.services.background.runtime import Collection, open_collection
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


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Collection]:
    """A new collection: one white paper and nothing else."""
    collection = open_collection(tmp_path / "collection.sqlite")
    begin_collection(collection)
    yield collection
    close(collection)


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's database, loaded and fitted once; tests get copies."""
    path = tmp_path_factory.mktemp("demo") / "collection.sqlite"
    collection = open_collection(path)
    load_demo(collection)
    begin_collection(collection)
    collection.fit_once()
    close(collection)
    return path


@pytest.fixture
def demo(demo_file: Path, tmp_path: Path) -> Iterator[Collection]:
    """A copy of the demo that a test may change."""
    path = tmp_path / "demo.sqlite"
    shutil.copy(demo_file, path)
    collection = open_collection(path)
    yield collection
    close(collection)


@pytest.fixture
def client(demo: Collection) -> Iterator[FlaskClient]:
    """The application on the demo, in process."""
    app = create_app(demo, demo=True)
    yield app.test_client()
    close_devices(app)
