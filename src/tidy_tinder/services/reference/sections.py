"""A drawing parted into sections: by equal fields or by a picture's shapes; each with its name, turn and state."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.reference.adjusting import adjusted
from tidy_tinder.core.reference.sections import (
    LEAST_CM2,
    MOST_CM2,
    Pieces,
    grid_pieces,
    picture_sections,
    pieces_from,
    section_grid,
)
from tidy_tinder.core.reference.working import picture_lab
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.reference.pictures import working_picture
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.storage.models import Drawing, Section, SectionKind, SectionMap, SectionState

# Shapes are looked for on a picture of this many pixels a side; the sections themselves are coarser.
_SHAPES_SIDE = 512
_LONGEST_NAME = 60


@dataclass(frozen=True)
class SectionView:
    """One section; x, y: its middle, from 0 to 1; cm2: its area on the paper."""

    id: int
    revision: int
    label: int
    name: str
    state: SectionState
    cm2: float
    x: float
    y: float


@dataclass(frozen=True)
class SectionsView:
    """How a drawing is parted, in the order of work; words: what is to be known of it before anything else."""

    kind: SectionKind | None
    reference_id: int | None
    version: int
    words: str
    sections: tuple[SectionView, ...]


def sections_of(collection: Collection, drawing_id: int) -> SectionsView:
    """The sections of a drawing; none while it is not parted. Raises NotFoundError."""
    with collection() as session:
        drawing, parted = find_drawing(session, drawing_id), map_of(session, drawing_id)
        if parted is None:
            return SectionsView(None, None, 0, "", ())
        pieces = pieces_of(parted)
        rows = session.scalars(select(Section).where(Section.map_id == parted.id).order_by(Section.position)).all()
        sections = tuple(
            SectionView(
                row.id, row.revision, row.label, row.name, row.state, float(pieces.cm2[row.label]),
                float(pieces.centres[row.label, 0]), float(pieces.centres[row.label, 1]),
            )
            for row in rows
        )  # fmt: skip
        version = parted.id
        return SectionsView(parted.kind, parted.reference_id, version, _words(drawing, parted, pieces), sections)


def areas_of_sections(session: Session, section_ids: AbstractSet[int]) -> dict[int, float]:
    """The areas of some sections on their papers, cm²; of those that are gone none."""
    areas: dict[int, float] = {}
    rows = session.execute(select(Section, SectionMap).join(SectionMap).where(Section.id.in_(section_ids))).all()
    pieces = {parted.id: pieces_of(parted) for _, parted in rows}
    for section, parted in rows:
        areas[section.id] = float(pieces[parted.id].cm2[section.label])
    return areas


def part(collection: Collection, drawing_id: int, kind: SectionKind, reference_id: int | None) -> Changed:
    """Part a drawing; the sections that it had go. reference_id: the picture by whose shapes.

    Raises NotFoundError, RefusedError without a picture of this drawing that is open.
    """
    pieces = _parted(collection, drawing_id, kind, reference_id)
    with writing(collection, "Parted into sections") as session:
        drawing = find_drawing(session, drawing_id)
        _unpart(session, drawing_id)
        parted = SectionMap(
            drawing_id=drawing_id, reference_id=reference_id if kind is SectionKind.SHAPES else None, kind=kind,
            places=packed_places(pieces.section), width_mm=drawing.width_mm, height_mm=drawing.height_mm,
        )  # fmt: skip
        session.add(parted)
        session.flush()
        count = len(pieces.cm2)
        session.add_all(Section(map_id=parted.id, label=i, position=i, name=str(i + 1)) for i in range(count))
        relabel(session, f"“{drawing.name}” parted into {count} sections")
        return changed(session)


def unpart(collection: Collection, drawing_id: int) -> Changed | None:
    """Let a drawing have no sections; undo brings them back. Raises NotFoundError."""
    with writing(collection, "Sections removed") as session:
        drawing = find_drawing(session, drawing_id)
        relabel(session, f"The sections of “{drawing.name}” removed")
        _unpart(session, drawing_id)
        made = changed(session)
        return made if made.rows else None


def describe_section(
    collection: Collection, section_id: int, revision: int, name: str, state: SectionState
) -> Changed | None:
    """Call a section, and say how far it is. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    words = " ".join(name.split())
    if not words or len(words) > _LONGEST_NAME:
        raise RefusedError(f"A section has a name of 1 to {_LONGEST_NAME} letters, not {len(words)}.")
    with writing(collection, "Section") as session:
        section = _find_section(session, section_id)
        relabel(session, f"Section {words}: {state}" if section.state != state else f"Section {section.name} named")
        revise(section, revision, {"name": words, "state": state}, f"The section {section.name}")
        made = changed(session)
        return made if made.rows else None


def put_in_order(collection: Collection, drawing_id: int, section_ids: Sequence[int]) -> Changed | None:
    """Work the sections of a drawing in this order. Raises NotFoundError, RefusedError unless it names each once."""
    with writing(collection, "Sections in another order") as session:
        drawing, parted = find_drawing(session, drawing_id), map_of(session, drawing_id)
        rows = [] if parted is None else session.scalars(select(Section).where(Section.map_id == parted.id)).all()
        by_id = {row.id: row for row in rows}
        if sorted(section_ids) != sorted(by_id):
            raise RefusedError("The order must name each section of the drawing once. Reload the page.")
        for position, section_id in enumerate(section_ids):
            by_id[section_id].position = position
        relabel(session, f"The sections of “{drawing.name}” in another order")
        made = changed(session)
        return made if made.rows else None


def map_of(session: Session, drawing_id: int) -> SectionMap | None:
    """How a drawing is parted."""
    return session.scalar(select(SectionMap).where(SectionMap.drawing_id == drawing_id))


def pieces_of(parted: SectionMap) -> Pieces:
    """The sections as they were kept."""
    import cv2  # noqa: PLC0415 -- loaded when sections are seen

    coded = cv2.imdecode(np.frombuffer(base64.b64decode(parted.places), dtype=np.uint8), cv2.IMREAD_GRAYSCALE)
    assert coded is not None, "the map is a PNG of ours"
    return pieces_from(np.asarray(coded, dtype=np.uint8), parted.width_mm, parted.height_mm)


def packed_places(section: NDArray[np.uint8]) -> str:
    """The map (h, w) of which section each place belongs to, as it is kept: PNG in base64."""
    import cv2  # noqa: PLC0415 -- loaded when sections are made

    _, coded = cv2.imencode(".png", section)
    return base64.b64encode(coded.tobytes()).decode()


def _parted(collection: Collection, drawing_id: int, kind: SectionKind, reference_id: int | None) -> Pieces:
    """Worked out before anything is written: it takes its time, and others write meanwhile."""
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        if kind is SectionKind.GRID:
            return grid_pieces(section_grid(drawing.width_mm, drawing.height_mm))
        if reference_id is None:
            raise RefusedError("Choose the picture by whose shapes the drawing is to be parted.")
        reference = find_reference(session, reference_id)
        if reference.drawing_id != drawing_id:
            raise RefusedError("This picture belongs to another drawing.")
        light = adjusted(working_picture(session, reference_id).light(_SHAPES_SIDE), steps_of(reference))
        return picture_sections(picture_lab(light), drawing.width_mm, drawing.height_mm)


def _words(drawing: Drawing, parted: SectionMap, pieces: Pieces) -> str:
    if (drawing.width_mm, drawing.height_mm) != (parted.width_mm, parted.height_mm):
        return (
            f"The drawing was {parted.width_mm:g} × {parted.height_mm:g} mm when it was parted and is "
            f"{drawing.width_mm:g} × {drawing.height_mm:g} mm now. Part it anew."
        )
    low, high = float(pieces.cm2.min()), float(pieces.cm2.max())
    if low >= LEAST_CM2 and high <= MOST_CM2:
        return ""
    span = f"{low:.0f} cm²" if round(low) == round(high) else f"{low:.0f} to {high:.0f} cm²"
    return f"Sections of {span}: {LEAST_CM2:.0f} to {MOST_CM2:.0f} is usual, and this size allows no such parting."


def _unpart(session: Session, drawing_id: int) -> None:
    """Children first, each by the ORM: what the database removed by itself would not be in the journal."""
    parted = map_of(session, drawing_id)
    if parted is None:
        return
    for row in session.scalars(select(Section).where(Section.map_id == parted.id)).all():
        session.delete(row)
    session.flush()
    session.delete(parted)
    session.flush()


def _find_section(session: Session, section_id: int) -> Section:
    section = session.get(Section, section_id)
    if section is None:
        raise NotFoundError(f"There is no section number {section_id}. The drawing may have been parted anew.")
    return section
