"""Regions of hue by which an eye is told where it errs, such as “dark reds”: families of hue, dark and light."""

from __future__ import annotations

from tidy_tinder.core.marks.arranging import arrange
from tidy_tinder.core.quantities import Lab

# Below this L* a colour counts as dark: Munsell value 5 (ASTM D1535).
_DARK_L = 51.0


def regions_of(lab: Lab) -> tuple[str, ...]:
    """The region of each Lab (N, 3). Raises ShapeError."""
    families = arrange(lab).family
    return tuple(f"{'dark' if L < _DARK_L else 'light'} {name}" for L, name in zip(lab[:, 0], families, strict=True))
