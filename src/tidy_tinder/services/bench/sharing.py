"""A drawing with its log as a file for others, and one of theirs taken in."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.formats.drawing_json import KIND, DrawingFile, drawing_as_json, drawing_from_json
from tidy_tinder.formats.log_csv import CsvLogLine, log_as_csv
from tidy_tinder.formats.own_json import first_fault
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.in_file import add_what_belongs, drawing_in_file
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.drawings.store import DrawingAs, begin_from_file, find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import Drawing, Paper


@dataclass(frozen=True)
class TakenIn:
    """A drawing that was taken in: its number and name, what came with it, and how many lines of its log name a colour
    that is on no chart here and stand in it as notes.
    """

    id: int
    name: str
    recipes: int
    lines: int
    unknown: int


def share_drawing(collection: Collection, drawing_id: int) -> tuple[str, str]:
    """The name of a drawing, and its file. Raises NotFoundError, RefusedError where it is more than a file holds."""
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        content = drawing_as_json(_in_file(session, drawing))
        if len(content.encode("utf-8")) > KIND.longest:
            raise RefusedError(f"The file of “{drawing.name}” would have more than {KIND.longest:,} bytes.")
        return drawing.name, content


def share_log(collection: Collection, drawing_id: int) -> tuple[str, str]:
    """The name of a drawing, and its log as CSV, the oldest line first. Raises NotFoundError, RefusedError."""
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        return drawing.name, log_as_csv(_csv_lines(_in_file(session, drawing)))


def take_in_drawing(collection: Collection, content: bytes, paper_id: int | None) -> tuple[TakenIn, Changed]:
    """Take a drawing in from its file, whole or not at all; one undo takes it back. paper_id: on which paper it is, for
    one whose paper is not here; None for the paper of the name in the file.

    Raises UnreadableError, which says where and what is wrong, RefusedError for a paper that is not here.
    """
    file = drawing_from_json(content)
    with writing(collection, "Drawing") as session:
        paper = _paper(session, file.paper) if paper_id is None else find_paper(session, paper_id)
        said = DrawingAs(
            file.name, paper.id, file.width_mm, file.height_mm, file.closest, file.for_sale, file.black, file.solvent,
            file.work_order, file.notes,
        )  # fmt: skip
        drawing = begin_from_file(session, said, file.begun_on)
        unknown = add_what_belongs(session, drawing, file)
        relabel(session, f"Drawing “{drawing.name}” taken in")
        return TakenIn(drawing.id, drawing.name, len(file.recipes), len(file.log), unknown), changed(session)


def _in_file(session: Session, drawing: Drawing) -> DrawingFile:
    try:
        return drawing_in_file(session, drawing)
    except ValidationError as error:
        raise RefusedError(f"“{drawing.name}” is more than a file holds: at {first_fault(error)}.") from error


def _paper(session: Session, name: str) -> Paper:
    paper = session.scalar(select(Paper).where(Paper.name == name))
    if paper is None:
        raise RefusedError(f"It is drawn on “{name}”, which is none of your papers. Say which of yours it is on.")
    return paper


def _csv_lines(drawing: DrawingFile) -> Iterator[CsvLogLine]:
    for line in drawing.log:
        colour, instead = line.colour, line.instead_of
        yield CsvLogLine(
            f"{line.at:%Y-%m-%dT%H:%M:%SZ}", line.kind, colour.maker if colour else "", colour.range if colour else "",
            colour.code if colour else "", colour.name if colour else "",
            f"{instead.range} {instead.code}" if instead else "",
            "" if line.recipe is None else drawing.recipes[line.recipe].title, line.area,
            "" if line.section is None or drawing.parted is None else drawing.parted.sections[line.section].name,
            line.pressure, str(line.layers) if line.layers else "", line.note,
        )  # fmt: skip
