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
# Which of them the load at a pressure follows: burnishing is pressing hard, and more.
LOAD_AT = {
    Pressure.LIGHT: (LIGHT,), Pressure.MEDIUM: (MEDIUM,), Pressure.HEAVY: (HEAVY,), Pressure.BURNISH: (HEAVY, BURNISH),
}  # fmt: skip


def paper_follows(pressure: Pressure) -> _Array:
    """Which of a paper's unknowns (9,) the ln of a load at a pressure follows."""
    follows = np.zeros(PAPER_UNKNOWNS)
    follows[list(LOAD_AT[pressure])] = 1.0
    return follows
