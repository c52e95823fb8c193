"""The value check: a photo of the drawing laid on its reference, kept with its picture, beside the one before."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import TYPE_CHECKING, Any

import numpy as np
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import value_step
from tidy_tinder.core.reference.views import View, coded_for_screen, view_of
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.photos import find_photo, photo_light
from tidy_tinder.services.collection.paper import find_paper, paper_lab
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, unjournaled, writing
from tidy_tinder.services.reference.answers import PictureReach, reach_between
from tidy_tinder.services.reference.pictures import unpacked
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.services.reference.view import adjusted_light, png_of
from tidy_tinder.storage.models import CheckOfValues, CheckPicture

if TYPE_CHECKING:
    from tidy_tinder.core.reference.value_check.check import ValueCheck

# One step of Munsell value is about ten of L* (ASTM D1535, within a twentieth from value 2 to 9; from memory).
_STEP = 10.0
# Of one drawing; each keeps a picture of half a megabyte.
_MOST_CHECKS = 60
# What of the ring may be full before its light is not to be trusted.
_CLIPPED = 0.02
_SIDE = 1400
_BY_PATCH = (
    "One bare patch stands for the light on all of the drawing: light from one side would look like an error, so only "
    "what is off by 8 L* and more is told."
)


class Way(StrEnum):
    """Which way a region should go."""

    DARKER = "darker"
    LIGHTER = "lighter"


@dataclass(frozen=True)
class RegionView:
    """A region that should go darker or lighter: by how much in L* and in value steps, and where."""

    way: Way
    off: float
    steps: float
    share: float
    x: float
    y: float
    outline: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class RungView:
    """One step of value, 0 to 10: the share of what is drawn that lies there, in picture and drawing."""

    value: int
    picture: float
    drawing: float


@dataclass(frozen=True)
class CheckView:
    """A check as it is kept. words: what is to be known of it; darkest, darkest_asked: Munsell values of drawing and
    picture; ladder: how much lies at each step of value, nothing in a check of before it was kept; mended: how many of
    the regions of the check before are right now, None where there is none to compare with; before: how many those
    were.
    """

    id: int
    reference_id: int
    made_at: datetime
    name: str
    words: tuple[str, ...]
    regions: tuple[RegionView, ...]
    darkest: float
    darkest_asked: float
    ladder: tuple[RungView, ...]
    not_drawn: float
    cannot_tell: float
    mended: int | None
    before: int


def check_drawing(
    collection: Collection, photo_id: int, reference_id: int, corners: Sequence[tuple[float, float]],
    overrule: bool = False, patch: tuple[float, float] | None = None,
) -> tuple[int, Changed]:  # fmt: skip
    """Check the values of a drawing by a photo of it that waits, and keep what is found; the photo waits no longer.

    corners: of the picture in the upright photo, from 0 to 1 of its width and height: top left, top right, bottom
    right, bottom left; patch: likewise, a bare place, for a picture without a margin. Raises NotFoundError,
    RefusedError, CannotCheckError with what to do: then the photo waits on.
    """
    from tidy_tinder.core.reference.value_check.check import check_values  # noqa: PLC0415 -- loaded when it is checked

    with collection() as session:
        photo, reference = find_photo(session, photo_id), find_reference(session, reference_id)
        drawing_id, drawing = photo.drawing_id, find_drawing(session, photo.drawing_id)
        if reference.drawing_id != drawing_id:
            raise RefusedError("This picture belongs to another drawing.")
        paper = np.array(paper_lab(find_paper(session, drawing.paper_id)))
        # As it is drawn from: turned, mirrored and cropped by its steps.
        wanted, steps = adjusted_light(session, reference, _SIDE), repr(steps_of(reference))
        if len(_checks(session, drawing_id)) >= _MOST_CHECKS:
            raise RefusedError(f"A drawing keeps {_MOST_CHECKS} checks. Remove the oldest first.")
        light = photo_light(session, photo)
    size = np.array((light.shape[1], light.shape[0]), dtype=np.float64)
    bare = None if patch is None else (patch[0] * size[0], patch[1] * size[1])
    check = check_values(
        light, np.array(corners, dtype=np.float64).reshape(-1, 2) * size, wanted, paper, overrule, bare
    )
    picture = png_of(coded_for_screen(check.drawing))
    with writing(collection, "Values checked") as session:
        drawing, photo = find_drawing(session, drawing_id), find_photo(session, photo_id)
        words = [*_words_of(check), *([_BY_PATCH] if patch is not None else [])]
        kept = CheckOfValues(
            drawing_id=drawing_id, reference_id=reference_id, made_at=now(), name=photo.name,
            told={**_told(check), "words": words, "steps": steps},
        )  # fmt: skip
        session.delete(photo)
        session.add(kept)
        session.flush()
        session.add(CheckPicture(check_id=kept.id, content=picture))
        relabel(session, f"Values of “{drawing.name}” checked")
        return kept.id, changed(session)


def checks_of(collection: Collection, drawing_id: int) -> tuple[CheckView, ...]:
    """The checks of a drawing, the newest first, each compared with the one before it. Raises NotFoundError."""
    with collection() as session:
        find_drawing(session, drawing_id)
        rows = _checks(session, drawing_id)
        return tuple(
            _view(row, next((before for before in rows[i + 1 :] if _comparable(row, before)), None))
            for i, row in enumerate(rows)
        )


def remove_check(collection: Collection, check_id: int) -> Changed:
    """Remove a check; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Check of values removed") as session:
        session.delete(_find_check(session, check_id))
        return changed(session)


def picture_of_check(collection: Collection, check_id: int, grey: bool, blur: float | None = None) -> bytes:
    """The drawing as its photo shows it, flat and in even light, as PNG; grey: as values; blur: squinted at, as a share
    of its width. Raises NotFoundError, OutOfRangeError for another blur.
    """
    with collection() as session:
        _find_check(session, check_id)
        kept = session.get(CheckPicture, check_id)
        if kept is None:
            raise NotFoundError("The picture of this check is gone.")
        light = unpacked(kept.content, SRGB_SPACE).light()
        return png_of(view_of(light, View(grey, blur)))


def reach_of_check(collection: Collection, check_id: int, wait: float | None) -> PictureReach:
    """How far the drawing's paper reaches the values that the picture asks for. wait: seconds for pairs to be mixed.

    Raises NotFoundError.
    """
    with collection() as session:
        check = _find_check(session, check_id)
        drawing, told = find_drawing(session, check.drawing_id), check.told
        asked = [told[key] for key in ("darkest_asked", "lightest_asked") if key in told]
        return reach_between(session, check.reference_id, drawing.paper_id, asked, wait)


def forget_pictures(collection: Collection) -> None:
    """Let go of the pictures of checks that were removed before this start: undo has had its time."""
    with unjournaled(collection) as session:
        kept = select(CheckOfValues.id)
        session.execute(delete(CheckPicture).where(CheckPicture.check_id.not_in(kept)))


def _checks(session: Session, drawing_id: int) -> Sequence[CheckOfValues]:
    mine = select(CheckOfValues).where(CheckOfValues.drawing_id == drawing_id)
    return session.scalars(mine.order_by(CheckOfValues.id.desc())).all()


def _find_check(session: Session, check_id: int) -> CheckOfValues:
    row = session.get(CheckOfValues, check_id)
    if row is None:
        raise NotFoundError(f"There is no check number {check_id}. It may have been removed in another window.")
    return row


def _comparable(one: CheckOfValues, other: CheckOfValues) -> bool:
    """Whether both were laid on the same picture, as it was adjusted: only then are their zones the same."""
    # Checks of before the steps were kept do not say: they are compared with none.
    steps = one.told.get("steps")
    return steps is not None and (one.reference_id, steps) == (other.reference_id, other.told.get("steps"))


def _told(check: ValueCheck) -> dict[str, Any]:
    """What is kept of a check."""
    from tidy_tinder.core.reference.value_check.check import Verdict  # noqa: PLC0415 -- loaded when it is checked
    from tidy_tinder.core.reference.value_check.ladder import ladder_of  # noqa: PLC0415 -- the same
    from tidy_tinder.core.reference.value_check.regions import regions_of  # noqa: PLC0415 -- the same

    drawn = [zone for zone in check.zones if zone.verdict is not Verdict.NOT_DRAWN]
    asked = [zone.reference_L for zone in drawn]
    return {
        "regions": [
            {
                "verdict": region.verdict.value, "off": region.off, "share": region.share, "x": region.x, "y": region.y,
                "outline": [list(point) for point in region.outline], "labels": list(region.labels),
            }
            for region in regions_of(check)
        ],
        "right": [zone.label for zone in drawn if zone.verdict is Verdict.RIGHT],
        "darkest": min(zone.drawing_L for zone in drawn), "lightest": max(zone.drawing_L for zone in drawn),
        "darkest_asked": min(asked), "lightest_asked": max(asked),
        "ladder": [[rung.value, rung.picture, rung.drawing] for rung in ladder_of(check)],
        "not_drawn": sum(z.share for z in check.zones if z.verdict is Verdict.NOT_DRAWN),
        "cannot_tell": sum(z.share for z in drawn if z.verdict is Verdict.CANNOT_TELL),
    }  # fmt: skip


def _words_of(check: ValueCheck) -> list[str]:
    """What is to be known of the photo and the taps."""
    words = []
    if check.light.clipped > _CLIPPED:
        words.append("Some of the bare paper is clipped to white in this photo: expose it less to be surer.")
    if check.laid_on.widened:
        words.append("The corners were far off; what is told holds all the same, and better taps make it surer.")
    return words


def _view(row: CheckOfValues, before: CheckOfValues | None) -> CheckView:
    told = row.told
    right = set(told["right"])
    then = before.told["regions"] if before is not None else []
    mended = sum(2 * sum(label in right for label in region["labels"]) > len(region["labels"]) for region in then)
    return CheckView(
        id=row.id,
        reference_id=row.reference_id,
        made_at=row.made_at,
        name=row.name,
        words=tuple(told["words"]),
        regions=tuple(
            RegionView(
                Way(one["verdict"]), one["off"], abs(one["off"]) / _STEP, one["share"], one["x"], one["y"],
                tuple((float(x), float(y)) for x, y in one["outline"]),
            )
            for one in told["regions"]
        ),
        darkest=_value(told["darkest"]),
        darkest_asked=_value(told["darkest_asked"]),
        # Checks of before it was kept have none.
        ladder=tuple(RungView(*rung) for rung in told.get("ladder", ())),
        not_drawn=told["not_drawn"],
        cannot_tell=told["cannot_tell"],
        mended=mended if before is not None else None,
        before=len(then),
    )  # fmt: skip


def _value(L: float) -> float:
    """Munsell value of an L*."""
    return float(value_step(np.array([L, 0.0, 0.0])))
