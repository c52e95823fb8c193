"""The whole collection as JSON: what goes out comes back equal, in every layout, and what is wrong is named."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import jsonschema_rs
import pytest
from tests.storage.kills import lowered
from tools.write_collection_schema import TARGET, written

from tidy_tinder.storage.archive import check_archive, write_json
from tidy_tinder.storage.errors import BadBackupError, TooLargeError
from tidy_tinder.storage.json_collection import WORKED_OUT
from tidy_tinder.storage.layout import NEWEST_LAYOUT, migrate

Told = dict[str, Any]


def content(path: Path) -> dict[str, list[tuple[object, ...]]]:
    """Every row of every table, and the numbers that were given out."""
    with closing(sqlite3.connect(path)) as connection:
        names = [str(n) for (n,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {n: sorted(connection.execute(f"SELECT * FROM {n}").fetchall(), key=repr) for n in names}


def without_fits(told: dict[str, list[tuple[object, ...]]]) -> dict[str, list[tuple[object, ...]]]:
    """What can be worked out again, and its numbers, are not in the file."""
    kept = {name: rows for name, rows in told.items() if name not in WORKED_OUT}
    return kept | {"sqlite_sequence": [row for row in told["sqlite_sequence"] if row[0] not in WORKED_OUT]}


@pytest.fixture(scope="module")
def told(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> bytes:
    target = tmp_path_factory.mktemp("json") / "collection.json"
    write_json(demo_file, target)
    return target.read_bytes()


def test_the_drawn_demo_with_its_photos_comes_back_equal(drawn_file: Path, tmp_path: Path) -> None:
    file, out = tmp_path / "collection.json", tmp_path / "out"
    write_json(drawn_file, file)
    out.mkdir()
    archive = check_archive(file, out)
    assert (archive.layout, archive.pictures) == (NEWEST_LAYOUT, 0)
    assert without_fits(content(out / "collection.sqlite")) == without_fits(content(drawn_file))


def test_numbers_that_were_given_out_are_not_given_out_again(demo_file: Path, tmp_path: Path) -> None:
    copy, file = tmp_path / "copy.sqlite", tmp_path / "collection.json"
    copy.write_bytes(demo_file.read_bytes())
    with closing(sqlite3.connect(copy)) as connection:
        connection.execute("UPDATE sqlite_sequence SET seq = 98765 WHERE name = 'pencil'")
        connection.commit()
    write_json(copy, file)
    (tmp_path / "out").mkdir()
    check_archive(file, tmp_path / "out")
    assert ("pencil", 98765) in content(tmp_path / "out" / "collection.sqlite")["sqlite_sequence"]


@pytest.mark.parametrize("layout", ["0001", "0006", "0010", "0014"])
def test_a_file_of_an_older_layout_is_restored_as_that_database_is_upgraded(
    demo_file: Path, tmp_path: Path, layout: str
) -> None:
    old, file, out = tmp_path / "old.sqlite", tmp_path / "old.json", tmp_path / "out"
    lowered(demo_file, old, layout)
    write_json(old, file)
    assert json.loads(file.read_bytes())["layout"] == layout
    out.mkdir()
    assert check_archive(file, out).layout == layout
    migrate(old)
    assert without_fits(content(out / "collection.sqlite")) == without_fits(content(old))


def test_the_file_is_as_its_schema_says_and_the_schema_notices_what_is_not(told: bytes) -> None:
    """Against jsonschema-rs, a validator of JSON Schema draft 2020-12 of its own."""
    schema = json.loads(TARGET.read_text(encoding="utf-8"))
    valid = jsonschema_rs.validator_for(schema)
    read = json.loads(told)
    assert valid.is_valid(read)
    assert len(read["tables"]["colour"]) == 400
    tables = read["tables"]
    paper, *papers = tables["paper"]
    nameless = {name: value for name, value in paper.items() if name != "name"}
    for spoilt in (
        {**read, "tables": {**tables, "paper": [nameless, *papers]}},
        {**read, "tables": {**tables, "paper": [{**paper, "name": 3}, *papers]}},
        {**read, "tables": {**tables, "more": []}},
        {**read, "layout": "0001"},
    ):
        assert not valid.is_valid(spoilt)


def test_the_schema_in_the_documents_is_what_the_program_writes() -> None:
    assert TARGET.read_text(encoding="utf-8") == written(), "Run: python -m tools.write_collection_schema"


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda t: t.update(format="something"), "tidy-tinder collection"),
        (lambda t: t.update(version=2), "version 2"),
        (lambda t: t.update(layout="0099"), "'0099'"),
        (lambda t: t.update(layout=["0001"]), "layout"),
        (lambda t: t.pop("tables"), "tables are missing"),
        (lambda t: t["tables"].update(secret=[]), "'secret'"),
        (lambda t: t["tables"].update(paper={}), "rows of paper are no list"),
        (lambda t: t["tables"].update(paper=[]), "paper"),
        (lambda t: t["tables"]["paper"].append(7), "row 7 of paper"),
        (lambda t: t["tables"]["paper"][2].pop("tooth"), "row 3 of paper has other columns than that table: tooth"),
        (
            lambda t: t["tables"]["paper"][0].update(name=["a"]),
            "row 1 of paper holds neither a number nor words in name",
        ),
        (lambda t: t["tables"]["paper"][0].update(name=True), "in name"),
        (lambda t: t["tables"]["paper"][0].update(tooth="velvet"), "paper"),
        (lambda t: t["tables"]["paper"][0].update(lab_L=1e9), "paper"),
        (lambda t: t["tables"]["paper"][0].update(id=2), "paper"),
        (lambda t: t["tables"]["swatch"][0].update(colour_id=99_999), "refers to"),
        (lambda t: t["numbers"].update(pencil=-1), "pencil"),
        (lambda t: t.pop("numbers"), "numbers are missing"),
        (lambda t: t.update(made_at="yesterday"), "when it was made"),
        (lambda t: t.pop("made_at"), "when it was made"),
    ],
)
def test_what_is_wrong_is_said_and_nothing_is_restored(
    told: bytes, tmp_path: Path, spoil: Callable[[Told], object], said: str
) -> None:
    spoilt = json.loads(told)
    spoil(spoilt)
    file = tmp_path / "spoilt.json"
    file.write_text(json.dumps(spoilt), encoding="utf-8")
    (tmp_path / "out").mkdir()
    with pytest.raises(BadBackupError) as refused:
        check_archive(file, tmp_path / "out")
    assert said in refused.value.detail
    assert refused.value.detail.endswith("Nothing was changed.")


@pytest.mark.parametrize("cut", [b"{", b'{"format": ', b"{" * 5000, b'{"a": NaN}', b'{"a": "\xff"}', b"{}"])
def test_json_that_is_broken_off_is_refused(tmp_path: Path, cut: bytes) -> None:
    file = tmp_path / "cut.json"
    file.write_bytes(cut)
    (tmp_path / "out").mkdir()
    with pytest.raises(BadBackupError, match="Nothing was changed"):
        check_archive(file, tmp_path / "out")


@pytest.mark.parametrize("many", [b"[],", b"{},", b"0,"])
def test_a_file_of_nothing_but_brackets_is_refused_before_it_is_read(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, many: bytes
) -> None:
    """Read, it would take gigabytes."""
    monkeypatch.setattr("tidy_tinder.storage.json_collection.orjson", None)
    file = tmp_path / "bomb.json"
    file.write_bytes(b'{"tables": [' + many * 31_000_000 + b"0]}")
    (tmp_path / "out").mkdir()
    with pytest.raises(BadBackupError, match="more rows than any collection"):
        check_archive(file, tmp_path / "out")


def test_photos_that_are_no_base64_are_refused(drawn_file: Path, tmp_path: Path) -> None:
    file = tmp_path / "collection.json"
    write_json(drawn_file, file)
    read = json.loads(file.read_bytes())
    files = read["tables"]["reference_picture"]
    files[0]["content"] = "no base64!"
    file.write_text(json.dumps(read), encoding="utf-8")
    (tmp_path / "out").mkdir()
    with pytest.raises(BadBackupError, match="row 1 of reference_picture holds no file, as base64, in content"):
        check_archive(file, tmp_path / "out")


def test_a_collection_that_is_too_large_is_told_to_take_the_backup(
    demo_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tidy_tinder.storage.json_collection._MOST_BYTES", 1_000_000)
    with pytest.raises(TooLargeError, match="Take the backup file"):
        write_json(demo_file, tmp_path / "collection.json")
    assert not (tmp_path / "collection.json").exists()
