"""Marks as CGATS.17 text (ANSI CGATS.17-2009, from memory): keywords, named fields, one set of values a mark."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date

from tidy_tinder.core.errors import echoed
from tidy_tinder.formats.swatch_file.headings import FIELDS, SPECTRAL_FIELDS, light_in
from tidy_tinder.formats.swatch_file.record import MarkRecord, MarksFile, Said, White, refused
from tidy_tinder.formats.swatch_file.table import Table, cells_of, read_table

KIND = "CGATS.17"
# Fields of the standard; all others are announced by KEYWORD.
_STANDARD = frozenset({"SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B"})
_FIRST_LINE = re.compile(r"\s*(CGATS|CTI\d|IT8|SPECT|CIE)\b", re.IGNORECASE)
# Keywords that say what all values are for.
_OF_LIGHT = frozenset({"WEIGHTING_FUNCTION", "ILLUMINANT", "OBSERVER", "MEASUREMENT_SOURCE"})
_DIGITS = 8
# A word, or words in quotation marks, in which a doubled mark stands for one.
_TOKEN = re.compile(r'"(?:[^"]|"")*"|[^\s"]+|"')


def is_cgats(text: str) -> bool:
    """Whether a text begins as such files do, and holds a table of data."""
    return _FIRST_LINE.match(text) is not None and "BEGIN_DATA" in text


def write_cgats(records: Sequence[MarkRecord], made_on: date) -> bytes:
    """The marks as a file. Lab for D65, 2°; reflectance as factors. Of no mark a spectrum is made up: files with and
    without spectra differ in their fields, so that a mark without one among others has theirs as "".
    """
    spectral = any(record.spectrum is not None for record in records)
    fields = (*FIELDS, *SPECTRAL_FIELDS) if spectral else FIELDS
    head = [
        "CGATS.17", 'ORIGINATOR "Tidy Tinder"', f'CREATED "{made_on.isoformat()}"',
        'WEIGHTING_FUNCTION "ILLUMINANT, D65"', 'WEIGHTING_FUNCTION "OBSERVER, 2 degree"',
        *(f'KEYWORD "{name}"' for name in fields if name not in _STANDARD),
        f"NUMBER_OF_FIELDS {len(fields)}", "BEGIN_DATA_FORMAT", " ".join(fields), "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(records)}", "BEGIN_DATA",
    ]  # fmt: skip
    lines = [
        " ".join(_written(name, cell) for name, cell in zip(fields, cells_of(record, number), strict=False))
        for number, record in enumerate(records, 1)
    ]
    return "\n".join([*head, *lines, "END_DATA", ""]).encode()


def read_cgats(text: str, said: Said) -> MarksFile:
    """The marks of a file: of its first table that has values; every problem is in the result."""
    reading = _Reading()
    for number, line in enumerate(text.splitlines(), 1):
        reading.take(number, line)
        if reading.is_whole:
            break
    if not reading.is_whole:
        missing = "END_DATA" if reading.lines else "BEGIN_DATA"
        return refused(KIND, len(text.splitlines()), f"{missing} is missing: the file ends before its values do.")
    lines = reading.whole_lines()
    for number, cells in lines:
        if len(cells) != len(reading.fields):
            return refused(KIND, number, f"There are {len(cells)} values for {len(reading.fields)} fields.")
    if reading.sets is not None and reading.sets != len(lines):
        last = lines[-1][0] if lines else 1
        return refused(KIND, last, f"There are {len(lines)} sets of values, but NUMBER_OF_SETS says {reading.sets}.")
    return read_table(
        Table(
            KIND, reading.fields, lines, reading.white, reading.two_degree, reading.other_light, reading.heading_line
        ),
        said,
    )


def _written(name: str, cell: str) -> str:
    if name.startswith(("LAB_", "SPECTRAL_", "SAMPLE_ID", "LAYERS")) and cell:
        return cell
    doubled = cell.replace('"', '""')
    return f'"{doubled}"'


@dataclass
class _Reading:
    """The lines of a file, one after the other."""

    fields: list[str] = field(default_factory=list)
    lines: list[tuple[int, list[str]]] = field(default_factory=list)
    white: White | None = None
    two_degree: bool | None = None
    other_light: str = ""
    sets: int | None = None
    heading_line: int = 1
    is_whole: bool = False
    _part: str = ""

    def take(self, number: int, line: str) -> None:
        """Read one line."""
        words = list(_tokens(line))
        if not words:
            return
        if words[0].startswith("BEGIN_DATA"):
            self._part = words[0]
        elif words[0] == "END_DATA_FORMAT":
            self._part = ""
        elif words[0] == "END_DATA":
            self.is_whole, self._part = bool(self.fields), ""
        elif self._part == "BEGIN_DATA_FORMAT":
            self.fields += words
            self.heading_line = number
        elif self._part == "BEGIN_DATA":
            self.lines.append((number, words))
        else:
            self._keyword(words)

    def whole_lines(self) -> list[tuple[int, list[str]]]:
        """The sets of values: lines, or, where all of them are too short and the number of sets says so, several."""
        values = [(number, word) for number, words in self.lines for word in words]
        each = len(self.fields)
        if self.sets is None or len(values) != self.sets * each or any(len(words) > each for _, words in self.lines):
            return self.lines
        return [
            (values[at][0], [word for _, word in values[at : at + each]]) for at in range(0, len(values), max(each, 1))
        ]

    def _keyword(self, words: Sequence[str]) -> None:
        """What the file says of all its values: how many sets there are, the light and the observer."""
        keyword, said = words[0].upper(), " ".join(words[1:])
        if keyword == "NUMBER_OF_SETS" and said.isdecimal() and len(said) < _DIGITS:
            self.sets = int(said)
        if keyword not in _OF_LIGHT:
            return
        white, two_degree = light_in(said)
        self.two_degree = self.two_degree if two_degree is None else two_degree
        if white is not None:
            self.white, self.other_light = white, ""
        elif keyword == "ILLUMINANT" or said.upper().startswith("ILLUMINANT"):
            # What it names is neither light, and it is not for us to say what it may be taken for.
            self.white, self.other_light = None, echoed(said)


def _tokens(line: str) -> Iterable[str]:
    """The words of a line, without its comment."""
    return _without_comment(_TOKEN.findall(line))


def _without_comment(found: Iterable[str]) -> Iterator[str]:
    for token in found:
        if token.startswith("#"):
            return
        if len(token) > 1 and token.startswith('"'):
            yield token[1:-1].replace('""', '"')
        else:
            yield token
