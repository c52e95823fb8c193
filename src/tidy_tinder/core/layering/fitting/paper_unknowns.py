"""What is unknown of a paper: nine numbers by their places, and which of them a load follows.

ln of its grain, ln(n − 1) of its Yule–Nielsen exponent, ln of the load at light, medium, heavy and of burnishing
beside the usual, a shift of the prior mean of ln s for all pencils, the logit of the share of a layer that misses by
chance, and ln of how much more a full tooth holds than its room says. Pencils are fitted on one paper, and what they
seem to be follows what that paper is taken to be.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]

GRAIN, OVER, LIGHT, MEDIUM, HEAVY, BURNISH, SHIFT, CHANCE, HELD = range(9)
PAPER_UNKNOWNS = 9
LOADS = [LIGHT, MEDIUM, HEAVY]
# How unsure each is (9,) of a paper without swatches; a standard deviation. Ours: of burnishing, of what misses by
# chance and of what a full tooth holds as wide as three simulated physics differ in them (decisions 0053, 0054).
PRIOR_SD: _Array = np.array([0.30, 0.25, 0.15, 0.12, 0.12, 0.55, 0.80, 1.10, 0.50])
# How an artist burnishes and how layers take to one another is hers and her pencils', whatever the paper; and how far
# papers part in these (ln, logit, ln; ours).
HERS = [BURNISH, CHANCE, HELD]
PAPERS_PART: _Array = np.array([0.20, 0.80, 0.40])
# Which of them the load at a pressure follows: burnishing is pressing hard, and more.
LOAD_AT = {
    Pressure.LIGHT: (LIGHT,), Pressure.MEDIUM: (MEDIUM,), Pressure.HEAVY: (HEAVY,), Pressure.BURNISH: (HEAVY, BURNISH),
}  # fmt: skip


def paper_follows(pressure: Pressure) -> _Array:
    """Which of a paper's unknowns (9,) the ln of a load at a pressure follows."""
    follows = np.zeros(PAPER_UNKNOWNS)
    follows[list(LOAD_AT[pressure])] = 1.0
    return follows
