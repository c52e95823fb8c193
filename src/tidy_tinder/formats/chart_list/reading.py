"""A pasted list read into a chart: a table with a heading, codes with names in any arrangement, or names alone.

How each line is written is settled by all of them together; what a line says beyond that stays with it, and a line
that names no colour stays in its place.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

from tidy_tinder.core.names.finding import fold, fold_code
from tidy_tinder.formats.chart_list.codes import Codes, Line, codes_of, without_numbers
from tidy_tinder.formats.chart_list.columns import heading_of
from tidy_tinder.formats.chart_list.entries import Entry, entry_of, split_at, written
from tidy_tinder.formats.chart_list.tokens import Kind, Token, tokens_of
from tidy_tinder.formats.chart_list.whole_list import leave_out_endings, read_ratings, without_title
from tidy_tinder.formats.chart_list.written import WrittenChart, WrittenColour, WrittenLine
from tidy_tinder.formats.gpl import PaletteLines, palette_lines

LONGEST_CHART = 60_000
"""Characters of a list: a thousand colours with all that a shop's page says of them."""
LONGEST_LINE = 2_000

NO_CODE = "No code stands on this line."
NO_NAMES = "Codes without names; write the name after each."
NOT_OF_A_PALETTE = "A line of a palette is three figures of 0 to 255 and a name."
TOO_LONG = f"A line has at most {LONGEST_LINE} characters."

_BULLET = re.compile(r"^\s*(?:[-–—•·‣▪◦►▶✓✔☑☐>]|\*(?!\*)(?=\s)|\[[ xX]?\])\s*")
_BOX = re.compile(r"^\s*[□■]\s+(?=\S)")
# “set of 24”, “24 set”, “tin of 12 pencils”: the box, which a title names beside the range.
_BOX_OF = re.compile(
    r"(?i)[\s,:–(-]*\b(?:(?:set|tin|box|case|pack)\s+of\s+\d{1,3}(?:\s+(?:pencils|colou?rs))?|"
    r"\d{1,3}[- ](?:pencil |colou?r )?(?:set|tin|box|case|pack))\b\)?"
)
_FEWEST_NAMES_IN_LINES = 0.5


@dataclass
class _Read:
    """One line while the list is read."""

    number: int
    text: str
    tokens: Line
    entries: list[Entry] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)
    problem: str = ""
    joined: bool = False  # its words are the name of a code on another line

    @property
    def has_words(self) -> bool:
        return any(t.kind is Kind.WORD for t in self.tokens)

    @property
    def is_code_alone(self) -> bool:
        told = [t for t in self.tokens if t.kind not in (Kind.PART, Kind.CELL, Kind.MARK)]
        return len(told) == 1 and told[0].kind is Kind.CODE


def read_chart_list(text: str, may_number: bool = True) -> WrittenChart:
    """What a list says. Nothing of it is dropped: every line is there, with its colours or why it has none.

    may_number: whether the colours of a list without codes may be numbered; False where their chart has codes.
    """
    lines = [line[: LONGEST_LINE + 1] for line in text.splitlines()]
    palette = palette_lines(lines)
    read = [_Read(i, line, _tokens(line)) for i, line in enumerate(palette.lines if palette else lines, 1)]
    for one, line in zip(read, lines, strict=True):
        if len(line) > LONGEST_LINE:
            one.tokens, one.problem = (), TOO_LONG
    if palette is not None:
        return _as_in_palette(palette, lines, _read_free(read, may_number))
    heading = next((i for i, line in enumerate(lines) if heading_of(line) is not None), None)
    if heading is not None:
        return _finished(read, _read_table(read, heading), numbered=False)
    return _read_free(read, may_number)


def _as_in_palette(palette: PaletteLines, lines: Sequence[str], chart: WrittenChart) -> WrittenChart:
    """A chart that was read from a palette: each line as the palette has it, and what is none of one's told."""
    shown = tuple(
        replace(one, text=line, problem=one.problem or (NOT_OF_A_PALETTE if one.number in palette.broken else ""))
        for one, line in zip(chart.lines, lines, strict=True)
    )
    return replace(chart, title=chart.title or palette.title, lines=shown)


def _tokens(line: str) -> Line:
    return tokens_of(_BULLET.sub("", line, count=1))


def _read_table(read: Sequence[_Read], heading: int) -> str:
    """Read the lines below a heading by its columns; what stands above it is the title."""
    columns = heading_of(read[heading].text)
    assert columns is not None
    for one in read[heading + 1 :]:
        if any(t.kind not in (Kind.PART, Kind.CELL) for t in one.tokens) and not one.problem:
            one.entries = [columns.entry(one.text)]
    read[heading].left_out.append(read[heading].text.strip())
    above = [one for one in read[:heading] if one.tokens]
    for one in above:
        one.problem = one.problem or NO_CODE
    return _plain(above[0]) if len(above) == 1 else ""


def _read_free(read: list[_Read], may_number: bool) -> WrittenChart:
    bare = without_numbers([one.tokens for one in read])
    bare = _without_boxes(read, bare)
    bare, title = without_title(bare)
    for one, tokens in zip(read, bare, strict=True):
        one.tokens = tokens
    codes = codes_of(bare)
    for one in read:
        one.entries = split_at(one.tokens, codes.in_line(one.tokens), codes.first)
    _join_rows(read)
    _join_lines(read)
    if may_number and not _is_coded(read, codes):
        _read_names(read)
        return _finished(read, _title_above(read) or title, numbered=True)
    _leave_out_shop_words(read)
    title_above = _title_above(read)
    for one in read:
        if one.tokens and not one.entries and not one.problem and not one.joined and not one.left_out:
            one.problem = NO_CODE if one.has_words else NO_NAMES
    return _finished(read, title_above or title, numbered=False)


def _without_boxes(read: Sequence[_Read], lines: Sequence[Line]) -> list[Line]:
    """A box before every line is there to be ticked; a box here and there says how a colour covers."""
    boxed = [bool(_BOX.match(one.text)) for one in read]
    kinds = {one.text.lstrip()[0] for one, box in zip(read, boxed, strict=True) if box}
    full = sum(bool(line) for line in lines)
    if len(kinds) != 1 or sum(boxed) < full or full < 2:
        return list(lines)
    return [line[1:] if box else line for line, box in zip(lines, boxed, strict=True)]


def _join_rows(read: Sequence[_Read]) -> None:
    """A row of codes over a row of names, or below it: cell by cell."""
    for one, other in pairwise(read):
        for codes, names in ((one, other), (other, one)):
            numbers = [t for t in codes.tokens if t.kind is Kind.CODE]
            if len(numbers) < 2 or codes.has_words or names.entries or names.joined:
                continue
            cells = _cells(names.tokens)
            if len(cells) == len(numbers):
                codes.entries = [entry_of(n.text, cell) for n, cell in zip(numbers, cells, strict=True)]
                names.joined = True
                break


def _cells(line: Line) -> list[list[Token]]:
    cells: list[list[Token]] = [[]]
    for token in line:
        if token.kind is Kind.CELL or (token.kind is Kind.PART and token.text == ""):
            cells.append([])
        else:
            cells[-1].append(token)
    return [cell for cell in cells if cell]


def _join_lines(read: Sequence[_Read]) -> None:
    """A code on one line and its name on the next, or on the one before: whichever fits more of them."""
    full = [one for one in read if one.tokens]
    alone = [i for i, one in enumerate(full) if one.is_code_alone]

    def name_at(i: int) -> bool:
        return 0 <= i < len(full) and not full[i].entries and not full[i].joined and full[i].has_words

    step = 1 if sum(name_at(i + 1) for i in alone) >= sum(name_at(i - 1) for i in alone) else -1
    for i in alone:
        if name_at(i + step):
            code = next(t.text for t in full[i].tokens if t.kind is Kind.CODE)
            marks = [t for t in full[i].tokens if t.kind is Kind.MARK]
            full[i].entries = [entry_of(code, [*full[i + step].tokens, *marks])]
            full[i + step].joined = True


def _is_coded(read: Sequence[_Read], codes: Codes) -> bool:
    """Whether the list has codes: at least as many lines with one as different lines without."""
    coded = sum(bool(one.entries) for one in read)
    without = {fold(one.text) for one in read if one.has_words and not one.entries and not one.joined}
    named = sum(any(e.parts for e in one.entries) for one in read)
    return bool(codes.forms) and coded > 0 and named >= len(without)


def _read_names(read: Sequence[_Read]) -> None:
    """A list without codes: a name a line, or several with commas between."""
    full = [one for one in read if one.tokens]
    with_comma = sum(any(t.text == "," for t in one.tokens) for one in full)
    parted = len(full) < 3 or with_comma >= _FEWEST_NAMES_IN_LINES * len(full)
    for one in full:
        one.joined = False
        one.entries = [entry_of("", piece) for piece in _pieces(one.tokens, parted)]
        one.entries = [e for e in one.entries if e.parts or e.said or e.left_out]


def _pieces(line: Line, at_commas: bool) -> list[list[Token]]:
    pieces: list[list[Token]] = [[]]
    for token in line:
        if token.kind is Kind.CELL or (at_commas and token.text == ","):
            pieces.append([])
        else:
            pieces[-1].append(token)
    return [piece for piece in pieces if piece]


def _leave_out_shop_words(read: Sequence[_Read]) -> None:
    """Lines that stand there again and again without a code, such as a shop writes below each colour."""
    without = Counter(fold(one.text) for one in read if one.tokens and not one.entries)
    coded = sum(bool(one.entries) for one in read)
    for one in read:
        if one.tokens and not one.entries and not one.joined:
            prices_only = not one.has_words and all(t.kind is not Kind.CODE for t in one.tokens)
            if prices_only or (coded > 2 and without[fold(one.text)] > coded / 2):
                one.left_out.append(one.text.strip())


def _title_above(read: Sequence[_Read]) -> str:
    """The first line where it names no colour but others below it do."""
    first = next((one for one in read if one.tokens), None)
    if first is None or first.left_out or not any(one.entries for one in read if one is not first):
        return ""
    if first.entries and not (first.text.rstrip().endswith(":") and not first.entries[0].code):
        return ""
    first.entries = []
    first.left_out.append(first.text.strip())
    return _plain(first)


def _plain(one: _Read) -> str:
    return one.text.strip().rstrip(":").strip()


def _finished(read: Sequence[_Read], title: str, numbered: bool) -> WrittenChart:
    """What the whole list shows is settled, codes are looked over, and each line is said."""
    entries = [entry for one in read for entry in one.entries]
    leave_out_endings(entries)
    read_ratings(entries)
    lines, seen, number = list[WrittenLine](), dict[str, tuple[int, str]](), 0
    for one in read:
        colours = []
        for entry in one.entries:
            colour = written(entry)
            if numbered and not colour.problem:
                number += 1
                colour = replace(colour, code=str(number))
            elif not entry.code and not colour.problem:
                colour = replace(colour, problem="No code stands with this name.")
            colours.append(_unless_twice(colour, one.number, seen))
        left_out = (*one.left_out, *(word for e in one.entries for word in e.left_out))
        lines.append(WrittenLine(one.number, one.text, tuple(colours), left_out, one.problem))
    box = _BOX_OF.search(title)
    rest = _BOX_OF.sub("", title, count=1).strip(" ,:–-()")
    return WrittenChart(tuple(lines), rest or title, box.group().strip(" ,:–-()") if box and rest else "", numbered)


def _unless_twice(colour: WrittenColour, line: int, seen: dict[str, tuple[int, str]]) -> WrittenColour:
    """The colour, with a problem where its code stood before."""
    key = fold_code(colour.code)
    if colour.problem or not key:
        return colour
    if key in seen:
        where, name = seen[key]
        said = (
            f"It stands in line {where} already."
            if fold(name) == fold(colour.name)
            else (f"The code {colour.code} is {name} in line {where} already.")
        )
        return replace(colour, problem=said)
    seen[key] = (line, colour.name)
    return colour
