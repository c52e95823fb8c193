"""Scraps looked at: the strip of one, the list of a paper, and what was tried for a colour before."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layers import Layer, turned
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Pressure, Verdict
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import Patch, Seen, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, look_at, owned_layers
from tidy_tinder.services.scraps.store import VERDICTS, scrap_row, strip_in_words
from tidy_tinder.storage.models import Scrap
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.scraps import ScrapRow, scrap_rows


class FieldKind(StrEnum):
    """What a field of a strip holds: one pencil alone, the layers as laid, or turned the other way round."""

    ALONE = "alone"
    LAID = "laid"
    TURNED = "turned"


@dataclass(frozen=True)
class Tried:
    """What was said of layers that were tried before."""

    scrap_id: int
    verdict: tuple[Verdict, ...]
    note: str
    made_on: date


@dataclass(frozen=True)
class StripField:
    """One field of the strip: what is laid in it, in words, and what that looks like as far as it is known.

    kind: alone, laid or turned; the last two can be read.
    """

    kind: FieldKind
    laid: tuple[Laid, ...]
    said: str
    seen: Seen | None


@dataclass(frozen=True)
class Wanted:
    """The colour that a scrap stands in for, how it is laid, and its mark there as far as it is known."""

    colour: ColourRow
    pressure: Pressure
    layers: int
    seen: Seen | None


@dataclass(frozen=True)
class ScrapView:
    """A scrap with its strip. apart: how the strip as laid differs from what is wanted, where both are known."""

    id: int
    revision: int
    paper_id: int
    paper_name: str
    finish: Finish
    said: str
    wanted: Wanted | None
    fields: tuple[StripField, ...]
    apart: Difference | None
    verdict: tuple[Verdict, ...]
    note: str
    made_on: date
    can_be_said: tuple[tuple[Verdict, ...], ...] = VERDICTS


@dataclass(frozen=True)
class ScrapCard:
    """A scrap in the list."""

    id: int
    said: str
    wanted: ColourRow | None
    verdict: tuple[Verdict, ...]
    note: str
    made_on: date
    measured: Patch | None


def open_scrap(collection: Collection, scrap_id: int) -> ScrapView:
    """A scrap with its strip and what is known of it. Raises NotFoundError."""
    with collection() as session:
        row = scrap_row(session, scrap_id)
        scene = Scene.on(session, row.paper_id)
        fields, wanted = _fields(scene, row), _wanted(scene, row)
        laid = next(field for field in fields if field.kind is FieldKind.LAID)
        both = (wanted.seen, laid.seen) if wanted is not None else (None, None)
        apart = difference(both[0].patch.lab, both[1].patch.lab) if both[0] and both[1] else None
        return ScrapView(
            row.id, row.revision, scene.paper.id, scene.paper.name, row.finish, laid.said, wanted, fields, apart,
            row.verdict, row.note, row.made_on,
        )  # fmt: skip


def scraps_on(collection: Collection, paper_id: int) -> tuple[ScrapCard, ...]:
    """What was tried on a paper, the newest first. Raises NotFoundError."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        return tuple(
            ScrapCard(
                row.id, strip_in_words(owned_layers(scene, row.layers)), scene.colours.get(row.wanted_id or 0),
                row.verdict, row.note, row.made_on, next((patch(r.lab) for r in row.readings if not r.turned), None),
            )
            for row in scrap_rows(session, Scrap.paper_id == paper_id)
        )  # fmt: skip


def tried_for(session: Session, paper_id: int, wanted_id: int) -> Mapping[tuple[Layer[int], ...], Tried]:
    """What was tried for a colour on a paper, dry: by its layers, the newest of each."""
    dry = (Scrap.paper_id == paper_id, Scrap.wanted_id == wanted_id, Scrap.finish == Finish.DRY)
    rows = scrap_rows(session, *dry)
    return {row.layers: Tried(row.id, row.verdict, row.note, row.made_on) for row in reversed(rows)}


def _fields(scene: Scene, row: ScrapRow) -> tuple[StripField, ...]:
    """Each pencil alone as it is laid, then the layers, then the other way round where that is something else."""
    singles = dict.fromkeys(one for one in row.layers if one.pressure in MARK_PRESSURES) if len(row.layers) > 1 else ()
    fields = [_field(scene, FieldKind.ALONE, (one,), scene.look(one)) for one in singles]
    order = turned(row.layers)
    stacks = [row.layers] + ([order] if order != row.layers else [])
    seen: Sequence[Seen | None] = [None] * len(stacks)
    if scene.known is not None:
        seen = look_at(scene, stacks, row.finish == Finish.SOLVENT)
    kinds = (FieldKind.LAID, FieldKind.TURNED)
    fields += [_field(scene, kind, layers, one) for kind, layers, one in zip(kinds, stacks, seen, strict=False)]
    return tuple(fields)


def _field(scene: Scene, kind: FieldKind, layers: Sequence[Layer[int]], seen: Seen | None) -> StripField:
    laid = owned_layers(scene, layers)
    return StripField(kind, laid, strip_in_words(laid), seen)


def _wanted(scene: Scene, row: ScrapRow) -> Wanted | None:
    if row.wanted_id is None:
        return None
    pressure = next((one for one in MARK_PRESSURES if one == row.wanted_pressure), Pressure.HEAVY)
    seen = scene.look(Layer(row.wanted_id, pressure, row.wanted_layers))
    return Wanted(scene.colours[row.wanted_id], pressure, row.wanted_layers, seen)
