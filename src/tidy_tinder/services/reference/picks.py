"""Colours picked in a reference: by the loupe, or the main ones found; named, grouped, merged, dropped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.adjusting import Adjustments, adjusted, place_in_original
from tidy_tinder.core.reference.main_colours import COLOURS_SIDE, main_colours
from tidy_tinder.core.reference.picking import LEAST_RADIUS, MOST_RADIUS, pick
from tidy_tinder.core.reference.splitting import split_colour
from tidy_tinder.core.reference.working import Light, light_of, picture_lab
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.reference.pictures import file_pixels, working_picture
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.storage.models import Pick, Reference

MOST_PICKS = 60
_LONGEST_NAME = 60


@dataclass(frozen=True)
class Looked:
    """What the loupe sees: the colour as it came, its spread, whether two colours meet, and the second one.

    pixels: how many were looked at; small: too few to be sure.
    """

    lab: LabTriple
    spread: float
    near: float
    two_meet: bool
    other: LabTriple | None
    other_share: float
    pixels: int
    small: bool


@dataclass(frozen=True)
class KeptPick:
    """A pick that was made before: as the table keeps it."""

    name: str
    area: str
    x: float
    y: float
    radius: float
    lab: LabTriple
    spread: float
    share: float | None


def look(collection: Collection, reference_id: int, x: float, y: float, radius: float) -> Looked:
    """The colour of a disc. x, y: from 0 to 1 of the adjusted picture; radius: in pixels of the file.

    Raises NotFoundError, RefusedError, OutOfRangeError for a disc that is none.
    """
    with collection() as session:
        reference = find_reference(session, reference_id)
        return _look(session, reference, place_in_original(x, y, steps_of(reference)), radius)


def add_pick(collection: Collection, reference_id: int, x: float, y: float, radius: float) -> tuple[int, Changed]:
    """Keep the colour of a disc. Raises as `look`, and RefusedError where there are too many."""
    # Looked at before anything is written: a large file takes a second to decode, and others write meanwhile.
    seen = look(collection, reference_id, x, y, radius)
    with writing(collection, "Pick") as session:
        reference = find_reference(session, reference_id)
        own_x, own_y = place_in_original(x, y, steps_of(reference))
        number = _next_number(session, reference_id, 1)
        L, a, b = seen.lab
        row = Pick(
            reference_id=reference_id, number=number, x=own_x, y=own_y, radius=radius, lab_L=L, lab_a=a, lab_b=b,
            spread=seen.spread, share=None,
        )  # fmt: skip
        session.add(row)
        session.flush()
        relabel(session, f"Colour {number} picked")
        return row.id, changed(session)


def keep_picks(collection: Collection, reference_id: int, picks: Sequence[KeptPick]) -> Changed | None:
    """Keep picks that were made before, such as the demo's. Raises NotFoundError, RefusedError for too many."""
    with writing(collection, "Picks kept") as session:
        find_reference(session, reference_id)
        number = _next_number(session, reference_id, len(picks))
        for i, pick in enumerate(picks):
            L, a, b = pick.lab
            session.add(
                Pick(
                    reference_id=reference_id, number=number + i, name=_worded(pick.name), area=_worded(pick.area),
                    x=pick.x, y=pick.y, radius=pick.radius, lab_L=L, lab_a=a, lab_b=b, spread=pick.spread,
                    share=pick.share,
                )
            )  # fmt: skip
        made = changed(session)
        return made if made.rows else None


def find_main_colours(collection: Collection, reference_id: int, count: int) -> Changed:
    """Find the main colours of the adjusted picture; they take the place of those found before, unless the artist has
    named such a one, put it into an area or chosen a way for it: that is hers.

    Raises NotFoundError, RefusedError, OutOfRangeError for a count that is not offered.
    """
    with collection() as session:
        light, steps = _shaped_light(session, find_reference(session, reference_id))
    found = main_colours(light, count)
    with writing(collection, "Main colours found") as session:
        find_reference(session, reference_id)
        for before in session.scalars(select(Pick).where(Pick.reference_id == reference_id, Pick.radius == 0)):
            if not (before.name or before.area or before.laid):
                session.delete(before)
        session.flush()
        number = _next_number(session, reference_id, len(found.lab))
        for i, (lab, place) in enumerate(zip(found.lab, found.places, strict=True)):
            x, y = place_in_original(float(place[0]), float(place[1]), steps)
            L, a, b = _kept(lab)
            session.add(
                Pick(
                    reference_id=reference_id, number=number + i, name="", x=x, y=y, radius=0.0, lab_L=L, lab_a=a,
                    lab_b=b, spread=float(found.spreads[i]), share=float(found.shares[i]),
                )
            )  # fmt: skip
        relabel(session, f"{len(found.lab)} main colours found")
        return changed(session)


def name_pick(collection: Collection, pick_id: int, revision: int, name: str, area: str) -> Changed | None:
    """Call a pick and its area. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    with writing(collection, "Pick named") as session:
        pick = find_pick(session, pick_id)
        said = {"name": _worded(name), "area": _worded(area)}
        relabel(session, f"Colour {pick.number} named")
        revise(pick, revision, said, f"Colour {pick.number}")
        made = changed(session)
        return made if made.rows else None


def drop_picks(collection: Collection, pick_ids: Sequence[int]) -> Changed:
    """Remove picks; one change, one undo. Raises NotFoundError."""
    with writing(collection, "Picks") as session:
        picks = [find_pick(session, i) for i in dict.fromkeys(pick_ids)]
        what = f"Colour {picks[0].number}" if len(picks) == 1 else f"{len(picks)} picks"
        relabel(session, f"{what} dropped")
        for pick in picks:
            session.delete(pick)
        return changed(session)


def merge_picks(collection: Collection, pick_ids: Sequence[int]) -> Changed:
    """Make one of several picks of a picture: their mean, weighted by what each has of the picture; the first stays.

    Raises NotFoundError, RefusedError for fewer than two or those of two pictures.
    """
    with writing(collection, "Picks merged") as session:
        picks = [find_pick(session, i) for i in dict.fromkeys(pick_ids)]
        if len(picks) < 2 or len({pick.reference_id for pick in picks}) > 1:
            raise RefusedError("Two or more picks of one picture are merged. Choose them with space.")
        first, *others = picks
        labs = np.array([(p.lab_L, p.lab_a, p.lab_b) for p in picks])
        shares = [p.share for p in picks]
        known = [share for share in shares if share is not None]
        # One that was picked by hand counts as much as they do on average.
        usual = sum(known) / len(known) if known else 1.0
        weights = np.array([usual if share is None else max(share, 1e-4) for share in shares])
        mean = np.average(labs, axis=0, weights=weights)
        apart = np.average(((labs - mean) ** 2).sum(axis=-1), weights=weights)
        within = np.average([p.spread**2 for p in picks], weights=weights)
        first.lab_L, first.lab_a, first.lab_b = _kept(mean)
        first.spread, first.share = float((apart + within) ** 0.5), sum(known) if known else None
        relabel(session, f"{len(picks)} picks merged into colour {first.number}")
        for pick in others:
            session.delete(pick)
        return changed(session)


def split_pick(collection: Collection, pick_id: int) -> Changed:
    """Make two picks of one: of what in the picture is nearest to it, the lighter part and the darker one.

    Raises NotFoundError, RefusedError where there is no room, OutOfRangeError where it is one colour.
    """
    with collection() as session:
        pick = find_pick(session, pick_id)
        rows = session.scalars(select(Pick).where(Pick.reference_id == pick.reference_id).order_by(Pick.number)).all()
        at = next(i for i, row in enumerate(rows) if row.id == pick_id)
        labs = np.array([(row.lab_L, row.lab_a, row.lab_b) for row in rows])
        light, steps = _shaped_light(session, find_reference(session, pick.reference_id))
    two = split_colour(light, labs, at)
    with writing(collection, "Pick split") as session:
        pick = find_pick(session, pick_id)
        number = _next_number(session, pick.reference_id, 1)
        second = Pick(reference_id=pick.reference_id, number=number, area=pick.area, radius=0.0)
        for i, row in enumerate((pick, second)):
            row.x, row.y = place_in_original(float(two.places[i, 0]), float(two.places[i, 1]), steps)
            row.lab_L, row.lab_a, row.lab_b = _kept(two.lab[i])
            row.radius, row.spread, row.share, row.laid = 0.0, float(two.spreads[i]), float(two.shares[i]), None
        session.add(second)
        relabel(session, f"Colour {pick.number} split into {pick.number} and {number}")
        return changed(session)


def find_pick(session: Session, pick_id: int) -> Pick:
    """The pick of this number; raises NotFoundError."""
    pick = session.get(Pick, pick_id)
    if pick is None:
        raise NotFoundError(f"There is no pick number {pick_id}. It may have been dropped in another window.")
    return pick


def _look(session: Session, reference: Reference, place: tuple[float, float], radius: float) -> Looked:
    """The loupe on the file itself, at a place from 0 to 1."""
    pixels, space = file_pixels(session, reference.id)
    height, width = pixels.shape[:2]
    x, y = place[0] * width - 0.5, place[1] * height - 0.5
    reach = int(min(max(radius, LEAST_RADIUS), MOST_RADIUS)) + 2
    left, top = max(0, int(x) - reach), max(0, int(y) - reach)
    window = np.ascontiguousarray(pixels[top : int(y) + reach + 1, left : int(x) + reach + 1])
    if not window.size:
        raise RefusedError("The loupe lies outside the picture.")
    seen = pick(picture_lab(light_of(window, space)), (x - left, y - top), radius)
    return Looked(
        _kept(seen.lab), seen.spread, seen.near, seen.two_meet, None if seen.other is None else _kept(seen.other),
        seen.other_share, seen.pixels, seen.small,
    )  # fmt: skip


def _shaped_light(session: Session, reference: Reference) -> tuple[Light, Adjustments]:
    """The picture cropped and turned, in its own colours, small enough to find colours in; and its steps."""
    steps = steps_of(reference)
    shape = Adjustments(None, steps.quarter_turns, steps.mirrored, steps.crop)
    return adjusted(working_picture(session, reference.id).light(COLOURS_SIDE), shape), steps


def _next_number(session: Session, reference_id: int, more: int) -> int:
    """The number of the next pin; pins keep theirs. Raises RefusedError where there is no room for so many."""
    of_it = select(func.count(Pick.id), func.max(Pick.number)).where(Pick.reference_id == reference_id)
    count, last = session.execute(of_it).one()
    if count + more > MOST_PICKS:
        raise RefusedError(f"A picture keeps at most {MOST_PICKS} picks; it has {count}. Drop or merge some first.")
    return (last or 0) + 1


def _kept(lab: Lab) -> LabTriple:
    """As it can be kept: noise may lie a hair beyond black or white."""
    L, a, b = (float(v) for v in np.clip(lab, [0, -200, -200], [100, 200, 200]))
    return L, a, b


def _worded(text: str) -> str:
    words = " ".join(text.split())
    if len(words) > _LONGEST_NAME:
        raise RefusedError(f"A name has at most {_LONGEST_NAME} letters, not {len(words)}.")
    return words
