"""The grey ramp of a sheet as a reader measured it: by it the camera's tones are undone."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

import numpy as np

from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.sheet.furniture import RAMP_BLACK
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.sheets.store import sheet_called

RAMP_STEPS = tuple(round(100 * black) for black in RAMP_BLACK)
"""Its steps, in per cent of black."""
_FEWEST = 3


def measure_ramp(collection: Collection, sheet_id: int, steps: Mapping[int, LabTriple]) -> Changed | None:
    """Keep the Lab of some steps; none forgets them. Raises NotFoundError, RefusedError, OutOfRangeError."""
    _check(steps)
    with writing(collection, "Ramp measured") as session:
        sheet = sheet_called(session, sheet_id)
        sheet.ramp = {str(step): list(steps[step]) for step in sorted(steps)} or None
        relabel(session, f"Ramp of “{sheet.title}” {'measured' if steps else 'forgotten'}")
        made = changed(session)
        return made if made.rows else None


def _check(steps: Mapping[int, LabTriple]) -> None:
    unknown = sorted(set(steps) - set(RAMP_STEPS))
    if unknown:
        raise RefusedError(f"The ramp has no step of {unknown[0]} %; it has {', '.join(map(str, RAMP_STEPS))}.")
    if 0 < len(steps) < _FEWEST:
        raise RefusedError(f"{len(steps)} of its steps say too little. Measure at least {_FEWEST}, or all six.")
    for lab in steps.values():
        check_lab(np.array(lab), "The measured grey")
    for paler, darker in pairwise(sorted(steps)):
        if steps[darker][0] >= steps[paler][0]:
            raise RefusedError(
                f"{darker} % reads no darker than {paler} % (L* {steps[darker][0]:.1f} and {steps[paler][0]:.1f}). "
                "Are the two exchanged?"
            )
