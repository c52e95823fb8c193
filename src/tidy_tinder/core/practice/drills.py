"""The kinds of questions, and in what each is harder or easier."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Drill(StrEnum):
    """What is asked."""

    LIGHTER = "lighter"
    WARMER = "warmer"
    CLOSEST = "closest"
    ORDER = "order"
    VALUE_STEP = "value step"
    LAYER = "layer"
    TIN = "tin"


@dataclass(frozen=True)
class Scale:
    """How a drill is made harder. unit: of its level; begin: the level that it begins with; least, most: its bounds;
    guess: the share that is right by chance.
    """

    unit: str
    begin: float
    least: float
    most: float
    guess: float


SCALES = {
    Drill.LIGHTER: Scale("L*", 14.0, 0.8, 60.0, 1 / 2),
    Drill.WARMER: Scale("of temperature", 20.0, 1.0, 80.0, 1 / 2),
    Drill.CLOSEST: Scale("ΔE", 14.0, 1.0, 50.0, 1 / 4),
    Drill.ORDER: Scale("L*", 10.0, 0.8, 14.0, 1 / 720),
    Drill.LAYER: Scale("ΔE", 18.0, 1.5, 60.0, 1 / 4),
}
"""Of the drills that follow the artist; guess of six in order: one of 6! ways. The levels to begin with are ours."""

CHOICES = 4
"""Answers offered where there are several."""

IN_ORDER = 6
"""Colours that are put in order."""
