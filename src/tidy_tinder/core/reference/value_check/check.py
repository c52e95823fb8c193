"""A drawing's values checked against its reference: zone by zone darker, lighter, right, or not to be told."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.value_check.corners import WIDTH, flatten
from tidy_tinder.core.reference.value_check.curve import Curve, common_curve
from tidy_tinder.core.reference.value_check.laying_on import LaidOn, laid, lay_on
from tidy_tinder.core.reference.value_check.light import Evened, even_by_patch, even_light
from tidy_tinder.core.reference.value_check.refusal import IF_SO, UNLIKE, CannotCheckError, Gate
from tidy_tinder.core.reference.value_check.zones import Zones, zones_in
from tidy_tinder.core.reference.working import Light, picture_lab

_Array = NDArray[np.float64]

# The design's figures: blur as a share of the width; bare paper; where it is told; below which rank nothing is.
_BLUR = 0.004
_BARE_L, _BARE_CHROMA, _BARE_REFERENCE = 90.5, 8.0, 82.0
_CLOSED = 9
_DARKER_FROM, _SURE_FROM, _RIGHT_WITHIN = 5.0, 1.6, 3.0
_SHIFT = 0.004
_LEAST_RANK = 0.6
# Where one patch stands for the light of all.
_DARKER_FROM_BY_PATCH = 8.0
# Of a zone this share must be drawn before anything is said of it.
_DRAWN = 0.6
# Of a normal distribution the quartiles lie 1.349 deviations apart; a zone's own texture counts for a quarter of that.
_IQR = 5.4


class Verdict(StrEnum):
    """What a photo can tell of a zone."""

    DARKER = "darker"
    LIGHTER = "lighter"
    RIGHT = "right"
    CANNOT_TELL = "cannot tell"
    NOT_DRAWN = "not drawn yet"


@dataclass(frozen=True)
class ZoneChecked:
    """One zone. off: its L* less what the common curve asks (positive: it is too light, and should go darker); sigma:
    the doubt of that; share: of the picture's area; x, y: its middle, 0 to 1; reference_L, drawing_L: medians.
    """

    label: int
    verdict: Verdict
    off: float
    sigma: float
    share: float
    x: float
    y: float
    reference_L: float
    drawing_L: float


@dataclass(frozen=True, eq=False)
class ValueCheck:
    """The check with its workings: zones, the largest that is wrong first; rank: how alike the order of values is."""

    zones: tuple[ZoneChecked, ...]
    labels: NDArray[np.int32]
    curve: Curve
    laid_on: LaidOn
    light: Evened
    rank: float
    drawing: Light


def check_values(
    photo: Light, corners: _Array, reference: Light, paper: Lab, overrule_rank: bool = False,
    patch: tuple[float, float] | None = None,
) -> ValueCheck:  # fmt: skip
    """Check a photo of a drawing (linear light, H, W, 3) against its reference (linear light).

    corners: (4, 2) of the picture in the photo, in pixels; paper: Lab (3,) of the bare paper; overrule_rank: go on all
    the same where the order of values is unlike; patch: x and y of bare paper in the photo, for a picture with no bare
    margin: its light is taken for that of the whole, and less is told. No absolute ΔL* is told: only what leaves the
    common curve. Raises CannotCheckError.
    """
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    aspect = reference.shape[0] / reference.shape[1]
    flat = flatten(photo, corners, aspect)
    evened = even_light(flat, paper) if patch is None else even_by_patch(flat, photo, patch, paper)
    size = evened.light.shape[:2]
    small = np.asarray(cv2.resize(reference, (size[1], size[0]), interpolation=cv2.INTER_AREA), dtype=np.float32)
    wanted, seen = _blurred_lab(small), _blurred_lab(evened.light)
    on = lay_on(seen[..., 0].astype(np.float32), wanted[..., 0].astype(np.float32))
    drawn = laid(seen.astype(np.float32), on, size).astype(np.float64)
    bare = _bare(drawn, wanted[..., 0])
    zones = zones_in(wanted)
    facts = _facts(zones, wanted[..., 0], drawn[..., 0], bare)
    if len(facts.label) < 4:
        raise CannotCheckError("Hardly anything is drawn yet: check the values when there is more.", Gate.LIKENESS)
    rank = _rank_correlation(facts.reference, facts.drawing)
    if rank < _LEAST_RANK and not overrule_rank:
        raise CannotCheckError(f"{UNLIKE} {IF_SO}", Gate.RANK)
    curve = common_curve(facts.reference, facts.drawing, facts.area)
    off = facts.drawing - curve(facts.reference)
    sigma = np.sqrt(1.0 + _under_shifts(zones, facts, drawn[..., 0], bare) ** 2 + (facts.iqr / _IQR) ** 2)
    told_from = _DARKER_FROM if patch is None else _DARKER_FROM_BY_PATCH
    told = _told(zones, facts, off, sigma, told_from)
    return ValueCheck(told, zones.labels, curve, on, evened, rank, evened.light)


@dataclass(frozen=True, eq=False)
class _Facts:
    """Of each zone that is drawn (N,): its number, medians of L*, pixels, quartile range in the drawing; and the
    numbers of those that are not drawn.
    """

    label: NDArray[np.int64]
    reference: _Array
    drawing: _Array
    area: _Array
    iqr: _Array
    empty: NDArray[np.int64]


def _blurred_lab(light: Light) -> Lab:
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    return picture_lab(np.asarray(cv2.GaussianBlur(light, (0, 0), _BLUR * WIDTH), dtype=np.float32))


def _bare(drawn: Lab, wanted: _Array) -> NDArray[np.bool_]:
    """Where the paper still lies bare and should not: small specks are tooth."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    white = (
        (drawn[..., 0] > _BARE_L) & (np.hypot(drawn[..., 1], drawn[..., 2]) < _BARE_CHROMA) & (wanted < _BARE_REFERENCE)
    )
    shape = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (_CLOSED, _CLOSED))
    closed = cv2.morphologyEx(white.astype(np.uint8), cv2.MORPH_CLOSE, shape)
    return np.asarray(cv2.morphologyEx(closed, cv2.MORPH_OPEN, shape) > 0)


def _facts(zones: Zones, wanted: _Array, drawn: _Array, bare: NDArray[np.bool_]) -> _Facts:
    found: list[tuple[int, float, float, float, float]] = []
    empty = []
    asked, there, free = wanted.ravel(), drawn.ravel(), ~bare.ravel()
    for label, places in _places(zones):
        open_places = places[free[places]]
        if len(open_places) < _DRAWN * len(places):
            empty.append(label)
            continue
        low, middle, high = np.percentile(there[open_places], (25, 50, 75))
        found.append((label, float(np.median(asked[open_places])), float(middle), len(places), high - low))
    rows = np.array(found, dtype=np.float64).reshape(-1, 5)
    return _Facts(
        rows[:, 0].astype(np.int64), rows[:, 1], rows[:, 2], rows[:, 3], rows[:, 4], np.array(empty, np.int64)
    )


def _places(zones: Zones) -> list[tuple[int, NDArray[np.int64]]]:
    """Each zone's number with its places in the flattened picture."""
    flat = zones.labels.ravel()
    order = np.argsort(flat, kind="stable")
    ends = np.searchsorted(flat[order], np.arange(zones.count + 1))
    return [(i, order[ends[i] : ends[i + 1]]) for i in range(zones.count) if ends[i + 1] > ends[i]]


def _under_shifts(zones: Zones, facts: _Facts, drawn: _Array, bare: NDArray[np.bool_]) -> _Array:
    """How much each zone's median changes (N,) where the drawing is laid a little otherwise."""
    shift = max(1, round(_SHIFT * drawn.shape[1]))
    places, free = dict(_places(zones)), ~bare.ravel()
    open_places = [places[int(label)][free[places[int(label)]]] for label in facts.label]
    changes = []
    for dy, dx in ((shift, 0), (-shift, 0), (0, shift), (0, -shift)):
        moved = np.roll(drawn, (dy, dx), axis=(0, 1)).ravel()
        changes.append(
            [abs(float(np.median(moved[at])) - middle) for at, middle in zip(open_places, facts.drawing, strict=True)]
        )
    return np.asarray(np.max(changes, axis=0))


def _told(zones: Zones, facts: _Facts, off: _Array, sigma: _Array, told_from: float) -> tuple[ZoneChecked, ...]:
    high, wide = zones.labels.shape
    total = high * wide
    places = dict(_places(zones))
    told = []
    for i, label in enumerate(facts.label):
        y, x = np.divmod(places[int(label)], wide)
        told.append(
            ZoneChecked(
                int(label), _verdict(float(off[i]), float(sigma[i]), told_from), float(off[i]), float(sigma[i]),
                float(facts.area[i]) / total, float(x.mean()) / wide, float(y.mean()) / high,
                float(facts.reference[i]), float(facts.drawing[i]),
            )
        )  # fmt: skip
    for label in facts.empty:
        y, x = np.divmod(places[int(label)], wide)
        share = len(y) / total
        told.append(
            ZoneChecked(
                int(label), Verdict.NOT_DRAWN, 0.0, 0.0, share, float(x.mean()) / wide, float(y.mean()) / high, 0.0, 0.0
            )
        )
    wrong = (Verdict.DARKER, Verdict.LIGHTER)
    return tuple(sorted(told, key=lambda zone: (zone.verdict not in wrong, -abs(zone.off))))


def _verdict(off: float, sigma: float, told_from: float) -> Verdict:
    if abs(off) >= told_from and abs(off) >= _SURE_FROM * sigma:
        return Verdict.DARKER if off > 0.0 else Verdict.LIGHTER
    return Verdict.RIGHT if sigma < _RIGHT_WITHIN else Verdict.CANNOT_TELL


def _rank_correlation(one: _Array, other: _Array) -> float:
    """Spearman's, of two sets of values (N,)."""
    from scipy.stats import rankdata  # noqa: PLC0415 -- loaded when a drawing is checked

    return float(np.corrcoef(rankdata(one), rankdata(other))[0, 1])
