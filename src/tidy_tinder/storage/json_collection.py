"""The whole database as JSON, which anybody can read without this program, and a database out of it again.

Version 1: `format`, `version`, `layout`, `made_at`, `tables` (of each table its rows, each an object of all its
columns as SQLite holds them, files as base64), `numbers` (the highest number that each table has given out). What can
be worked out again is left out. docs/formats.md tells of it; docs/collection.schema.json is its JSON Schema, written
from here.
"""

from __future__ import annotations

import base64
import binascii
import codecs
import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import orjson

from tidy_tinder.storage.errors import DiskFullError, NotACollectionError, TooLargeError
from tidy_tinder.storage.layout import known_layouts, layout_of, migrate
from tidy_tinder.storage.trouble import plainly, trouble_in

FORMAT = "tidy-tinder collection"
VERSION = 1
WORKED_OUT = frozenset({"pencil_fitted", "fitting_job"})
"""Tables of what can be worked out again from the rest, and is larger than it."""
_LAYOUT = "alembic_version"
_SEQUENCE = "sqlite_sequence"
# It is read and written whole, in memory: enough for dozens of large photos.
_MOST_BYTES = 400_000_000
# Four letters stand for three bytes, and what is no file takes more room in words than in the database.
_BASE64 = 1.5
# A file of nothing but brackets would take twenty times its size to read. Each row opens one, and has a comma a column.
_MOST_OPENED, _MOST_COMMAS = 5_000_000, 30_000_000
_FILE = "BLOB"
# What SQLite's own types are in JSON; all others are words.
_TYPES: Mapping[str, dict[str, Any]] = {
    "INTEGER": {"type": "integer"},
    "BOOLEAN": {"enum": [0, 1]},
    "DOUBLE": {"type": "number"},
    _FILE: {"type": "string", "contentEncoding": "base64"},
}

Value = str | int | float | bytes | None


@dataclass(frozen=True)
class _Column:
    name: str
    kind: str
    optional: bool


def database_as_json(database: Path) -> bytes:
    """All tables of a database that nobody writes to. Raises TooLargeError."""
    if database.stat().st_size > _MOST_BYTES / _BASE64:
        raise TooLargeError(
            f"With its pictures this collection would be more than {_MOST_BYTES // 1_000_000} MB of JSON. Take the "
            "backup file instead: it holds the same."
        )
    with closing(sqlite3.connect(database)) as connection:
        tables = {name: _rows(connection, name) for name in table_names(connection)}
        numbers = dict(connection.execute(f"SELECT name, seq FROM {_SEQUENCE}").fetchall())
    told = {
        "format": FORMAT, "version": VERSION, "layout": layout_of(database),
        "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
        "tables": tables, "numbers": {name: numbers[name] for name in sorted(numbers) if name in tables},
    }  # fmt: skip
    return orjson.dumps(told, option=orjson.OPT_INDENT_2) + b"\n"


def database_from_json(file: Path, database: Path) -> tuple[str, str]:
    """Make a database out of it, in the layout that it names; when it was written, and that layout.

    Nothing is taken on trust: whoever calls checks what was made as any other file that is restored. Raises
    NotACollectionError with what is wrong.
    """
    told = _told(file)
    layout = told.get("layout")
    if not isinstance(layout, str) or layout not in known_layouts(database):
        raise NotACollectionError(f"it is in a layout, {str(layout)[:40]!r}, that this version does not know")
    migrate(database, layout)
    with closing(sqlite3.connect(database)) as connection:
        connection.execute("PRAGMA foreign_keys=OFF")
        names = table_names(connection)
        tables = _object(told.get("tables"), "tables")
        if unknown := sorted(tables.keys() - names):
            raise NotACollectionError(f"it has a table {unknown[0][:60]!r}, which a collection does not have")
        for name in names:
            connection.execute(f"DELETE FROM {name}")
            _fill(connection, name, tables.get(name, []))
        _set_numbers(connection, _object(told.get("numbers"), "numbers"), names)
        connection.commit()
    return _moment(told.get("made_at")), layout


def collection_schema(database: Path) -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of a file in the layout of a database."""
    with closing(sqlite3.connect(database)) as connection:
        tables = {name: _table_schema(connection, name) for name in table_names(connection)}
    number = {"type": "integer", "minimum": 0}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A collection of Tidy Tinder",
        "type": "object",
        "required": ["format", "version", "layout", "made_at", "tables", "numbers"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "layout": {"const": layout_of(database)},
            "made_at": {"type": "string", "description": "UTC, ISO 8601"},
            "tables": _closed({name: {"type": "array", "items": items} for name, items in tables.items()}),
            "numbers": {"type": "object", "propertyNames": {"enum": list(tables)}, "additionalProperties": number},
        },
    }


def table_names(connection: sqlite3.Connection) -> list[str]:
    """The tables of a database that go into the file."""
    every = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    return sorted({str(name) for (name,) in every} - {_LAYOUT, *WORKED_OUT})


def _told(file: Path) -> Mapping[str, Any]:
    if file.stat().st_size > _MOST_BYTES:
        raise NotACollectionError("its JSON is larger than that of any collection")
    content = file.read_bytes().removeprefix(codecs.BOM_UTF8)
    if content.count(b"[") + content.count(b"{") > _MOST_OPENED or content.count(b",") > _MOST_COMMAS:
        raise NotACollectionError("it holds more rows than any collection")
    try:
        told = orjson.loads(content)
    except orjson.JSONDecodeError as error:
        raise NotACollectionError(
            f"its JSON cannot be read: line {error.lineno}, column {error.colno}: {error.msg}"
        ) from None
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        raise NotACollectionError(f"it is no {FORMAT}: such a file names that as its format")
    if told.get("version") != VERSION:
        raise NotACollectionError(
            f"its JSON is of version {str(told.get('version'))[:20]}; this program reads version {VERSION}"
        )
    return told


def _moment(said: Any) -> str:
    """When the file was written, as it says."""
    try:
        return datetime.fromisoformat(said).isoformat()
    except (TypeError, ValueError):
        raise NotACollectionError("it does not say when it was made") from None


def _object(value: Any, what: str) -> Mapping[str, Any]:
    if not isinstance(value, dict):
        raise NotACollectionError(f"its {what} are missing, or no object")
    return value


def _columns(connection: sqlite3.Connection, table: str) -> list[_Column]:
    found = connection.execute("SELECT name, type, [notnull], pk FROM pragma_table_info(?)", (table,))
    return [_Column(str(name), str(kind), not needed and not key) for name, kind, needed, key in found]


def _rows(connection: sqlite3.Connection, table: str) -> list[dict[str, Value]]:
    names = [column.name for column in _columns(connection, table)]
    # Names come from the database itself, which the migrations have made.
    every = connection.execute(f"SELECT {', '.join(names)} FROM {table} ORDER BY {names[0]}")
    return [dict(zip(names, map(_in_words, row), strict=True)) for row in every]


def _in_words(value: Value) -> Value:
    return base64.b64encode(value).decode() if isinstance(value, bytes) else value


def _fill(connection: sqlite3.Connection, table: str, rows: Any) -> None:
    columns = _columns(connection, table)
    if not isinstance(rows, list):
        raise NotACollectionError(f"its rows of {table} are no list")
    names = ", ".join(column.name for column in columns)
    try:
        connection.executemany(
            f"INSERT INTO {table} ({names}) VALUES ({', '.join('?' * len(columns))})",
            [_values(table, columns, at, row) for at, row in enumerate(rows, 1)],
        )
    except (sqlite3.Error, OverflowError) as error:
        if isinstance(trouble := trouble_in(error), DiskFullError):
            raise trouble from error
        raise NotACollectionError(f"its rows of {table} cannot be kept ({plainly(error)})") from None


def _values(table: str, columns: Sequence[_Column], at: int, row: Any) -> list[Value]:
    """The values of one row, in the order of the columns."""
    names = {column.name for column in columns}
    if not isinstance(row, dict) or row.keys() != names:
        differing = sorted(row.keys() ^ names)[0] if isinstance(row, dict) else "it is no object"
        raise NotACollectionError(f"row {at} of {table} has other columns than that table: {str(differing)[:60]}")
    return [_value(row[column.name], column, f"row {at} of {table}") for column in columns]


def _value(value: Any, column: _Column, where: str) -> Value:
    if not isinstance(value, str | int | float | None) or isinstance(value, bool):
        raise NotACollectionError(f"{where} holds neither a number nor words in {column.name}")
    if column.kind != _FILE or not isinstance(value, str):
        return value
    try:
        return base64.b64decode(value, validate=True)
    except binascii.Error:
        raise NotACollectionError(f"{where} holds no file, as base64, in {column.name}") from None


def _set_numbers(connection: sqlite3.Connection, numbers: Mapping[str, Any], names: Iterable[str]) -> None:
    """Numbers that were given out are not given out again: undo brings rows back under theirs."""
    counted = {str(name) for (name,) in connection.execute(f"SELECT name FROM {_SEQUENCE}")}
    for name in names:
        number = numbers.get(name, 0)
        if isinstance(number, bool) or not isinstance(number, int) or not 0 <= number < 1 << 62:
            raise NotACollectionError(f"the highest number of {name} is none")
        if name in counted:
            connection.execute(f"UPDATE {_SEQUENCE} SET seq = max(seq, ?) WHERE name = ?", (number, name))
        elif number:
            connection.execute(f"INSERT INTO {_SEQUENCE} (name, seq) VALUES (?, ?)", (name, number))


def _table_schema(connection: sqlite3.Connection, table: str) -> dict[str, Any]:
    return _closed({column.name: _column_schema(column) for column in _columns(connection, table)})


def _column_schema(column: _Column) -> dict[str, Any]:
    known: dict[str, Any] = _TYPES.get(column.kind, {"type": "string"})
    return {"anyOf": [known, {"type": "null"}]} if column.optional else known


def _closed(properties: Mapping[str, Any]) -> dict[str, Any]:
    """An object of just these."""
    return {
        "type": "object", "required": list(properties), "additionalProperties": False, "properties": dict(properties),
    }  # fmt: skip
