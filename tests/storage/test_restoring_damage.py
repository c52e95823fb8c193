"""What is no whole collection is refused in words before anything is exchanged, however it is damaged."""

from __future__ import annotations

import contextlib
import hashlib
import json
import sqlite3
import zipfile
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.exchange.backup import CollectionFiles, restore
from tidy_tinder.storage.archive import check_archive, write_archive
from tidy_tinder.storage.errors import BadBackupError

Damage = Callable[[sqlite3.Connection], object]

DAMAGES: dict[str, tuple[Damage, str]] = {
    "a table is missing": (lambda c: c.execute("DROP TABLE scrap_reading"), "the table scrap_reading is missing"),
    "a table too many": (lambda c: c.execute("CREATE TABLE letters (text TEXT)"), "a table letters"),
    "a column is missing": (
        lambda c: c.execute("ALTER TABLE paper DROP COLUMN notes"), "the table paper differs.* in notes",
    ),
    "a column too many": (lambda c: c.execute("ALTER TABLE paper ADD COLUMN scent TEXT"), "differs.* in scent"),
    "a trigger": (
        lambda c: c.execute("CREATE TRIGGER sly AFTER INSERT ON swatch BEGIN DELETE FROM pencil; END"),
        r"a trigger \(sly\)",
    ),
    "a view": (lambda c: c.execute("CREATE VIEW mine AS SELECT * FROM paper"), r"a view \(mine\)"),
    "no paper": (
        lambda c: [c.execute(f"DELETE FROM {t}") for t in ("choice", "swatch", "swatch_session", "paper")],
        "no paper",
    ),
    "a reference to nothing": (
        lambda c: c.execute("UPDATE swatch SET colour_id = 99999 WHERE id = 1"),
        "row 1 of swatch refers to a row of colour",
    ),
    "a word that is none": (
        lambda c: [c.execute("PRAGMA ignore_check_constraints=1"), c.execute("UPDATE swatch SET pressure = 'brutal'")],
        "CHECK constraint failed",
    ),
    "a spectrum that is none": (
        lambda c: c.execute("UPDATE swatch SET spectrum = '[0.1, 0.2' WHERE id = 3"), "a row of swatch cannot be read",
    ),
    "a date that is none": (
        lambda c: c.execute("UPDATE swatch SET made_on = 'yesterday' WHERE id = 3"), "a row of swatch cannot be read",
    ),
    "a newer layout": (lambda c: c.execute("UPDATE alembic_version SET version_num = '9999'"), "newer Tidy Tinder"),
    "an older layout by word only": (
        lambda c: c.execute("UPDATE alembic_version SET version_num = '0001'"), "not those of a collection",
    ),
    "no layout": (lambda c: c.execute("DELETE FROM alembic_version"), "not a Tidy Tinder collection"),
    "a version table of something else": (
        lambda c: [c.execute("DROP TABLE alembic_version"), c.execute("CREATE TABLE alembic_version (x)")],
        "not those of a collection",
    ),
}  # fmt: skip


def packed(database: Path, target: Path) -> Path:
    """A backup of any database, whole as an archive."""
    content = database.read_bytes()
    digest = hashlib.sha256(content).hexdigest()
    manifest = {"program": "tidy-tinder", "format": 1, "layout": "0018", "files": {"collection.sqlite": digest}}
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("manifest.json", json.dumps(manifest))
        archive.writestr("collection.sqlite", content)
    return target


@pytest.mark.parametrize("kind", DAMAGES)
def test_each_damage_is_a_refusal_in_words_and_changes_nothing(demo: Collection, tmp_path: Path, kind: str) -> None:
    damage, says = DAMAGES[kind]
    damaged = tmp_path / "damaged.sqlite"
    with closing(sqlite3.connect(demo.database)) as source, closing(sqlite3.connect(damaged)) as copy:
        source.backup(copy)
        damage(copy)
        copy.commit()
    before = demo.database.read_bytes()
    with pytest.raises(TidyTinderError, match=says) as told:
        restore(CollectionFiles(demo.database), packed(damaged, tmp_path / "damaged.zip"), demo)
    assert "othing was changed" in told.value.detail
    assert demo.database.read_bytes() == before
    assert not (tmp_path / "backups").exists()


def test_a_database_with_nothing_but_a_version_row_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "bare.sqlite"
    for layout in ("0001", "0018"):
        path.unlink(missing_ok=True)
        with closing(sqlite3.connect(path)) as connection:
            connection.execute("CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL)")
            connection.execute("INSERT INTO alembic_version VALUES (?)", (layout,))
            connection.commit()
        with pytest.raises(BadBackupError, match=r"not those of a collection|differs from a collection"):
            check_archive(packed(path, tmp_path / "bare.zip"), tmp_path / layout)


@pytest.fixture(scope="module")
def whole(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with a backup of the demo, and the database in it."""
    folder = tmp_path_factory.mktemp("whole")
    write_archive(demo_file, folder / "none", folder / "whole.zip")
    with zipfile.ZipFile(folder / "whole.zip") as archive:
        archive.extract("collection.sqlite", folder)
    return folder


@given(seed=st.integers(0, 2**32 - 1), in_database=st.booleans())
@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_bytes_changed_in_a_backup_are_refused_or_do_not_matter(
    whole: Path, tmp_path: Path, seed: int, in_database: bool
) -> None:
    """In the archive as it is sent, and in a database whose archive is whole again: never anything but words."""
    rng = np.random.default_rng(seed)
    content = bytearray((whole / ("collection.sqlite" if in_database else "whole.zip")).read_bytes())
    for at in rng.integers(0, len(content), int(rng.integers(1, 40))):
        content[at] = int(rng.integers(0, 256))
    file = tmp_path / ("any.sqlite" if in_database else "any.zip")
    file.write_bytes(content)
    with contextlib.suppress(TidyTinderError):
        check_archive(packed(file, tmp_path / "any.zip") if in_database else file, tmp_path / "out")
