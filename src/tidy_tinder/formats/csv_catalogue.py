"""A catalogue as CSV: one colour a line (docs/formats.md).

Reading never stops at the first problem: it names every one by line and column, and gives rows only where
there is none. Nothing is guessed: an unreadable cell is a problem, not a blank.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from tidy_tinder.core.errors import CoreError, echoed
from tidy_tinder.core.names.finding import fold_code
from tidy_tinder.core.quantities import Lab, check_lab
from tidy_tinder.core.reflectance.colorimetry import adapt_d50_to_d65, lab_from_hex
from tidy_tinder.core.vocabulary import Effect, Opacity
from tidy_tinder.formats.columns import NOTHING_SAID, Columns, Field, ReadAs, called, folded
from tidy_tinder.formats.csv_cells import holds_controls
from tidy_tinder.formats.file_text import NoText, text_of

COLUMNS = (
    "maker", "range", "code", "name", "L", "a", "b", "hex", "white", "opacity", "lightfastness", "effect", "owned",
)  # fmt: skip
REQUIRED = ("range", "code", "name")
# What else a column is called, folded: English, German, French, Spanish.
_CALLED = called(
    {
        "maker": "brand manufacturer hersteller marke marque fabricant fabricante marca",
        "range": "line series serie linie sortiment gamme gama línea linea",
        "code": "farbnummer colourcode colorcode colournumber colornumber",
        "name": "farbname bezeichnung nom nombre colourname colorname",
        "L": "l* labl ciel ciel* cielabl",
        "a": "a* laba ciea ciea* cielaba",
        "b": "b* labb cieb cieb* cielabb",
        "hex": "srgb html hexcode",
        "white": "illuminant lichtart weissart weißart",
        "opacity": "cover coverage deckkraft opacité opacite opacidad",
        "lightfastness": "lightfast lichtechtheit lf solidité solidite solidez",
        "effect": "effekt effet efecto",
        "owned": "own quantity qty pieces vorhanden anzahl quantité quantite cantidad",
    }
)
# What may be another thing as well, such as a running number: read so where nothing else is that column.
_PERHAPS = called({"code": "number no nr num nummer numéro numero número", "name": "colour color farbe couleur"})
_MEANS: Mapping[str, str] = {"L": "L*", "a": "a*", "b": "b*", "hex": "sRGB", "white": "light", "owned": "pencils owned"}
MOST_BYTES = 20_000_000
# Taking in so many colours with their pencils holds up other writing for some eight seconds (sixteen for
# 100,000, measured).
MOST_ROWS = 50_000
MOST_OWNED = 99
_LONGEST = 120
_MOST_COLUMNS = 1_000
# A file with something wrong in every line need not fill the screen.
MOST_PROBLEMS = 200


@dataclass(frozen=True)
class Problem:
    """What is wrong, where: line as a text editor counts, column by its heading ("" for the whole line)."""

    line: int
    column: str
    message: str


@dataclass(frozen=True)
class CatalogueRow:
    """One colour of the file. lab (3,) is D65, 2°, or None; lab_source says where it came from."""

    line: int
    maker: str
    range_name: str
    code: str
    name: str
    lab: Lab | None
    lab_source: str
    opacity: str
    lightfastness: str
    effect: str
    owned: int | None


@dataclass(frozen=True)
class CatalogueFile:
    """What a file holds. Rows are complete only where `problems` is empty."""

    rows: tuple[CatalogueRow, ...]
    problems: tuple[Problem, ...]
    adapted_from_d50: int
    ignored_columns: tuple[str, ...]
    read_as: tuple[ReadAs, ...] = ()


def catalogue_fields() -> tuple[Field, ...]:
    """All that a column can be read as."""
    return tuple(Field(name, _MEANS.get(name, name)) for name in COLUMNS)


def read_catalogue(content: bytes, said: Columns = NOTHING_SAID) -> CatalogueFile:
    """Read a catalogue file, its columns as the artist says where she does; every problem is in the result, none is
    raised.
    """
    text = text_of(content, MOST_BYTES, "a catalogue")
    if isinstance(text, NoText):
        return CatalogueFile((), (Problem(text.line, "", text.message),), 0, ())
    separator = _separator(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=True)
    try:
        heading = next(reader, None)
    except csv.Error as error:
        return CatalogueFile((), (Problem(1, "", f"The heading cannot be read: {error}."),), 0, ())
    if len(heading or []) > _MOST_COLUMNS:
        told = f"The heading has {len(heading or []):,} columns; at most {_MOST_COLUMNS:,} are read."
        return CatalogueFile((), (Problem(1, "", told),), 0, ())
    columns = _heading(heading or [], said)
    if columns.problems:
        return CatalogueFile((), columns.problems, 0, columns.ignored, columns.read_as)
    return _read_lines(reader, columns, decimal_comma=separator == ";")


@dataclass(frozen=True)
class ExportRow:
    """One colour to be written; lab is D65, 2°."""

    maker: str
    range_name: str
    code: str
    name: str
    lab: tuple[float, float, float] | None
    opacity: str
    lightfastness: str
    effect: str
    owned: int


def write_catalogue(rows: Sequence[ExportRow]) -> bytes:
    """A catalogue file of these colours: UTF-8 with a byte order mark, as spreadsheets want it."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for row in rows:
        L, a, b = (repr(float(v)) for v in row.lab) if row.lab is not None else ("", "", "")
        white = "D65" if row.lab is not None else ""
        writer.writerow(
            [row.maker, row.range_name, row.code, row.name, L, a, b, "", white, row.opacity, row.lightfastness,
             row.effect, row.owned]
        )  # fmt: skip
    return out.getvalue().encode("utf-8-sig")


def _separator(text: str) -> str:
    """Semicolon where the heading has more of them than commas, as some spreadsheets write."""
    heading = text.lstrip().split("\n", 1)[0]
    return ";" if heading.count(";") > heading.count(",") else ","


@dataclass(frozen=True)
class _Heading:
    """Where each column stands, what is wrong, which are not read, and which are read as what."""

    places: Mapping[str, int]
    problems: tuple[Problem, ...]
    ignored: tuple[str, ...]
    read_as: tuple[ReadAs, ...]


def _heading(heading: Sequence[str], said: Columns) -> _Heading:
    """What a heading names. A column under its own name goes before one that is called so elsewhere."""
    own = {name.casefold(): name for name in COLUMNS}
    places: dict[str, int] = {}
    problems: list[Problem] = []
    for place, cell in enumerate(heading):
        name = said.get(folded(cell), own.get(cell.strip().casefold(), ""))
        if name in places:
            problems.append(Problem(1, name, "This column stands in the heading twice."))
        elif name in COLUMNS:
            places[name] = place
    for names in (_CALLED, _PERHAPS):
        for place, cell in enumerate(heading):
            other = names.get(folded(cell))
            if other is not None and folded(cell) not in said and place not in places.values():
                places.setdefault(other, place)
    missing = [name for name in REQUIRED if name not in places]
    if missing:
        wanted = ", ".join(COLUMNS)
        problems.append(
            Problem(1, ", ".join(missing), f"This column is missing. The heading names, in any order: {wanted}.")
        )
    read = tuple(
        ReadAs(echoed(heading[place].strip()), name, _MEANS.get(name, name), folded(heading[place]) in said)
        for name, place in sorted(places.items(), key=lambda one: one[1])
    )
    unread = [echoed(cell.strip()) for place, cell in enumerate(heading) if place not in places.values()]
    return _Heading(places, tuple(problems), tuple(cell for cell in unread if cell), read)


class _Line:
    """One line of the file while it is read: its cells by column, and the problems found in it."""

    def __init__(self, number: int, cells: list[str], columns: Mapping[str, int], decimal_comma: bool) -> None:
        self.number = number
        self._cells = cells
        self._columns = columns
        self._decimal_comma = decimal_comma
        self.problems: list[Problem] = []

    def cell(self, column: str) -> str:
        place = self._columns.get(column)
        return self._cells[place].strip() if place is not None and place < len(self._cells) else ""

    def shown(self, column: str) -> str:
        """What stands there, as far as it is said back."""
        return echoed(self.cell(column))

    def wrong(self, column: str, message: str) -> None:
        self.problems.append(Problem(self.number, column, message))

    def text(self, column: str, required: bool = False) -> str:
        value = " ".join(self.cell(column).split())
        if holds_controls(value):
            self.wrong(column, "It holds a letter that cannot be shown. Write it again.")
        if required and not value:
            self.wrong(column, "This cell is empty, but every colour needs it.")
        if len(value) > _LONGEST:
            self.wrong(column, f"This has {len(value)} characters; at most {_LONGEST} are kept.")
        return value

    def choice(self, column: str, allowed: tuple[str, ...], default: str) -> str:
        value = self.text(column).casefold()
        if value and value not in allowed:
            self.wrong(column, f"“{self.shown(column)}” is none of {', '.join(allowed)}.")
        return value or default

    def number_in(self, column: str) -> float | None:
        value = self.cell(column)
        if not value:
            return None
        try:
            return float(value.replace(",", ".") if self._decimal_comma else value)
        except ValueError:
            self.wrong(column, f"“{self.shown(column)}” is not a number.")
            return None


def _read_lines(reader: object, heading: _Heading, decimal_comma: bool) -> CatalogueFile:
    rows: list[CatalogueRow] = []
    problems: list[Problem] = []
    seen: dict[tuple[str, str, str], int] = {}
    adapted = 0
    lines = iter(reader)  # type: ignore[call-overload] # csv's reader type has no public name to annotate with
    while True:
        number = getattr(reader, "line_num", 0) + 1
        try:
            cells = next(lines, None)
        except csv.Error as error:
            problems.append(Problem(number, "", f"This line cannot be read: {error}. Check its quotation marks."))
            break
        if cells is None or len(problems) > MOST_PROBLEMS:
            break
        if not any(cell.strip() for cell in cells):
            continue
        if len(rows) == MOST_ROWS:
            problems.append(
                Problem(number, "", f"A catalogue has at most {MOST_ROWS:,} colours. Take it in in several files.")
            )
            break
        line = _Line(number, cells, heading.places, decimal_comma)
        row, was_adapted = _read_row(line)
        adapted += was_adapted
        key = (row.maker.casefold(), row.range_name.casefold(), fold_code(row.code))
        if row.code and key in seen:
            line.wrong("code", f"{echoed(row.range_name)} {echoed(row.code)} already stands in line {seen[key]}.")
        seen.setdefault(key, number)
        problems.extend(line.problems)
        rows.append(row)
    if not rows and not problems:
        problems.append(Problem(2, "", "There is a heading but no colour below it."))
    return CatalogueFile(
        tuple(rows) if not problems else (), tuple(problems[:MOST_PROBLEMS]), adapted, heading.ignored, heading.read_as
    )


def _read_row(line: _Line) -> tuple[CatalogueRow, bool]:
    """The colour of one line, and whether its value was adapted from D50."""
    lab, source, adapted = _read_colour(line)
    row = CatalogueRow(
        line=line.number,
        maker=line.text("maker"),
        range_name=line.text("range", required=True),
        code=line.text("code", required=True),
        name=line.text("name", required=True),
        lab=lab,
        lab_source=source,
        opacity=line.choice("opacity", tuple(Opacity), ""),
        lightfastness=line.text("lightfastness"),
        effect=line.choice("effect", tuple(Effect), Effect.ORDINARY),
        owned=_read_owned(line),
    )
    return row, adapted


def _read_colour(line: _Line) -> tuple[Lab | None, str, bool]:
    """Lab, or a hex colour, or neither; the white is D65 unless it says D50, which is adapted."""
    given = [column for column in ("L", "a", "b") if line.cell(column)]
    white = line.cell("white").upper() or "D65"
    if white not in ("D65", "D50"):
        line.wrong("white", f"“{line.shown('white')}” is not known here; give D65 or D50.")
    if given and line.cell("hex"):
        line.wrong("hex", "Give L, a, b or hex, not both.")
        return None, "", False
    if line.cell("hex"):
        return _checked(line, "hex", lambda: lab_from_hex(line.cell("hex"))), "sRGB hex", False
    if not given:
        return None, "", False
    missing = [column for column in ("L", "a", "b") if column not in given]
    for column in missing:
        line.wrong(column, "This cell is empty, but the others of L, a, b are given.")
    numbers = [line.number_in(column) for column in ("L", "a", "b")]
    if any(number is None for number in numbers):
        return None, "", False
    lab = _checked(line, "L, a, b", lambda: check_lab([float(n or 0.0) for n in numbers], "The colour"))
    if lab is not None and white == "D50":
        return adapt_d50_to_d65(lab), "Lab D50, adapted to D65", True
    return lab, "Lab D65", False


def _checked(line: _Line, column: str, compute: Callable[[], Lab]) -> Lab | None:
    """The colour, or None and a problem that says what the core says."""
    try:
        return compute()
    except CoreError as error:
        line.wrong(column, error.detail)
        return None


def _read_owned(line: _Line) -> int | None:
    """How many pencils of the colour are owned; blank says nothing."""
    value = line.cell("owned")
    if not value:
        return None
    if not value.isdecimal() or len(value) > _LONGEST or int(value) > MOST_OWNED:
        line.wrong("owned", f"“{line.shown('owned')}” is not a count from 0 to {MOST_OWNED}.")
        return None
    return int(value)
