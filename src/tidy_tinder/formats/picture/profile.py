"""What a picture's numbers stand for: the curve and the matrix of its ICC profile (ICC.1:2022).

Only profiles of three colorants and three curves are read, as phones, cameras and most scanners write them. Numbers are
not converted to sRGB, which would cut off what a screen cannot show.
"""

from __future__ import annotations

import struct

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE, CameraSpace
from tidy_tinder.formats.errors import UnreadableError

Array = NDArray[np.float64]

_HEADER, _TAG = 128, 12
_MOST_TAGS = 200
_LEVELS = np.arange(256) / 255.0
_FIXED = 65536.0  # s15Fixed16Number
# sRGB's own colorants under D50, as its profiles hold them (Bradford; IEC 61966-2-1 amended).
_SRGB_COLORANTS = np.array([[0.43607, 0.38515, 0.14307], [0.22249, 0.71687, 0.06061], [0.01392, 0.09708, 0.71410]])
# Numbers of parameters of a parametric curve by its type.
_PARAMETERS = (1, 3, 4, 5, 7)


def space_of(profile: bytes | None) -> CameraSpace:
    """What the numbers of a picture with this profile stand for; sRGB without one.

    Raises UnreadableError for a profile that is damaged or has no matrix and curves, with what to do.
    """
    if not profile:
        return SRGB_SPACE
    try:
        tags = _tags(profile)
        colorants = np.stack([_xyz(tags[name]) for name in ("rXYZ", "gXYZ", "bXYZ")], -1)
        curves = [_curve(tags[name]) for name in ("rTRC", "gTRC", "bTRC")]
    except (KeyError, struct.error, ValueError, IndexError) as problem:
        raise UnreadableError(
            "The colour profile in this picture is of a kind that is not read here. Save the picture with the profile "
            "sRGB, or photograph with another program."
        ) from problem
    matrix = np.linalg.solve(_SRGB_COLORANTS, colorants)
    # Grey stays grey: roundings of the profile's numbers are no colour.
    matrix = matrix / matrix.sum(-1, keepdims=True)
    return CameraSpace(np.asarray(np.mean(curves, axis=0), dtype=np.float64), matrix, _name(tags))


def _tags(profile: bytes) -> dict[str, bytes]:
    if profile[36:40] != b"acsp" or profile[16:20] != b"RGB " or profile[20:24] != b"XYZ ":
        raise ValueError("no profile of three channels")
    (count,) = struct.unpack_from(">I", profile, _HEADER)
    if count > _MOST_TAGS:
        raise ValueError("too many tags")
    found = {}
    for i in range(count):
        name, offset, size = struct.unpack_from(">4sII", profile, _HEADER + 4 + i * _TAG)
        if offset + size > len(profile):
            raise ValueError("a tag that lies outside")
        found[name.decode("latin-1")] = profile[offset : offset + size]
    return found


def _xyz(tag: bytes) -> Array:
    if tag[:4] != b"XYZ ":
        raise ValueError("no XYZ")
    return np.array(struct.unpack_from(">3i", tag, 8)) / _FIXED


def _curve(tag: bytes) -> Array:
    """Linear light of each of 256 levels."""
    if tag[:4] == b"curv":
        (count,) = struct.unpack_from(">I", tag, 8)
        if count == 0:
            return _LEVELS
        values = np.array(struct.unpack_from(f">{count}H", tag, 12), dtype=np.float64)
        if count == 1:
            return np.asarray(_LEVELS ** (values[0] / 256.0), dtype=np.float64)
        return np.interp(_LEVELS, np.linspace(0, 1, count), values / 65535.0)
    if tag[:4] == b"para":
        (kind,) = struct.unpack_from(">H", tag, 8)
        numbers = [n / _FIXED for n in struct.unpack_from(f">{_PARAMETERS[kind]}i", tag, 12)]
        return _parametric(kind, numbers)
    raise ValueError("no curve")


def _parametric(kind: int, numbers: list[float]) -> Array:
    """ICC.1, table “parametricCurveType”: Y = (aX + b)^g + e from d on, cX + f below."""
    g, *rest = numbers
    a, b, c, d, e, f = (1.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    if kind in (1, 2):
        a, b = rest[:2]
        d = -b / a
        e = f = rest[2] if kind == 2 else 0.0
    elif kind in (3, 4):
        a, b, c, d = rest[:4]
        e, f = (rest[4], rest[5]) if kind == 4 else (0.0, 0.0)
    above = np.maximum(a * _LEVELS + b, 0.0) ** g + e
    return np.asarray(np.clip(np.where(d <= _LEVELS, above, c * _LEVELS + f), 0.0, 1.0), dtype=np.float64)


def _name(tags: dict[str, bytes]) -> str:
    """What the profile calls itself, for the record."""
    tag = tags.get("desc", b"")
    if tag[:4] == b"desc":
        (count,) = struct.unpack_from(">I", tag, 8)
        return tag[12 : 12 + count].decode("latin-1").strip("\0 ")[:80]
    if tag[:4] == b"mluc":
        length, offset = struct.unpack_from(">II", tag, 20)
        return tag[offset : offset + length].decode("utf-16-be", "replace").strip("\0 ")[:80]
    return "unnamed"
