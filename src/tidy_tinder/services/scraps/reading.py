"""Strips measured: read with the colour reader or typed, doubted where far from what is expected, kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layers import Layer, turned
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import owned_layers, predicted_stacks
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.reader import ReaderLink, instrument_words, place_strip
from tidy_tinder.services.scraps.store import scrap_row, strip_in_words
from tidy_tinder.services.swatches.store import MadeMark, Measurement, store_swatch
from tidy_tinder.storage.models import ScrapReading
from tidy_tinder.storage.queries.scraps import ScrapRow

# A reading farther from the prediction than this many of its bands is asked about before it is kept.
_DOUBTED_BANDS = 2.0


@dataclass(frozen=True)
class StripRead:
    """What came of a reading: kept, or doubted for a reason, and then not kept."""

    doubt: str
    reading: Patch
    change: Changed | None


def read_strip(
    collection: Collection, link: ReaderLink, scrap_id: int, is_turned: bool, keep: bool = False
) -> StripRead:
    """Read one of the two orders with the colour reader and keep it, in the place of an earlier reading.

    keep: also where it is far from what is expected. Raises NotFoundError, RefusedError, a ReaderError.
    """
    with collection() as session:
        row = scrap_row(session, scrap_id)
        layers = _in_order(row, is_turned)
        place_strip(session, link, row.paper_id, layers, row.finish == Finish.SOLVENT, 2 * scrap_id + is_turned)
    reading, info = link.read()
    L, a, b = (round(float(v), 3) for v in reading.lab)
    spectrum = [round(float(v), 5) for v in reading.reflectance]
    measured = Measurement((L, a, b), Source.READER, instrument_words(info), spectrum)
    return _keep(collection, scrap_id, is_turned, measured, keep)


def type_strip(collection: Collection, scrap_id: int, is_turned: bool, lab: LabTriple, keep: bool = False) -> StripRead:
    """Keep a typed Lab, D65, 2°, for one of the two orders. Raises NotFoundError, RefusedError, OutOfRangeError."""
    check_lab(np.array(lab), "The typed colour")
    return _keep(collection, scrap_id, is_turned, Measurement(lab, Source.TYPED), keep)


def _keep(collection: Collection, scrap_id: int, is_turned: bool, measured: Measurement, keep: bool) -> StripRead:
    """Keep a value unless it is doubted."""
    with writing(collection, "Strip read") as session:
        row = scrap_row(session, scrap_id)
        scene, layers = Scene.on(session, row.paper_id), _in_order(row, is_turned)
        doubt = "" if keep else _doubt(scene, row, layers, measured.lab)
        if doubt:
            return StripRead(doubt, patch(measured.lab), None)
        if _is_mark(row):
            _store_mark(session, row, measured)
        else:
            _take_down(session, scrap_id, is_turned, measured)
        relabel(session, f"Strip read: {strip_in_words(owned_layers(scene, layers))}")
        return StripRead("", patch(measured.lab), changed(session))


def _is_mark(row: ScrapRow) -> bool:
    """Whether what is read is the mark of one pencil, and so an ordinary swatch of it."""
    return len(row.layers) == 1 and row.finish == Finish.DRY and row.layers[0].pressure in MARK_PRESSURES


def _store_mark(session: Session, row: ScrapRow, measured: Measurement) -> None:
    """The strip of one pencil as a swatch."""
    (one,) = row.layers
    mark = MadeMark(one.pencil, row.paper_id, one.pressure, one.layers)
    store_swatch(session, mark, replace(measured, note=f"from scrap {row.id}"))


def _take_down(session: Session, scrap_id: int, is_turned: bool, measured: Measurement) -> None:
    """The reading of one order, in the place of an earlier one."""
    mine = (ScrapReading.scrap_id == scrap_id, ScrapReading.turned == is_turned)
    reading = session.scalar(select(ScrapReading).where(*mine))
    if reading is None:
        reading = ScrapReading(scrap_id=scrap_id, turned=is_turned)
        session.add(reading)
    reading.lab_L, reading.lab_a, reading.lab_b = measured.lab
    reading.spectrum = list(measured.spectrum) if measured.spectrum else None
    reading.source, reading.instrument = measured.source, measured.instrument
    reading.made_on = datetime.now(UTC).date()


def _doubt(scene: Scene, row: ScrapRow, layers: Sequence[Layer[int]], lab: LabTriple) -> str:
    """Why a value may not be of this strip, in words; "" where nothing speaks against it."""
    if scene.known is None:
        return ""
    # What an earlier reading says is no reason to doubt a new one.
    seen = predicted_stacks(scene, [layers], row.finish == Finish.SOLVENT)[0]
    if seen is None or seen.band is None:
        return ""
    away = float(delta_e_2000(np.array(seen.patch.lab), np.array(lab)))
    if away <= _DOUBTED_BANDS * seen.band:
        return ""
    return (
        f"That is ΔE {away:.1f} from what is expected here, ± {seen.band:.1f}. Is it the right field of the strip, "
        "and were the layers laid as it says?"
    )


def _in_order(row: ScrapRow, is_turned: bool) -> tuple[Layer[int], ...]:
    return turned(row.layers) if is_turned else row.layers
