"""Under which conditions a page is photographed: those of a good evening, and those that a reader must notice."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Condition(StrEnum):
    """What goes well or wrong."""

    WINDOW = "window"
    LAMP = "lamp"
    TILTED = "tilted"
    CURLED = "curled"
    SHADOW = "shadow"
    DARK = "dark"
    BLURRED = "blurred"
    CORNER_CUT = "corner_cut"
    REFLECTION = "reflection"
    MIRRORED = "mirrored"
    SCAN = "scan"


@dataclass(frozen=True)
class Shot:
    """How a picture is taken. kelvin: of the light; exposure: light of bare paper in the middle, 1 the most that the
    sensor holds; falloff: how much of it the far corner has less; shadow: how much a hand's shadow takes; tilt and turn
    in degrees; curl: rise of the paper at one side in mm; blur: of the lens, in mm on the page; grain: of the sensor,
    as a share of full scale; reflection: light mirrored at one place; contrast: of the camera's curve; fill: the part
    of the picture's height that the page takes; shift: how far the page lies off the middle, as a part of the picture.
    """

    kelvin: float = 5600.0
    exposure: float = 0.72
    falloff: float = 0.12
    shadow: float = 0.0
    tilt: float = 3.0
    turn: float = 1.2
    curl: float = 1.0
    blur: float = 0.08
    grain: float = 0.006
    reflection: float = 0.0
    contrast: float = 0.25
    fill: float = 0.93
    shift: float = 0.0
    mirrored: bool = False
    size: tuple[int, int] = (3000, 4000)
    quality: int = 92


SHOTS = {
    Condition.WINDOW: Shot(),
    Condition.LAMP: Shot(kelvin=2900.0, exposure=0.62, falloff=0.38, turn=-2.0),
    Condition.TILTED: Shot(tilt=16.0, turn=-5.0, fill=0.88),
    Condition.CURLED: Shot(curl=7.0, turn=2.5, fill=0.9),
    Condition.SHADOW: Shot(shadow=0.4),
    Condition.DARK: Shot(exposure=0.05, grain=0.015),
    Condition.BLURRED: Shot(blur=0.5),
    Condition.CORNER_CUT: Shot(fill=1.06, shift=0.05),
    Condition.REFLECTION: Shot(reflection=0.5),
    Condition.MIRRORED: Shot(mirrored=True),
    Condition.SCAN: Shot(
        kelvin=5200.0, exposure=0.8, falloff=0.0, tilt=0.0, turn=0.4, curl=0.0, blur=0.04, grain=0.002, contrast=0.0,
        fill=0.985, size=(2520, 3540), quality=96,
    ),
}  # fmt: skip
