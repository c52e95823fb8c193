"""Taking a catalogue in from a file: previewed first, then whole or not at all."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.formats.columns import NOTHING_SAID, Columns, Field, ReadAs
from tidy_tinder.formats.csv_catalogue import (
    CatalogueFile,
    CatalogueRow,
    ExportRow,
    Problem,
    catalogue_fields,
    read_catalogue,
    write_catalogue,
)
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import InvalidFileError
from tidy_tinder.services.exchange.columns import Table, all_columns, remember_columns
from tidy_tinder.services.journal import Changed, add_many, changed, relabel, writing
from tidy_tinder.services.tidy.pencils import NewPencil, store_pencils
from tidy_tinder.storage.models import Colour, ColourRange, Pencil
from tidy_tinder.storage.queries.colours import colour_rows, pencils_by_colour


@dataclass(frozen=True)
class CataloguePreview:
    """What taking a file in would do, or why it cannot be taken in."""

    problems: tuple[Problem, ...]
    ranges: tuple[str, ...]
    new_colours: int
    changed_colours: int
    same_colours: int
    new_pencils: int
    without_colour: int
    adapted_from_d50: int
    more_pencils_here: int
    ignored_columns: tuple[str, ...]
    read_as: tuple[ReadAs, ...]

    @property
    def fields(self) -> tuple[Field, ...]:
        """All that a column can be read as."""
        return catalogue_fields()

    @property
    def changes_nothing(self) -> bool:
        """True where all of it is here already."""
        return not (self.new_colours or self.changed_colours or self.new_pencils)


@dataclass
class _Work:
    """What a file asks to be done, worked out against the collection."""

    new_ranges: list[tuple[str, str]] = field(default_factory=list)
    new_colours: list[CatalogueRow] = field(default_factory=list)
    changed: list[tuple[Colour, dict[str, Any]]] = field(default_factory=list)
    same: int = 0
    pencils: list[tuple[CatalogueRow, int]] = field(default_factory=list)
    more_here: int = 0


def export_catalogue(collection: Collection) -> bytes:
    """All charts and what is owned of them, as a catalogue that import_catalogue takes in again."""
    with collection() as session:
        pencils = pencils_by_colour(session)
        return write_catalogue(
            [
                ExportRow(
                    row.maker, row.range_name, row.code, row.name, row.lab, row.opacity, row.lightfastness,
                    row.effect, sum(p.state != PencilState.USED_UP for p in pencils.get(row.id, ())),
                )
                for row in colour_rows(session)
            ]
        )  # fmt: skip


def preview_catalogue(collection: Collection, content: bytes, columns: Columns = NOTHING_SAID) -> CataloguePreview:
    """Say what taking `content` in would do; nothing is changed. columns: as the artist says now, by heading."""
    with collection() as session:
        file = read_catalogue(content, all_columns(session, Table.CATALOGUE, columns))
        return _preview(file, _plan(session, file))


def import_catalogue(
    collection: Collection, content: bytes, columns: Columns = NOTHING_SAID
) -> tuple[CataloguePreview, Changed | None]:
    """Take a catalogue in, whole: what was done, and the change (None where all was here already).

    Raises InvalidFileError where the file has problems; nothing is taken then.
    """
    with collection() as session:
        said = all_columns(session, Table.CATALOGUE, columns)
    file = read_catalogue(content, said)
    if file.problems:
        first = file.problems[0]
        where = f"line {first.line}" + (f", column {first.column}" if first.column else "")
        raise InvalidFileError(f"It has {len(file.problems)} problems, the first in {where}: {first.message}")
    with writing(collection, "Catalogue taken in") as session:
        work = _plan(session, file)
        _carry_out(session, work)
        remember_columns(session, Table.CATALOGUE, said)
        preview = _preview(file, work)
        relabel(session, f"Catalogue taken in: {', '.join(preview.ranges)}")
        made = changed(session)
        return preview, made if made.rows else None


def _preview(file: CatalogueFile, work: _Work) -> CataloguePreview:
    return CataloguePreview(
        problems=file.problems,
        ranges=tuple(dict.fromkeys(f"{row.maker} {row.range_name}".strip() for row in file.rows)),
        new_colours=len(work.new_colours),
        changed_colours=len(work.changed),
        same_colours=work.same,
        new_pencils=sum(count for _, count in work.pencils),
        without_colour=sum(row.lab is None for row in file.rows),
        adapted_from_d50=file.adapted_from_d50,
        more_pencils_here=work.more_here,
        ignored_columns=file.ignored_columns,
        read_as=file.read_as,
    )


def _plan(session: Session, file: CatalogueFile) -> _Work:
    """What the file asks for, against what is here."""
    work = _Work()
    ranges = {(r.maker, r.name): r.id for r in session.scalars(select(ColourRange))}
    colours = {(c.range_id, c.code): c for c in session.scalars(select(Colour))}
    counted = (
        select(Pencil.colour_id, func.count(Pencil.id))
        .where(Pencil.state != PencilState.USED_UP)
        .group_by(Pencil.colour_id)
    )
    owned: dict[int, int] = dict(session.execute(counted).all())
    for row in file.rows:
        key = (row.maker, row.range_name)
        if key not in ranges and key not in work.new_ranges:
            work.new_ranges.append(key)
        colour = colours.get((ranges[key], row.code)) if key in ranges else None
        if colour is None:
            work.new_colours.append(row)
        else:
            news = {k: v for k, v in _values(row).items() if getattr(colour, k) != v}
            # The same colour written in another way is no correction.
            if not {"lab_L", "lab_a", "lab_b"} & set(news):
                news.pop("chart_source", None)
            if news:
                work.changed.append((colour, news))
            work.same += not news
        here = owned.get(colour.id, 0) if colour is not None else 0
        if row.owned is not None and row.owned > here:
            work.pencils.append((row, row.owned - here))
        work.more_here += row.owned is not None and row.owned < here
    return work


# What a row that says nothing of it leaves open.
_UNSAID = {"opacity": "", "lightfastness": "", "lab_L": None, "lab_a": None, "lab_b": None, "chart_source": ""}


def _values(row: CatalogueRow) -> dict[str, Any]:
    """What the row says of its colour; a blank cell says nothing, so it changes nothing."""
    said: dict[str, Any] = {"name": row.name, "effect": row.effect}
    if row.opacity:
        said["opacity"] = row.opacity
    if row.lightfastness:
        said["lightfastness"] = row.lightfastness
    if row.lab is not None:
        L, a, b = (round(float(v), 4) for v in row.lab)
        said.update(lab_L=L, lab_a=a, lab_b=b, chart_source=row.lab_source)
    return said


def _carry_out(session: Session, work: _Work) -> None:
    """Write it all; the order of the file is the order of the chart."""
    position = session.scalar(select(func.max(ColourRange.position))) or 0
    for maker, name in work.new_ranges:
        position += 1
        session.add(ColourRange(maker=maker, name=name, position=position))
    for colour, news in work.changed:
        for name, value in news.items():
            setattr(colour, name, value)
    session.flush()
    ranges = {(r.maker, r.name): r.id for r in session.scalars(select(ColourRange))}
    last = select(Colour.range_id, func.max(Colour.position)).group_by(Colour.range_id)
    positions: dict[int, int] = dict(session.execute(last).all())
    rows = []
    for row in work.new_colours:
        range_id = ranges[(row.maker, row.range_name)]
        positions[range_id] = positions.get(range_id, -1) + 1
        place = {"range_id": range_id, "code": row.code, "position": positions[range_id]}
        rows.append(_UNSAID | place | _values(row))
    add_many(session, Colour, rows)
    colours = {
        (range_id, code): i for range_id, code, i in session.execute(select(Colour.range_id, Colour.code, Colour.id))
    }
    owned = ((colours[(ranges[(row.maker, row.range_name)], row.code)], count) for row, count in work.pencils)
    store_pencils(session, (NewPencil(colour_id) for colour_id, count in owned for _ in range(count)))
