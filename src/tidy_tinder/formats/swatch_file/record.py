"""A measured mark as a file says it, what of a file is asked for, and what is wrong with it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum

from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.vocabulary import Finish, Ground, Pressure, Source
from tidy_tinder.formats.columns import Columns, ReadAs

MOST_MARKS = 20_000
"""So many marks a file has at most: reading them takes some five seconds (measured)."""
MOST_BYTES = 60_000_000
MOST_PROBLEMS = 200
"""A file with something wrong in every line need not fill the screen."""


@dataclass(frozen=True, eq=False)
class MarkRecord:
    """One mark. line: where it stands in the file, 0 where it is to be written; lab (3,): D65, 2°; spectrum (31,) or
    None; range_name and code of the pencil, and of the one that it was burnished with ("" for none); doubt: standard
    deviation of L*, a*, b*, where it is known; averaged_of: readings.
    """

    line: int
    range_name: str
    code: str
    paper: str
    pressure: Pressure
    lab: Lab
    spectrum: Reflectance | None = None
    name: str = ""
    layers: int = 1
    finish: Finish = Finish.DRY
    over: Ground = Ground.PAPER
    burnisher: tuple[str, str] = ("", "")
    source: Source = Source.READER
    instrument: str = ""
    made_on: date | None = None
    note: str = ""
    doubt: float | None = None
    averaged_of: int = 1
    aperture_mm: float | None = None

    @property
    def title(self) -> str:
        """What the mark is called in a file."""
        over = " over black" if self.over == Ground.BLACK else ""
        layers = f" x{self.layers}" if self.layers > 1 else ""
        return f"{self.range_name} {self.code} {self.pressure}{layers}{over}"


class White(StrEnum):
    """The light that L*, a*, b* are said for."""

    D65 = "D65"
    D50 = "D50"


@dataclass(frozen=True)
class Said:
    """What the artist says of a file that does not say it itself, None: not said; and what its columns are."""

    range_name: str | None = None
    paper: str | None = None
    pressure: Pressure | None = None
    white: White | None = None
    columns: Columns = field(default_factory=dict)


class Ask(StrEnum):
    """What a file does not say and must be said."""

    RANGE = "range"
    PAPER = "paper"
    PRESSURE = "pressure"
    WHITE = "white"


@dataclass(frozen=True)
class MarkProblem:
    """What is wrong, where: line (or the place of an object, from 1) and field ("" for all of it)."""

    line: int
    field: str
    message: str


@dataclass(frozen=True, eq=False)
class MarksFile:
    """What a file holds. kind: of file, in words; records are complete only where there is neither ask nor problem;
    ignored: fields that are not read; adapted: values that were given under D50; regridded: spectra on other bands;
    read_as: fields that are read, those of a spectrum as one.
    """

    kind: str
    records: tuple[MarkRecord, ...] = ()
    asks: tuple[Ask, ...] = ()
    problems: tuple[MarkProblem, ...] = ()
    ignored: tuple[str, ...] = ()
    adapted: int = 0
    regridded: int = 0
    read_as: tuple[ReadAs, ...] = ()


def refused(kind: str, line: int, message: str) -> MarksFile:
    """A file that cannot be read at all, with the one reason."""
    return MarksFile(kind, problems=(MarkProblem(line, "", message),))


def on_one_line(words: Iterable[str] | str) -> str:
    """Words with no break and no doubled blank in them."""
    return " ".join((words if isinstance(words, str) else " ".join(words)).split())
