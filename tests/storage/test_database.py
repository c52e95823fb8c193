"""The database: migrated from empty and on data, real transactions, and files that are refused in words."""

from __future__ import annotations

import sqlite3
import threading
from contextlib import closing
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import create_engine, insert, inspect, select, text
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session
from tests.conftest import close

from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.journal import writing
from tidy_tinder.storage.engine import open_database
from tidy_tinder.storage.errors import DatabaseTooNewError, NotADatabaseError
from tidy_tinder.storage.layout import NEWEST_LAYOUT, layout_of, migrate, migration_config
from tidy_tinder.storage.models import Base, Colour, ColourRange, Paper, Pencil, Swatch


def test_a_new_file_gets_the_newest_layout(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "collection.sqlite"
    collection = open_collection(path)
    assert layout_of(path) == NEWEST_LAYOUT
    with collection() as session:
        assert session.scalar(text("PRAGMA journal_mode")) == "wal"
        assert session.scalar(text("PRAGMA foreign_keys")) == 1
    close(collection)


def test_the_newest_layout_is_the_head_of_the_migrations(tmp_path: Path) -> None:
    scripts = ScriptDirectory.from_config(migration_config(tmp_path / "x.sqlite"))
    assert scripts.get_current_head() == NEWEST_LAYOUT


def test_migrations_lead_to_the_tables_of_the_program(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    migrate(path)
    with create_engine(f"sqlite:///{path}").connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_every_constraint_has_a_name(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    migrate(path)
    tables = inspect(create_engine(f"sqlite:///{path}"))
    for table in Base.metadata.tables:
        kinds = (tables.get_unique_constraints, tables.get_check_constraints, tables.get_foreign_keys)
        for found in (constraint for kind in kinds for constraint in kind(table)):
            assert found["name"], f"{table}: {found}"


def test_migrating_with_data_keeps_the_data(demo_file: Path, tmp_path: Path) -> None:
    """Each migration is run down and up again on the whole demo, as far down as the first."""
    path = tmp_path / "collection.sqlite"
    path.write_bytes(demo_file.read_bytes())
    with sqlite3.connect(path) as connection:
        before = connection.execute("SELECT count(*) FROM swatch").fetchone()
    connection.close()
    config = migration_config(path)
    revisions = [s.revision for s in ScriptDirectory.from_config(config).walk_revisions()]
    for _ in revisions[:-1]:
        _step(path, "-1")
    migrate(path)
    assert layout_of(path) == NEWEST_LAYOUT
    with sqlite3.connect(path) as connection:
        assert connection.execute("SELECT count(*) FROM swatch").fetchone() == before
        assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
    connection.close()


def test_what_was_at_hand_becomes_the_first_drawing(demo_file: Path, tmp_path: Path) -> None:
    """A collection of layout 0008 with a paper chosen, a tray and recipes."""
    path = tmp_path / "collection.sqlite"
    path.write_bytes(demo_file.read_bytes())
    _step(path, "0008")
    with closing(sqlite3.connect(path)) as connection, connection:
        connection.execute("INSERT INTO tray_pencil (revision, colour_id) VALUES (1, 7), (1, 3)")
        connection.execute("UPDATE setting SET value = '4' WHERE name = 'paper'")
        connection.execute("INSERT INTO setting (revision, name, value) VALUES (1, 'closest', 'hue')")
        recipes = connection.execute("SELECT count(*) FROM recipe").fetchone()
    migrate(path)
    with closing(sqlite3.connect(path)) as connection:
        drawings = connection.execute("SELECT id, name, paper_id, closest, state FROM drawing").fetchall()
        assert drawings == [(1, "First drawing", 4, "hue", "at work")]
        assert connection.execute("SELECT value FROM setting WHERE name = 'drawing'").fetchone() == ("1",)
        tray = connection.execute("SELECT colour_id, drawing_id FROM tray_pencil ORDER BY id").fetchall()
        assert tray == [(7, 1), (3, 1)]
        kept = connection.execute("SELECT count(*) FROM recipe WHERE drawing_id = 1").fetchone()
        assert kept == recipes


def test_where_nothing_was_at_hand_no_drawing_is_made(empty_file: Path, tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    path.write_bytes(empty_file.read_bytes())
    _step(path, "0008")
    migrate(path)
    with closing(sqlite3.connect(path)) as connection:
        assert connection.execute("SELECT count(*) FROM drawing").fetchone() == (0,)


def test_the_first_migration_can_be_taken_back(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    migrate(path)
    _step(path, "base")
    with sqlite3.connect(path) as connection:
        left = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    connection.close()
    assert left <= {"alembic_version", "sqlite_sequence"}


def _step(path: Path, target: str) -> None:
    config = migration_config(path)
    with create_engine(f"sqlite:///{path}").connect() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, target)
        connection.commit()


def test_a_database_of_a_newer_program_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    close(open_collection(path))
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    connection.close()
    before = path.read_bytes()
    with pytest.raises(DatabaseTooNewError, match="newer Tidy Tinder"):
        open_database(path)
    assert path.read_bytes() == before


def test_something_else_is_refused_in_words(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    path.write_bytes(b"this is a letter, not a database, and it is longer than a header" * 20)
    with pytest.raises(NotADatabaseError, match="something else"):
        open_database(path)


def _colour(**changed: object) -> dict[str, object]:
    return {
        "range_id": 1, "code": "1", "name": "One", "position": 0, "revision": 1, "chart_source": "", "opacity": "",
        "lightfastness": "", "effect": "ordinary", **changed,
    }  # fmt: skip


@pytest.mark.parametrize(
    ("rows", "constraint"),
    [
        ([_colour(), _colour(name="Again")], "UNIQUE constraint failed: colour.range_id, colour.code"),
        ([_colour(lab_L=150.0, lab_a=0.0, lab_b=0.0)], "ck_colour_lab_bounds"),
        ([_colour(lab_L=50.0)], "ck_colour_lab_bounds"),
        ([_colour(effect="glow")], "ck_colour_effect_known"),
        ([_colour(range_id=99)], "FOREIGN KEY"),
    ],
)
def test_the_database_itself_refuses_nonsense(
    empty: Collection, rows: list[dict[str, object]], constraint: str
) -> None:
    with writing(empty, "range") as session:
        session.add(ColourRange(id=1, maker="M", name="L", position=1))
    with pytest.raises(IntegrityError, match=constraint), writing(empty, "nonsense") as session:
        for row in rows:
            session.execute(insert(Colour).values(**row))
        session.add(Pencil(colour_id=1))
        session.flush()


def test_what_is_written_is_on_the_disk_before_it_is_answered(empty: Collection) -> None:
    def waits(session: Session) -> int:
        return int(session.execute(text("PRAGMA synchronous")).scalar_one())

    for _ in range(2):  # connections are used again
        with writing(empty, "Anything") as session:
            assert waits(session) == 2, "FULL (SQLite's documentation of the pragma)"
        with empty() as session:
            assert waits(session) == 1, "NORMAL: nothing is written"


def test_a_failed_writer_leaves_nothing_behind(empty: Collection) -> None:
    with pytest.raises(RuntimeError), writing(empty, "half") as session:
        session.add(ColourRange(maker="M", name="L", position=1))
        session.flush()
        raise RuntimeError
    with empty() as session:
        assert session.scalars(select(ColourRange)).all() == []


def test_four_writers_at_once_all_get_their_turn(empty: Collection) -> None:
    failures: list[BaseException] = []

    def write(number: int) -> None:
        try:
            for i in range(10):
                with writing(empty, f"writer {number}") as session:
                    session.add(ColourRange(maker=f"M{number}", name=f"L{i}", position=i))
        except BaseException as error:
            failures.append(error)

    threads = [threading.Thread(target=write, args=(n,)) for n in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failures == []
    with empty() as session:
        assert len(session.scalars(select(ColourRange)).all()) == 40


def test_the_demo_holds_what_its_scenario_says(demo: Collection) -> None:
    with demo() as session:
        assert len(session.scalars(select(Colour)).all()) == 400
        owned = session.scalars(select(Pencil)).all()
        assert len({p.colour_id for p in owned}) == 165
        assert sum(p.state == "lost" for p in owned) == 2
        assert sum(p.length_mm is not None and p.length_mm < 50 for p in owned) == 7
        assert sum(not p.stamp_readable for p in owned) == 1
        papers = {p.name: p.id for p in session.scalars(select(Paper))}
        swatched = {
            name: {s.colour_id for s in session.scalars(select(Swatch).where(Swatch.paper_id == paper_id))}
            for name, paper_id in papers.items()
        }
        mine = {p.colour_id for p in owned}
        assert len(swatched["Vellum board"] & mine) > 150
        assert 45 <= len(swatched["Buff sanded card"] & mine) <= 60
        assert len(swatched["Grey-toned sketch paper"]) == 12
        assert swatched["Cotton print paper"] == set()
