"""What the colour reader's panel sends and gets."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from tidy_tinder.core.vocabulary import (
    MarkPressure,
    Pressure,
)
from tidy_tinder.web.shared.base import Id, Layers, Out, Schema
from tidy_tinder.web.shared.drawn import PatchOut


class ReaderInfoOut(Out):
    """Which instrument it is."""

    model: str
    serial: str
    aperture_mm: float
    simulated: bool


class ReaderStatusOut(Out):
    """How it is."""

    calibrated: bool
    readings_since: int
    battery: float


class ReaderOut(Out):
    """What is known of the reader now."""

    connected: bool
    info: ReaderInfoOut | None
    status: ReaderStatusOut | None
    address: str
    follows: bool
    under_it: str
    problem: str


class ConnectIn(Schema):
    """Where a reader listens on this machine."""

    port: int = Field(ge=1, le=65535)


class FollowIn(Schema):
    """Whether the simulated reader finds under it what the session asks for."""

    follows: bool


class UnderIn(Schema):
    """What lies under the simulated reader; without a colour, bare paper."""

    colour_id: Id | None = None
    paper_id: Id
    pressure: MarkPressure = Pressure.HEAVY
    layers: Layers = 1
    over_black: bool = False


class FaultIn(Schema):
    """How the simulated reader fails at its next reading."""

    kind: Literal["not-calibrated", "calibration-old", "lamp-low", "battery-low", "lifted", "silent", "garbage", "lost"]


class ReadOut(Out):
    """One reading; nothing is stored."""

    colour: PatchOut
    reflectance: list[float]
    instrument: str
