"""Smooth surfaces over a page: polynomials in x and y, of places scaled to −1 … 1."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def powers(points_mm: NDArray[np.float64], degree: int, page_mm: tuple[float, float]) -> NDArray[np.float64]:
    """The products of powers of x and y up to a degree together, (n, terms), of places (n, 2) in mm on the page.

    The first term is the level, the next two are the tilt.
    """
    x, y = 2 * points_mm[:, 0] / page_mm[0] - 1, 2 * points_mm[:, 1] / page_mm[1] - 1
    exponents = [(i, total - i) for total in range(degree + 1) for i in range(total, -1, -1)]
    return np.stack([x**i * y**j for i, j in exponents], axis=-1)
