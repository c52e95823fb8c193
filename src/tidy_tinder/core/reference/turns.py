"""In which order the colours of a picture are laid: from light to dark, the dark ones first, or from the middle out."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tidy_tinder.core.vocabulary import WorkOrder


def in_working_order(L: Sequence[float], order: WorkOrder) -> list[int]:
    """The places of colours of these L* as their turn comes; those of one lightness stay as they are.

    From the middle out begins with what is nearest to the median and goes both ways (common practice, no source).
    """
    light = np.asarray(L, dtype=np.float64)
    if order == WorkOrder.LIGHT_TO_DARK:
        key = -light
    elif order == WorkOrder.DARK_FIRST:
        key = light
    else:
        key = np.abs(light - np.median(light)) if len(light) else light
    return [int(i) for i in np.argsort(key, kind="stable")]
