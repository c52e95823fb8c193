"""How the demo's invented colourants fade: by the light that falls on them, each at its own rate.

No real pigment is meant. What is left of a colourant falls as a power of its light and not as the exponential that one
would guess, as fading slows down once the surface is bleached (ours).
"""

from __future__ import annotations

from dataclasses import replace

from tidy_tinder.devices.truth.pigments import PIGMENT_NAMES
from tidy_tinder.devices.truth.simulator import TruePencil

# Light on a strip a day by its place, in units of a bright window to the south (ours).
DAILY = {"south window": 1.0, "east window": 0.6, "west window": 0.6, "north window": 0.3, "lamp": 0.04}

# After so many days at a south window half of a colourant is gone; what is not named here does not fade.
_HALF = {
    "rose": 70.0, "crimson": 160.0, "violet": 120.0, "lemon": 420.0, "yellow": 900.0, "orange": 380.0, "scarlet": 700.0,
    "indigo": 600.0, "turquoise": 1500.0, "sea green": 1100.0, "leaf": 800.0, "red": 1400.0,
}  # fmt: skip
_SLOWING = 0.85


def faded(pencil: TruePencil, dose: float) -> TruePencil:
    """A pencil's mark after some light; dose: days at a south window, 0 and more."""
    if dose <= 0.0:
        return pencil
    left = [1.0 / (1.0 + (dose / _HALF[name]) ** _SLOWING) if name in _HALF else 1.0 for name in PIGMENT_NAMES]
    return replace(pencil, amounts=tuple(amount * share for amount, share in zip(pencil.amounts, left, strict=True)))
