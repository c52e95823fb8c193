"""A reference as it is looked at: the list of a drawing, one with its picks, its picture in a view."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, value_step
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.adjusting import Adjustments, adjusted, adjusted_lab, place_in_adjusted
from tidy_tinder.core.reference.views import View, view_of
from tidy_tinder.core.reference.words import words_of
from tidy_tinder.core.reference.working import Light, nearest_colour, picture_lab, size_within
from tidy_tinder.core.reference.zones import ZONES_SIDE, Steps, smooth_lightness, thresholds_of, value_zones
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.services.background.runtime import Collection, collection_of
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.reference.picks import Looked
from tidy_tinder.services.reference.pictures import working_picture
from tidy_tinder.services.reference.sections import map_of, pieces_of
from tidy_tinder.services.reference.store import find_reference, picture_of, steps_of, what_came_of
from tidy_tinder.storage.models import Pick, PictureState, Reference, ReferencePicture

# Pictures are sent to the screen no larger than this; thumbnails so.
VIEW_SIDE, THUMB_SIDE = 1400, 220
# What lies round a pick: a square of this share of the width, without its middle third.
_SURROUND = 0.16
_FASTEST = 1
_MOST_NEAREST = 3


@dataclass(frozen=True)
class ReferenceCard:
    """A picture in the list of a drawing; message: why it cannot be opened, or that its file is gone; came_of: what was
    made of it.
    """

    id: int
    name: str
    state: PictureState | None
    message: str
    width: int
    height: int
    picks: int
    came_of: tuple[str, ...]


@dataclass(frozen=True)
class Parting:
    """The other pick that one parts from least, by its pin, and how."""

    number: int
    difference: Difference


@dataclass(frozen=True)
class PickView:
    """A pick as it is shown. x, y: from 0 to 1 of the adjusted picture, outside where it is cropped away; name: its
    own; described: in plain words; value: Munsell; surround: what lies round it in the picture.
    """

    id: int
    revision: int
    number: int
    name: str
    area: str
    x: float
    y: float
    radius: float
    found: bool
    colour: Patch
    came: LabTriple
    spread: float
    share: float | None
    value: float
    described: str
    beware: tuple[str, ...]
    nearest: Parting | None
    surround: Patch | None


@dataclass(frozen=True)
class ReferenceView:
    """A picture with its steps and picks, from light to dark; width, height: in pixels of the file, as it is adjusted;
    shown_width, shown_height: of the picture as it is sent.
    """

    card: ReferenceCard
    revision: int
    drawing_id: int
    steps: Adjustments
    profile: str
    shown_width: int
    shown_height: int
    picks: tuple[PickView, ...]


@dataclass(frozen=True)
class ZoneView:
    """A value zone: from its border to the next in L*, its mean as a patch, its share, its Munsell value; reached_by:
    how many of the pencils at hand have a mark of such a lightness on the paper, and the nearest of them in words.
    """

    low: float
    high: float
    mean: Patch
    share: float
    value: float
    reached_by: int
    nearest: tuple[str, ...]


def reference_cards(collection: Collection, drawing_id: int) -> tuple[ReferenceCard, ...]:
    """The pictures of a drawing in order. Raises NotFoundError."""
    with collection() as session:
        find_drawing(session, drawing_id)
        counts: dict[int, int] = dict(
            session.execute(select(Pick.reference_id, func.count(Pick.id)).group_by(Pick.reference_id)).all()
        )
        rows = session.scalars(
            select(Reference).where(Reference.drawing_id == drawing_id).order_by(Reference.position, Reference.id)
        ).all()
        return tuple(_card(session, row, counts.get(row.id, 0)) for row in rows)


def reference_view(collection: Collection, reference_id: int) -> ReferenceView:
    """One picture with its picks; they are there where its file is gone, too. Raises NotFoundError."""
    with collection() as session:
        reference = find_reference(session, reference_id)
        rows = session.scalars(select(Pick).where(Pick.reference_id == reference_id)).all()
        card, steps = _card(session, reference, len(rows)), steps_of(reference)
        light = None
        if card.state is PictureState.READY:
            light = adjusted_light(session, reference, ZONES_SIDE)
        picks = _picks(rows, steps, light)
        shown = (0, 0) if light is None else size_within(light.shape[1], light.shape[0], ZONES_SIDE)
        picture = session.get(ReferencePicture, reference_id)
        profile = "" if picture is None else picture.profile
        return ReferenceView(card, reference.revision, reference.drawing_id, steps, profile, *shown, picks)


def picture_in_view(
    collection: Collection, reference_id: int, view: View, longest: int, marked: int | None = None,
    sections: bool = False,
) -> bytes:  # fmt: skip
    """The picture as it is looked at, as PNG. marked: the number of a pick whose places are hatched; sections: whether
    those of its drawing are drawn.

    Raises NotFoundError, RefusedError, OutOfRangeError.
    """
    with collection() as session:
        reference = find_reference(session, reference_id)
        light = adjusted_light(session, reference, longest)
        where = None if marked is None else _where(session, reference, marked)
        parted = map_of(session, reference.drawing_id) if sections else None
        return png_of(view_of(light, view, where, None if parted is None else pieces_of(parted).section))


def zones_of(
    collection: Collection, reference_id: int, count: int, steps: Steps, borders: Sequence[float] | None, paper_id: int
) -> tuple[ZoneView, ...]:
    """The value zones of a picture, from dark to light: by its own steps, or between the borders that are given; and
    what of hers reaches each on a paper.

    Raises NotFoundError, RefusedError, OutOfRangeError.
    """
    with collection() as session:
        smooth = smooth_lightness(adjusted_light(session, find_reference(session, reference_id), ZONES_SIDE))
        marks = _marks_at_hand(Scene.on(session, paper_id))
    between = thresholds_of(smooth, count, steps) if borders is None else np.array(borders)
    zones = value_zones(smooth, between)
    edges = [0.0, *zones.thresholds.tolist(), 100.0]
    made = []
    for i, (mean, share) in enumerate(zip(zones.means.tolist(), zones.shares, strict=True)):
        inside = {name: abs(L - mean) for name, L in reversed(marks) if edges[i] <= L <= edges[i + 1]}
        pencils = {name.rsplit(",", 1)[0] for name in inside}
        nearest = tuple(sorted(inside, key=lambda name: inside[name])[:_MOST_NEAREST])
        made.append(
            ZoneView(
                edges[i], edges[i + 1], patch((mean, 0.0, 0.0)), float(share), _value(mean), len(pencils), nearest
            )
        )  # fmt: skip
    return tuple(made)


def _marks_at_hand(scene: Scene) -> list[tuple[str, float]]:
    """The single marks of the pencils at hand, as predicted: “Heron 119, heavy” and its L*."""
    if scene.known is None:
        return []
    predicted = scene.predicted()
    return [
        (f"{scene.colours[i].range_name} {scene.colours[i].code}, {pressure}", float(predicted.lab[row, place, 0]))
        for i, row in predicted.places.items()
        if i in scene.at_hand
        for place, pressure in enumerate(MARK_PRESSURES)
    ]


def looked_at(collection: Collection, reference_id: int, seen: Looked) -> tuple[Patch, Patch | None]:
    """What the loupe saw as it is in the adjusted picture, and the second colour where two meet."""
    with collection() as session:
        steps = steps_of(find_reference(session, reference_id))
    colour = patch(adjusted_lab(np.array(seen.lab), steps))
    return colour, None if seen.other is None else patch(adjusted_lab(np.array(seen.other), steps))


def png_of(pixels: NDArray[np.uint8]) -> bytes:
    """A picture as PNG, packed fast."""
    import cv2  # noqa: PLC0415 -- loaded when a picture is seen

    _, packed = cv2.imencode(".png", cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_PNG_COMPRESSION, _FASTEST])
    return packed.tobytes()


def original_file(collection: Collection, reference_id: int) -> tuple[str, bytes]:
    """The file as it came, with its name. Raises NotFoundError."""
    with collection() as session:
        reference = find_reference(session, reference_id)
        return reference.name, picture_of(session, reference_id).content


def _card(session: Session, reference: Reference, picks: int) -> ReferenceCard:
    picture, came_of = session.get(ReferencePicture, reference.id), what_came_of(session, reference.id)
    if picture is None:
        gone = "The file of this picture is gone; its picks are kept. Add the picture again to pick more."
        return ReferenceCard(reference.id, reference.name, None, gone, 0, 0, picks, came_of)
    return ReferenceCard(
        reference.id, reference.name, picture.state, picture.message, picture.width, picture.height, picks, came_of
    )  # fmt: skip


def adjusted_light(session: Session, reference: Reference, longest: int) -> Light:
    """The picture's light with its steps laid on, kept for the next view of the same size."""
    steps = steps_of(reference)
    working = working_picture(session, reference.id)
    key = ("light", reference.id, steps, longest)
    light: Light = collection_of(session).lights.of(key, lambda: _within(adjusted(working.light(), steps), longest))
    return light


def _within(light: Light, longest: int) -> Light:
    import cv2  # noqa: PLC0415 -- loaded when a picture is seen

    height, width = light.shape[:2]
    size = size_within(width, height, longest)
    if size == (width, height):
        return light
    return np.asarray(cv2.resize(light, size, interpolation=cv2.INTER_AREA), dtype=np.float32)


def _picks(rows: Sequence[Pick], steps: Adjustments, light: Light | None) -> tuple[PickView, ...]:
    """From light to dark, each with its words beside all others."""
    labs = [adjusted_lab(np.array([row.lab_L, row.lab_a, row.lab_b]), steps) for row in rows]
    order = sorted(range(len(rows)), key=lambda i: (-labs[i][0], rows[i].number))
    made = []
    for i in order:
        others = [j for j in range(len(rows)) if j != i]
        x, y = place_in_adjusted(rows[i].x, rows[i].y, steps)
        around = None if light is None else _surround(light, x, y)
        words = words_of(labs[i], around, np.array([labs[j] for j in others]).reshape(-1, 3))
        near = None
        if words.nearest is not None:
            near = Parting(rows[others[words.nearest[0]]].number, words.nearest[1])
        row = rows[i]
        made.append(
            PickView(
                row.id, row.revision, row.number, row.name, row.area, x, y, row.radius, row.radius == 0.0,
                patch(labs[i]), (row.lab_L, row.lab_a, row.lab_b), row.spread, row.share, words.value,
                words.name, words.beware, near,
                None if around is None else patch(around),
            )
        )  # fmt: skip
    return tuple(made)


def _surround(light: Light, x: float, y: float) -> Lab | None:
    """The mean of what lies round a place, without the place itself; in linear light, as the eye takes it in."""
    height, width = light.shape[:2]
    half = max(2, round(_SURROUND * width / 2))
    cx, cy = int(x * width), int(y * height)
    if not (0 <= cx < width and 0 <= cy < height):
        return None
    box = light[max(0, cy - half) : cy + half + 1, max(0, cx - half) : cx + half + 1]
    inner = half // 3
    middle = light[max(0, cy - inner) : cy + inner + 1, max(0, cx - inner) : cx + inner + 1]
    total = box.sum(axis=(0, 1), dtype=np.float64) - middle.sum(axis=(0, 1), dtype=np.float64)
    count = box[..., 0].size - middle[..., 0].size
    return None if count <= 0 else picture_lab((total / count).astype(np.float32))


def _where(session: Session, reference: Reference, marked: int) -> NDArray[np.bool_]:
    """Which places of the picture are nearer to this pick than to all others."""
    rows = session.scalars(select(Pick).where(Pick.reference_id == reference.id).order_by(Pick.id)).all()
    at = next((i for i, row in enumerate(rows) if row.number == marked), None)
    if at is None:
        raise RefusedError(f"This picture has no pick with the number {marked}.")
    steps = steps_of(reference)
    labs = adjusted_lab(np.array([(row.lab_L, row.lab_a, row.lab_b) for row in rows]), steps)
    lab = picture_lab(adjusted_light(session, reference, THUMB_SIDE * 2))
    nearest, _ = nearest_colour(lab.reshape(-1, 3), labs)
    return np.asarray(nearest.reshape(lab.shape[:2]) == at)


def _value(L: float) -> float:
    return float(value_step(np.array([L, 0.0, 0.0])))
