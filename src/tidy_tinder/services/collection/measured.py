"""How far a measured mark may be off, where whoever measured it says so: a photo does, a reader's is too little to
say.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from tidy_tinder.core.difference.local import radius
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.storage.queries.swatches import MeasuredMark


def band_of(mark: MeasuredMark) -> float | None:
    """The ΔE00 within which a mark that was measured by photo lies with 90 %; None for any other."""
    return None if mark.doubt is None else band(mark.lab, mark.doubt)


@lru_cache(maxsize=4096)
def band(lab: LabTriple, doubt: float) -> float:
    """The same for a Lab with a standard deviation along each of its axes."""
    return round(float(radius(doubt**2 * np.eye(3), np.array(lab))), 2)
