"""References taken in, described, stepped on, removed; how far each is opened."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.reference.adjusting import WHOLE, Adjustments
from tidy_tinder.formats.picture.decoding import check_picture
from tidy_tinder.formats.picture.kinds import REFERENCE, shown_name
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import Pick, PictureState, Recipe, Reference, ReferencePicture, SectionMap

_MOST_REFERENCES = 40


def add_reference(collection: Collection, drawing_id: int, name: str, content: bytes) -> tuple[int, Changed]:
    """Keep a picture of a drawing as it came, to be opened. Raises NotFoundError, RefusedError, UnreadableError."""
    check_picture(content, REFERENCE)
    with writing(collection, "Reference added") as session:
        drawing = find_drawing(session, drawing_id)
        count, last = session.execute(
            select(func.count(Reference.id), func.max(Reference.position)).where(Reference.drawing_id == drawing.id)
        ).one()
        if count >= _MOST_REFERENCES:
            raise RefusedError(f"A drawing keeps at most {_MOST_REFERENCES} references. Remove one first.")
        position = 0 if last is None else last + 1
        today = datetime.now(UTC).date()
        reference = Reference(
            drawing_id=drawing.id, name=shown_name(name, "picture"), position=position, added_on=today, steps={}
        )
        session.add(reference)
        session.flush()
        session.add(ReferencePicture(reference_id=reference.id, content=content))
        relabel(session, f"Reference “{reference.name}” added")
        return reference.id, changed(session)


def step_on(collection: Collection, reference_id: int, revision: int, steps: Adjustments) -> Changed | None:
    """Lay these steps on a picture from now on; the file stays as it came.

    Raises NotFoundError, OutOfRangeError for steps that make no sense, ChangedMeanwhileError.
    """
    steps.check()
    with writing(collection, "Picture adjusted") as session:
        reference = find_reference(session, reference_id)
        label = "shown as it came" if steps == Adjustments() else "adjusted"
        relabel(session, f"Reference “{reference.name}” {label}")
        plain = {} if steps == Adjustments() else asdict(steps)
        revise(reference, revision, {"steps": plain}, f"The reference {reference.name}")
        made = changed(session)
        return made if made.rows else None


def remove_reference(collection: Collection, reference_id: int, sure: bool = False) -> Changed:
    """Remove a picture with its picks; undo brings it back until the program ends.

    Raises NotFoundError; RefusedError, with the reasons, where something came from it and she is not sure.
    """
    with writing(collection, "Reference removed") as session:
        reference = find_reference(session, reference_id)
        reasons = what_came_of(session, reference_id)
        if reasons and not sure:
            raise RefusedError(f"{'; '.join(reasons)}. What came of it stays; only the way back to the picture goes.")
        relabel(session, f"Reference “{reference.name}” removed")
        for recipe in session.scalars(select(Recipe).where(Recipe.reference_id == reference_id)):
            recipe.reference_id = None
        for parted in session.scalars(select(SectionMap).where(SectionMap.reference_id == reference_id)):
            parted.reference_id = None
        # Children first, each by the ORM: what the database removed by itself would not be in the journal.
        for pick in session.scalars(select(Pick).where(Pick.reference_id == reference_id)).all():
            session.delete(pick)
        session.flush()
        session.delete(reference)
        return changed(session)


def what_came_of(session: Session, reference_id: int) -> tuple[str, ...]:
    """What was made of a picture, in words: recipes that were begun with its picks, sections by its shapes."""
    recipes = session.scalars(select(Recipe.title).where(Recipe.reference_id == reference_id)).all()
    parted = session.scalar(select(SectionMap.id).where(SectionMap.reference_id == reference_id))
    sections = () if parted is None else ("The drawing is parted into sections by its shapes",)
    return (*(f"The recipe “{title}” was begun with its colours" for title in recipes), *sections)


def take_up(collection: Collection) -> int:
    """When a program begins: what was being opened waits again, what belongs to no reference goes. How many wait."""
    with collection() as session:
        session.connection(execution_options=WRITER)
        session.execute(delete(ReferencePicture).where(ReferencePicture.reference_id.not_in(select(Reference.id))))
        for picture in session.scalars(select(ReferencePicture).where(ReferencePicture.state == PictureState.OPENING)):
            picture.state, picture.taken_up = PictureState.WAITING, picture.taken_up + 1
        waiting = select(func.count(ReferencePicture.reference_id)).where(
            ReferencePicture.state == PictureState.WAITING
        )
        count = session.scalar(waiting) or 0
        session.commit()
        return count


def find_reference(session: Session, reference_id: int) -> Reference:
    """The reference of this number; raises NotFoundError."""
    reference = session.get(Reference, reference_id)
    if reference is None:
        raise NotFoundError(f"There is no reference number {reference_id}. It may have been removed in another window.")
    return reference


def picture_of(session: Session, reference_id: int) -> ReferencePicture:
    """The file of a reference; raises NotFoundError where it is gone."""
    picture = session.get(ReferencePicture, reference_id)
    if picture is None:
        raise NotFoundError(
            "The file of this reference is gone: it was removed before the program was started last. Its picks are "
            "kept; add the picture again to pick more."
        )
    return picture


def steps_of(reference: Reference) -> Adjustments:
    """The steps that are laid on a picture."""
    kept: dict[str, Any] = dict(reference.steps or {})
    neutral, crop = kept.get("neutral"), kept.get("crop", WHOLE)
    return Adjustments(
        None if neutral is None else (float(neutral[0]), float(neutral[1]), float(neutral[2])),
        int(kept.get("quarter_turns", 0)), bool(kept.get("mirrored", False)),
        (float(crop[0]), float(crop[1]), float(crop[2]), float(crop[3])), float(kept.get("contrast", 1.0)),
    )  # fmt: skip
