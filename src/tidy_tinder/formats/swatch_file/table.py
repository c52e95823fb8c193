"""Marks as a table of named fields, one mark a line: what CSV and CGATS.17 share.

What a file does not say is asked for and never guessed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace

import numpy as np

from tidy_tinder.core.quantities import BANDS, Lab, Reflectance, check_lab
from tidy_tinder.core.reflectance.colorimetry import adapt_d50_to_d65, lab_from_hex, reflectance_to_lab
from tidy_tinder.core.reflectance.other_bands import on_our_bands
from tidy_tinder.core.vocabulary import MARK_PRESSURES, MOST_LAYERS, Finish, Ground, Source
from tidy_tinder.formats.swatch_file.cells import Cells, as_float
from tidy_tinder.formats.swatch_file.headings import (
    LAB,
    PRESSED,
    SPECTRAL_FIELDS,
    light_in,
    light_of,
    read_heading,
)
from tidy_tinder.formats.swatch_file.record import (
    MOST_MARKS,
    MOST_PROBLEMS,
    Ask,
    MarkProblem,
    MarkRecord,
    MarksFile,
    Said,
    White,
    on_one_line,
    refused,
)

ADAPTED_DOUBT = 0.76
"""Standard deviation of L*, a*, b* for D65 that were given for D50 and adapted: what their spectra would have told is
not in them. Root mean square over both 24-patch charts that colour-science carries (a test works it out again).
"""
_TOO_WIDE = "There are {} cells for {} fields. Words that hold what parts the cells stand in quotation marks."
# Nothing that is drawn reflects twice what it gets, so that larger numbers are per cent; in the dark readers err below
# 0.
_LEAST_FACTOR, _MOST_FACTOR = -0.05, 2.0


@dataclass(frozen=True)
class Table:
    """Lines of a file as they stand: cells by the line that they stand in. kind: of file, in words; white, two_degree:
    the light and the observer that the file says for all its values, None where it does not; other_light: its words
    for a light that is neither.
    """

    kind: str
    heading: Sequence[str]
    lines: Iterable[tuple[int, Sequence[str]]]
    white: White | None = None
    two_degree: bool | None = None
    other_light: str = ""
    heading_line: int = 1


def cells_of(record: MarkRecord, number: int) -> list[str]:
    """The cells of a mark, in the order of FIELDS and SPECTRAL_FIELDS; the numbers say all that is kept of them."""
    spectrum = [] if record.spectrum is None else [repr(float(v)) for v in record.spectrum]
    return [
        str(number), on_one_line(f"{record.title} {record.name}"), record.range_name, record.code, record.paper,
        record.pressure, str(record.layers), record.finish, record.over, *record.burnisher, record.source,
        record.instrument, record.made_on.isoformat() if record.made_on else "", on_one_line(record.note),
        _said(record.doubt), str(record.averaged_of), _said(record.aperture_mm), White.D65, "2 degree",
        *(repr(float(v)) for v in record.lab), *(spectrum or [""] * len(SPECTRAL_FIELDS)),
    ]  # fmt: skip


def _said(number: float | None) -> str:
    return "" if number is None else repr(float(number))


def read_table(table: Table, said: Said) -> MarksFile:
    """The marks of a table; every problem is in the result, none is raised."""
    heading = read_heading(table.heading, table.heading_line, said.columns)
    places, bands, ignored = heading.places, heading.bands, heading.ignored
    if heading.problems:
        return MarksFile(table.kind, problems=heading.problems, ignored=ignored, read_as=heading.read_as)
    white, two_degree = light_of(table.heading)
    table = replace(
        table, white=white if table.white is None else table.white,
        two_degree=two_degree if table.two_degree is None else table.two_degree,
    )  # fmt: skip
    asks = _asks(places, bool(bands), table, said)
    if asks:
        return MarksFile(table.kind, asks=asks, ignored=ignored, read_as=heading.read_as)
    lines = [(number, cells) for number, cells in table.lines if any(cell.strip() for cell in cells)]
    if len(lines) > MOST_MARKS:
        return refused(table.kind, lines[MOST_MARKS][0], f"A file has at most {MOST_MARKS:,} marks. Divide it.")
    reading = _Reading(table, said, places, bands)
    # By most of the lines, so that one slip of the pen makes no other value a hundredth.
    reading.is_percent = 2 * sum(reading.most_of(cells) > _MOST_FACTOR for _, cells in lines) >= max(len(lines), 1)
    for number, cells in lines:
        reading.take(number, cells)
        if len(reading.problems) > MOST_PROBLEMS:
            break
    if not reading.records and not reading.problems:
        reading.problems.append(MarkProblem(table.heading_line + 1, "", "There is a heading but no mark below it."))
    return MarksFile(
        table.kind, () if reading.problems else tuple(reading.records), (), tuple(reading.problems[:MOST_PROBLEMS]),
        ignored, reading.adapted, reading.regridded, heading.read_as,
    )  # fmt: skip


def _asks(places: Mapping[str, int], spectral: bool, table: Table, said: Said) -> tuple[Ask, ...]:
    """What neither the file nor the artist says."""
    asks = [
        ask
        for ask, name, answer in (
            (Ask.RANGE, "RANGE", said.range_name), (Ask.PAPER, "PAPER", said.paper),
            (Ask.PRESSURE, "PRESSURE", said.pressure),
        )
        if name not in places and answer is None
    ]  # fmt: skip
    # A spectrum tells its colour under any light, and a hex is sRGB, whose white is D65.
    lab_only = not spectral and "HEX" not in places
    if lab_only and "WHITE" not in places and (table.white or said.white) is None and not table.other_light:
        asks.append(Ask.WHITE)
    return tuple(asks)


@dataclass
class _Reading:
    """A table while it is read."""

    table: Table
    said: Said
    places: Mapping[str, int]
    bands: Mapping[float, int]
    records: list[MarkRecord] = field(default_factory=list)
    problems: list[MarkProblem] = field(default_factory=list)
    is_percent: bool = False
    adapted: int = 0
    regridded: int = 0

    @property
    def _is_of_a_screen(self) -> bool:
        return not self.bands and "LAB_L" not in self.places

    def most_of(self, cells: Sequence[str]) -> float:
        """The largest reflectance in a line, as it is written; 0 where none can be read."""
        most = 0.0
        for place in self.bands.values():
            with suppress(ValueError, IndexError):
                most = max(most, as_float(cells[place]))
        return most

    def take(self, number: int, cells: Sequence[str]) -> None:
        """Read one line."""
        before, adapted = len(self.problems), self.adapted
        wide = max((at + 1 for at, cell in enumerate(cells) if cell.strip()), default=0)
        if wide > len(self.table.heading):
            self.problems.append(MarkProblem(number, "", _TOO_WIDE.format(wide, len(self.table.heading))))
            return
        line = Cells(number, cells, self.places, self.problems)
        lab, spectrum = self._colour(line)
        code = line.text("CODE") or line.text("SAMPLE_ID") or line.text("SAMPLE_NAME")
        if not code:
            line.wrong("CODE", "This cell is empty, but every mark is of a pencil.")
        range_name = line.text("RANGE") or self.said.range_name or ""
        paper = line.text("PAPER") or self.said.paper or ""
        for name, value in (("RANGE", range_name), ("PAPER", paper)):
            if not value:
                line.wrong(name, "This cell is empty, and nothing was said for the whole file.")
        pressure = line.word("PRESSURE", MARK_PRESSURES, self.said.pressure, PRESSED)
        finish = line.word("FINISH", tuple(Finish), Finish.DRY)
        over = line.word("OVER", tuple(Ground), Ground.PAPER)
        # A colour of a screen was not measured.
        source = line.word("SOURCE", tuple(Source), Source.TYPED if self._is_of_a_screen else Source.READER)
        layers, averaged_of = line.count("LAYERS", MOST_LAYERS), line.count("AVERAGED_OF", 9)
        doubt, aperture, made_on = line.positive("DOUBT"), line.positive("APERTURE_MM"), line.day("MADE_ON")
        burnisher = (line.text("BURNISHER_RANGE"), line.text("BURNISHER_CODE"))
        instrument, note = line.text("INSTRUMENT"), line.text("NOTE")
        if self.adapted > adapted:
            doubt = float(np.hypot(doubt or 0.0, ADAPTED_DOUBT))
        if len(self.problems) == before and lab is not None and pressure and finish and over and source:
            self.records.append(
                MarkRecord(
                    number, range_name, code, paper, pressure, lab, spectrum, "", layers, finish, over, burnisher,
                    source, instrument, made_on, note, doubt, averaged_of, aperture,
                )
            )  # fmt: skip

    def _colour(self, line: Cells) -> tuple[Lab | None, Reflectance | None]:
        """Lab for D65, 2°, and the spectrum; where there is one it says the colour, unless that stands beside it."""
        spectrum = self._spectrum(line) if self.bands else None
        if spectrum is not None and not self._is_own_lab(line):
            return line.sure("SPECTRAL", lambda: check_lab(reflectance_to_lab(spectrum), "The colour")), spectrum
        if line.text("HEX") and spectrum is None:
            return line.sure("HEX", lambda: lab_from_hex(line.text("HEX"))), None
        return self._for_daylight(line, self._lab(line)), spectrum

    def _for_daylight(self, line: Cells, lab: Lab | None) -> Lab | None:
        """A Lab for D65, 2°, as the line, the file or the artist says what it is for."""
        here = line.text("WHITE")
        white = light_in(here)[0]
        if lab is None:
            return None
        if white is None and (here or self.table.other_light):
            line.wrong("WHITE", f"“{here or self.table.other_light}” is not known here; values are for D50 or D65.")
            return None
        white = white or self.table.white or self.said.white
        if self._two_degree(line) is False:
            line.wrong("OBSERVER", "These values are for another observer than 2°, and without a spectrum stay so.")
            return None
        if white is None:
            line.wrong("WHITE", "Nothing says for which light this is; it is D50 or D65.")
            return None
        self.adapted += white == White.D50
        return adapt_d50_to_d65(lab) if white == White.D50 else lab

    def _is_own_lab(self, line: Cells) -> bool:
        """Whether a Lab stands beside the spectrum that is said to be for our light and observer."""
        white = light_in(line.text("WHITE"))[0] or self.table.white
        return white == White.D65 and self._two_degree(line) is True and all(line.text(name) for name in LAB)

    def _two_degree(self, line: Cells) -> bool | None:
        said = line.text("OBSERVER")
        if said:
            return said.startswith("2")
        in_white = light_in(line.text("WHITE"))[1]
        return self.table.two_degree if in_white is None else in_white

    def _lab(self, line: Cells) -> Lab | None:
        names = LAB if all(name in self.places for name in LAB) else ("LAB_L", "LCH_C", "LCH_H")
        numbers = [line.number(name) for name in names]
        if any(number is None for number in numbers):
            if not line.is_wrong:
                line.wrong(", ".join(names), "There is no measured value in this line.")
            return None
        L, one, two = (float(number or 0.0) for number in numbers)
        if names != LAB:
            one, two = one * np.cos(np.radians(two)), one * np.sin(np.radians(two))
        return line.sure(", ".join(names), lambda: check_lab([L, one, two], "The colour"))

    def _spectrum(self, line: Cells) -> Reflectance | None:
        waves = sorted(self.bands)
        cells = [line.at(self.bands[wave]) for wave in waves]
        if not any(cells):
            return None
        values = [line.as_number(f"SPECTRAL_NM{wave:.0f}", cell) for wave, cell in zip(waves, cells, strict=True)]
        if any(value is None for value in values):
            return None
        R = np.array(values, dtype=np.float64)
        R = R / 100.0 if self.is_percent else R
        if not (R.min() >= _LEAST_FACTOR and R.max() <= _MOST_FACTOR):
            line.wrong("SPECTRAL", "Reflectance lies between 0 and 1, or between 0 and 100 %.")
            return None
        own = waves == BANDS.tolist()
        self.regridded += not own
        return R if own else line.sure("SPECTRAL", lambda: on_our_bands(waves, R))
