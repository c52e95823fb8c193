"""What a line of a recipe is read as: a heading, a note or a step, with the calls of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

from tidy_tinder.core.vocabulary import Finish, SaidPressure, SaidRole, StepKind

Span: TypeAlias = tuple[int, int]
"""Where words stand in a line: their start and end."""


@dataclass(frozen=True)
class ReadCall:
    """One colour that a step asks for.

    as_written: its words in the text; start, end: where they stand in the step's text, or the letter that stands for
    them there. key: the colour, or None where it is to be settled among `candidates`; problem says why. other: the
    second of “A or B”.
    """

    as_written: str
    start: int
    end: int
    key: int | None
    candidates: tuple[int, ...] = ()
    problem: str = ""
    pressure: SaidPressure = ""
    layers: int = 1
    role: SaidRole = ""
    other: int | None = None


@dataclass(frozen=True)
class ReadStep:
    """One line: a heading, a note or a step; text is the line without its number or bullet.

    left: words in it that may name a colour and were not read; number: the one that it is written with, 0 without.
    """

    kind: StepKind
    area: str
    text: str
    calls: tuple[ReadCall, ...] = ()
    pressure: SaidPressure = ""
    layers: int = 1
    finish: Finish = Finish.DRY
    left: tuple[Span, ...] = ()
    number: int = 0
