"""The sections of a drawing between the database and the drawing's file."""

from __future__ import annotations

import base64
import binascii
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.formats.drawing_json import SectionInFile, SectionsInFile
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.picture.decoding import decode_picture
from tidy_tinder.formats.picture.kinds import Accepted, PictureKind
from tidy_tinder.services.reference.sections import map_of, packed_places
from tidy_tinder.storage.models import Section, SectionKind, SectionMap, SectionState

_PNG_START = b"\x89PNG\r\n\x1a\n"
_MAP = Accepted(frozenset({PictureKind.PNG}), 1, "A map is a PNG.")
# Of a map; sections are coarser than any picture.
_MOST_PIXELS = 1_000_000

Word = TypeVar("Word", SectionKind, SectionState)


def sections_in_file(session: Session, drawing_id: int) -> tuple[SectionsInFile | None, dict[int, int]]:
    """How a drawing is parted, as its file has it, and the place of each section in it; None where it is not."""
    parted = map_of(session, drawing_id)
    if parted is None:
        return None, {}
    rows = session.scalars(select(Section).where(Section.map_id == parted.id).order_by(Section.position)).all()
    sections = tuple(SectionInFile(label=row.label, name=row.name, state=row.state) for row in rows)
    written = SectionsInFile(
        kind=parted.kind, places=parted.places, width_mm=parted.width_mm, height_mm=parted.height_mm, sections=sections
    )  # fmt: skip
    return written, {row.id: place for place, row in enumerate(rows)}


def add_sections(session: Session, drawing_id: int, parted: SectionsInFile) -> list[int]:
    """Part a new drawing as its file has it; the numbers of its sections, in order. Raises UnreadableError."""
    labels = _map_in(parted.places)
    named = sorted(section.label for section in parted.sections)
    if named != list(range(len(named))) or not np.array_equal(np.unique(labels), named):
        raise UnreadableError("At parted › places: the map and the list of sections do not name the same sections.")
    kind = _word(SectionKind, parted.kind, "parted › kind")
    made = SectionMap(
        drawing_id=drawing_id, reference_id=None, kind=kind, places=packed_places(labels), width_mm=parted.width_mm,
        height_mm=parted.height_mm,
    )  # fmt: skip
    session.add(made)
    session.flush()
    rows = [
        Section(
            map_id=made.id, label=one.label, position=place, name=one.name,
            state=_word(SectionState, one.state, f"parted › sections › {place} › state"),
        )
        for place, one in enumerate(parted.sections)
    ]  # fmt: skip
    session.add_all(rows)
    session.flush()
    return [row.id for row in rows]


def _map_in(places: str) -> NDArray[np.uint8]:
    """The map of a file, decoded only once its size is known."""
    try:
        content = base64.b64decode(places, validate=True)
    except binascii.Error as error:
        raise UnreadableError(f"At parted › places: this is no base64: {error}.") from error
    if not content.startswith(_PNG_START) or len(content) < 24:
        raise UnreadableError("At parted › places: this is no PNG.")
    width, height = (int.from_bytes(content[at : at + 4], "big") for at in (16, 20))
    if not 0 < width * height <= _MOST_PIXELS:
        raise UnreadableError(
            f"At parted › places: the map has {width} × {height} places; at most {_MOST_PIXELS:,} are read."
        )
    try:
        return decode_picture(content, _MAP).pixels[..., 0]
    except UnreadableError as error:
        raise UnreadableError("At parted › places: the PNG is damaged or was cut off on its way.") from error


def _word(words: type[Word], said: str, where: str) -> Word:
    try:
        return words(said)
    except ValueError as error:
        raise UnreadableError(f"At {where}: “{said}” is none of {', '.join(words)}.") from error
