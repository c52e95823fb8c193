"""What printed classes of cover say of how wax holds on wax, once marks over black have told how much pencils scatter.

A chart's class says how well a pencil covers what lies below it: by what its wax scatters, and by how much of it stays
there. Where pencils scatter less than their classes say, and those who printed these were not wrong, more of the wax
stays: on a full tooth, too. So layers of pencils that were seen over black are told nearer (decision 0057).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from tidy_tinder.core.layering.fitting.evidence import LN_S
from tidy_tinder.core.layering.fitting.paper_unknowns import HELD, HERS, PAPERS_PART, PRIOR_SD, SHIFT
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.tooth import scattering_of
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.vocabulary import PrintedOpacity

# A ground (L*) on which scattering shows: black papers and bars, no grey or buff ones.
_DARK = 40.0
# Standard deviation, in ln, of what all classes of a collection are wrong by beside what its pencils scatter and hold
# (ours: between what is best like the demo and in two other simulated physics, decision 0057).
_CLASSES_SD = 0.25
# ln of how much more a full tooth holds than where scattering is open: layers of pencils that may scatter more or less
# than is likeliest are lighter in the mean than those of likely ones, for which a tooth that holds less makes up (ours,
# decision 0057).
_KNOWN_HOLD = 0.2
# What is expected of a full tooth is rounded, so that one mark more over black leaves most of what was mixed as it was.
_ROUNDED_TO = 0.1


def expected_hold(pencils: Sequence[tuple[PencilFit, PrintedOpacity]]) -> float:
    """ln of how much more a full tooth holds than is usual, as fits of pencils with their printed classes say it; 0
    where none was seen on a dark ground. Raises OutOfRangeError for an unknown class.

    By how much all pencils scatter more than their classes is normal round nothing, and each round that; what the
    classes were wrong by in their sum of scattering and hold is normal round nothing, too.
    """
    told, to = 1.0 / PRIOR_SD[SHIFT] ** 2, 0.0
    dark = [(pencil, opacity) for pencil, opacity in pencils if pencil.grounds[0] < _DARK]
    for pencil, opacity in dark:
        usual = scattering_of(opacity)
        left, prior = float(pencil.covariance[LN_S, LN_S]), pencil.prior_s_sd**2
        if not opacity or left >= prior:
            continue
        # What its marks alone say, the prior of its fit undone.
        precision = 1.0 / left - 1.0 / prior
        off = (float(pencil.unknowns[LN_S]) - np.log(usual)) / left / precision
        weight = 1.0 / (prior + 1.0 / precision)
        told, to = told + weight, to + weight * off
    hold = PRIOR_SD[HELD] ** 2
    expected = _KNOWN_HOLD * len(dark) / max(len(pencils), 1) - to / told * hold / (hold + _CLASSES_SD**2)
    return float(np.round(expected / _ROUNDED_TO) * _ROUNDED_TO)


def with_hold(papers: Mapping[int, PaperFit], home: int, hold: float) -> dict[int, PaperFit]:
    """Papers as they are with another expectation of what a full tooth holds, as far as their marks left it open.

    home: the key of that which others' expectations rest on. What of a paper is told together with it moves along.
    """
    first = papers[home]
    moved = hold * first.covariance[:, HELD] / PRIOR_SD[HELD] ** 2
    part = float(PAPERS_PART[HERS.index(HELD)]) ** 2
    before = min(float(PRIOR_SD[HELD]) ** 2, float(first.covariance[HELD, HELD]) + part)
    return {
        key: replace(
            paper,
            unknowns=paper.unknowns + (moved if key == home else moved[HELD] * paper.covariance[:, HELD] / before),
        )
        for key, paper in papers.items()
    }
