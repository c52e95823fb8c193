"""The CIEDE2000 colour difference in an algebraic form: no cosine, one arc tangent.

Source of the formula: Luo, Cui, Rigg (2001), "The development of the CIE 2000 colour-difference
formula: CIEDE2000", Color Research & Application 26(5); its details and check pairs: Sharma, Wu, Dalal
(2005), "The CIEDE2000 color-difference formula: implementation notes, supplementary test data, and
mathematical observations", Color Research & Application 30(1). ISO/CIE 11664-6.

The textbook form goes through three hue angles and five cosines. Here hues stay unit vectors: their
mean is the bisector, the cosines of its multiples are polynomials in its two components, and ΔH'
follows from the scalar and vector products. Only the exponential of the rotation term needs the
mean hue as an angle.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import DeltaE, as_lab

_Array = NDArray[np.float64]

# Constant of the formula: 25 is the chroma at which the chroma weightings turn over.
_POW25_7 = 25.0**7

# cos and sin of the phase angles in T (Luo, Cui, Rigg 2001): 30°, 6° and 63°.
_COS30, _SIN30 = np.cos(np.radians(30.0)), np.sin(np.radians(30.0))
_COS6, _SIN6 = np.cos(np.radians(6.0)), np.sin(np.radians(6.0))
_COS63, _SIN63 = np.cos(np.radians(63.0)), np.sin(np.radians(63.0))

# Below this product of two chromas neither hue can be told: squares of it would vanish in a float.
_NO_HUE = 1e-100

# Pairs worked on at once, so that a block's temporaries stay in the processor's second-level cache:
# the fastest of 2048 to 65536 here by benchmarks/difference.py; smaller blocks pay for more calls.
_BLOCK = 16384


def delta_e_2000(lab_a: ArrayLike, lab_b: ArrayLike, kL: float = 1.0, kC: float = 1.0, kH: float = 1.0) -> DeltaE:
    """CIEDE2000 between `lab_a` and `lab_b`, which broadcast together.

    lab_a, lab_b: shape (…, 3), CIE L*a*b*, D65, 2°. kL, kC, kH: the parametric factors; a larger one
    makes that component count less. Returns shape (…), never negative.

    Raises ShapeError where the last axes are not 3 or the shapes do not broadcast.
    """
    a, b = as_lab(lab_a, "lab_a"), as_lab(lab_b, "lab_b")
    try:
        shape = np.broadcast_shapes(a.shape, b.shape)[:-1]
    except ValueError:
        raise ShapeError(f"lab_a {a.shape} and lab_b {b.shape} do not broadcast together.") from None
    if not shape:
        return delta_e_2000(a[None], b, kL, kC, kH)[0, ...]
    out = np.empty(shape)
    planes_a, planes_b = _planes(a, len(shape)), _planes(b, len(shape))
    rows = max(1, _BLOCK // max(1, out.size // max(1, shape[0])))
    for start in range(0, shape[0], rows):
        part = slice(start, start + rows)
        out[part] = _pairwise(_rows(planes_a, part), _rows(planes_b, part), kL, kC, kH)
    return out


def _planes(lab: _Array, ndim: int = 0) -> list[_Array]:
    """L*, a*, b* as contiguous arrays, and C*, which the mean chroma needs, computed once per colour."""
    padded = lab.reshape((1,) * max(0, ndim - lab.ndim + 1) + lab.shape)
    L, a, b = (np.ascontiguousarray(padded[..., i]) for i in range(3))
    return [np.asarray(x).reshape(padded.shape[:-1]) for x in (L, a, b, np.sqrt(a * a + b * b))]


def _rows(planes: list[_Array], part: slice) -> list[_Array]:
    """The block's share of each plane; a plane of length 1 is broadcast instead of cut."""
    return [p if p.shape[0] == 1 else p[part] for p in planes]


def _pairwise(first: list[_Array], second: list[_Array], kL: float, kC: float, kH: float) -> _Array:
    """The formula itself on broadcast planes (L*, a*, b*, C*); primes are written as trailing p."""
    L1, a1, b1, C1 = first
    L2, a2, b2, C2 = second
    one_plus_G = 1.5 - 0.5 * _chroma_seventh(0.5 * (C1 + C2))
    a1p, a2p = a1 * one_plus_G, a2 * one_plus_G
    C1p, C2p = np.sqrt(a1p * a1p + b1 * b1), np.sqrt(a2p * a2p + b2 * b2)
    x, y, dH = _hues(a1p, b1, C1p, a2p, b2, C2p)
    dL, dC = L2 - L1, C2p - C1p
    Cm = 0.5 * (C1p + C2p)

    x2, y2 = x * x - y * y, 2.0 * x * y
    x3, y3 = x2 * x - y2 * y, y2 * x + x2 * y
    x4, y4 = x2 * x2 - y2 * y2, 2.0 * x2 * y2
    T = 1.0 - (0.17 * _COS30) * x - (0.17 * _SIN30) * y + 0.24 * x2 + (0.32 * _COS6) * x3
    T -= (0.32 * _SIN6) * y3 + (0.20 * _COS63) * x4 + (0.20 * _SIN63) * y4
    L50 = 0.5 * (L1 + L2) - 50.0
    L50 *= L50
    term_L = dL / (kL * (1.0 + 0.015 * L50 / np.sqrt(20.0 + L50)))
    term_C = dC / (kC * (1.0 + 0.045 * Cm))
    term_H = dH / (kH * (1.0 + 0.015 * Cm * T))
    squares = term_L * term_L + term_C * term_C + term_H * (term_H + _rotation(x, y, Cm) * term_C)
    # Rounding may leave a square sum of −1e-30 where both colours are equal.
    result: _Array = np.sqrt(np.maximum(squares, 0.0))
    return result


def _chroma_seventh(C: _Array) -> _Array:
    """√(C⁷ / (C⁷ + 25⁷)) by products, which are faster than a power."""
    C2 = C * C
    C7 = C2 * C2 * C2 * C
    result: _Array = np.sqrt(C7 / (C7 + _POW25_7))
    return result


def _hues(a1: _Array, b1: _Array, C1: _Array, a2: _Array, b2: _Array, C2: _Array) -> tuple[_Array, _Array, _Array]:
    """Unit vector (x, y) of the mean hue, and ΔH' = 2 √(C1'C2') sin(Δh'/2) with its sign.

    The mean hue is the bisector of the shorter arc: the sum of the unit hue vectors. A grey has no hue,
    so the other colour's counts. ΔH'² = 2 (C1'C2' − s) with the scalar product s; written as
    2 v² / (C1'C2' + s) with the vector product v it keeps its digits for close hues.
    """
    product, scalar, vector = C1 * C2, a1 * a2 + b1 * b2, a1 * b2 - a2 * b1
    x, y = a1 * C2 + a2 * C1, b1 * C2 + b2 * C1
    dH = vector * np.sqrt(2.0 / np.maximum(product + scalar, 1e-300))
    special = (scalar <= -0.999 * product) | (product < _NO_HUE)
    if special.any():
        planes = (a1, b1, C1, a2, b2, C2, product, scalar, vector)
        _opposite_or_grey(special, [np.broadcast_to(p, special.shape)[special] for p in planes], x, y, dH)
    inverse = 1.0 / np.sqrt(x * x + y * y)
    return x * inverse, y * inverse, dH


def _opposite_or_grey(special: NDArray[np.bool_], picked: list[_Array], x: _Array, y: _Array, dH: _Array) -> None:
    """Put right, in place, the pairs for which the sum of the hue vectors is (nearly) nothing.

    Nearly opposite hues: the bisector is the difference of the vectors turned by 90° to the side of the
    shorter arc. At exactly 180° the published rule is the plain mean of both angles in [0°, 360°), which
    is 90° ahead of the smaller angle. Greys: the hue of the other; for two greys any hue, ΔH' being 0.
    """
    a1, b1, C1, a2, b2, C2, product, scalar, vector = picked
    smaller_first = (b1 > 0) | ((b1 == 0) & (a1 > 0))
    side = np.where(vector == 0.0, np.where(smaller_first, 1.0, -1.0), np.sign(vector))
    grey = product < _NO_HUE
    both_grey = np.sqrt(_NO_HUE) > C1 + C2
    x[special] = np.where(both_grey, 1.0, np.where(grey, a1 + a2, side * (b2 * C1 - b1 * C2)))
    y[special] = np.where(both_grey, 0.0, np.where(grey, b1 + b2, side * (a1 * C2 - a2 * C1)))
    dH[special] = np.where(grey, 0.0, side * np.sqrt(np.maximum(2.0 * (product - scalar), 0.0)))


def _rotation(x: _Array, y: _Array, Cm: _Array) -> _Array:
    """R_T = −sin(2Δθ) R_C, the rotation term for blues; Δθ = 30° exp(−((h̄ − 275°)/25°)²)."""
    hue = np.degrees(np.arctan2(y, x))
    # arctan2 gives −180° to 180°; 275° is −85°, and hues near +180° are too far away to matter, but the
    # formula measures from 0° to 360°, so hues below 0 are raised.
    away = (np.where(hue < 0.0, hue + 360.0, hue) - 275.0) / 25.0
    result: _Array = -2.0 * _chroma_seventh(Cm) * np.sin(np.radians(60.0) * np.exp(-away * away))
    return result
