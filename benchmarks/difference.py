"""CIEDE2000 beside colour-science's, on the same pairs in the same run."""

from __future__ import annotations

import warnings

import numpy as np

from benchmarks.timing import best_ms
from tidy_tinder.core.difference.ciede2000 import delta_e_2000


def rows() -> list[tuple[str, str, str]]:
    """(what, figure, aim) for each shape."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour  # noqa: PLC0415 -- takes seconds; only this benchmark needs it
    rng = np.random.default_rng(1)
    labs = rng.uniform((0, -100, -100), (100, 100, 100), (100_000, 3))
    shapes = {"500 × 500": (labs[:500, None], labs[None, 500:1000]), "1 × 100,000": (labs[:1], labs)}
    result = []
    for name, (a, b) in shapes.items():
        ours = best_ms(lambda a=a, b=b: delta_e_2000(a, b))  # type: ignore[misc] # bound now, for this shape
        theirs = best_ms(lambda a=a, b=b: colour.difference.delta_E_CIE2000(a, b), runs=5)  # type: ignore[misc]
        figure = f"{theirs / ours:.1f} × as fast ({ours:.0f} ms; {theirs:.0f} ms)"
        result.append((f"CIEDE2000, {name}, beside colour-science", figure, "≥ 2 ×"))
    return result
