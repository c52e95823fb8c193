"""Which of the numbers of a list are its codes, and on which side of their names they stand: the whole list decides.

A grade (“Cool Grey 3”), a count or a number before each line looks like a code on its own line only.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from tidy_tinder.formats.chart_list.tokens import Kind, Token

Line = tuple[Token, ...]

_LETTERS = re.compile(r"[A-Za-z]*")
_DIGITS = re.compile(r"\d+")
_JOINT = re.compile(r"\d([-./])\d")
# Of the outer numbers of all lines, a form that so many share is one in which codes are written.
_USUAL = 0.2
_MOST = 0.6
_PARTING = (Kind.CELL, Kind.PART)


@dataclass(frozen=True)
class Codes:
    """How codes stand in a list. first: before their names; forms: the usual ones (see `form`)."""

    first: bool
    forms: frozenset[Form]

    def in_line(self, line: Line) -> tuple[int, ...]:
        """Where in a line the codes stand; none where every number of it belongs to a name."""
        candidates = [i for i, token in enumerate(line) if token.kind is Kind.CODE]
        if not candidates:
            return ()
        outer = candidates[0] if self.first else candidates[-1]
        if not self._is_outer(line, outer):
            return ()
        chosen = [outer]
        for i in (
            [c for c in candidates if c != outer] if self.first else [c for c in reversed(candidates) if c != outer]
        ):
            if self._begins_another(line, chosen[-1], i):
                chosen.append(i)
        return tuple(sorted(chosen))

    def _is_outer(self, line: Line, at: int) -> bool:
        """Whether the outermost number can be a code: of a usual form, or with nothing but marks on its outer side."""
        outside = line[:at] if self.first else line[at + 1 :]
        if form(line[at].text).joint and form(line[at].text) not in self.forms:
            return False  # a span (“104-108”) among plain codes
        return form(line[at].text) in self.forms or not any(t.kind is Kind.WORD for t in outside)

    def _begins_another(self, line: Line, known: int, at: int) -> bool:
        """Whether a number further in is the code of another colour: one with a name, in the form of codes, apart."""
        between = line[min(known, at) + 1 : max(known, at)]
        if not any(t.kind is Kind.WORD for t in between):
            return False
        beyond = line[at + 1 :] if self.first else line[:at]
        named = _word_before_number(beyond if self.first else tuple(reversed(beyond)))
        usual = form(line[at].text) in self.forms
        beside = line[at - 1] if self.first else (line[at + 1] if at + 1 < len(line) else None)
        apart = beside is not None and beside.kind in _PARTING
        if not named:
            return usual and _length(line[at].text) > 1 and apart
        return usual and (apart or _length(line[at].text) > 1 or _follows(line[known].text, line[at].text, self.first))


class Form(NamedTuple):
    """How a code is written: the letters before its number, how many digits that has, what joins it to a second one."""

    letters: str
    digits: int
    joint: str


def form(code: str) -> Form:
    """How a code is written."""
    letters, joint = _LETTERS.match(code), _JOINT.search(code)
    return Form(letters.group().upper() if letters else "", _length(code), joint.group(1) if joint else "")


def codes_of(lines: Sequence[Line]) -> Codes:
    """How the codes of a list stand."""
    first = last = 0
    outer: dict[bool, Counter[Form]] = {True: Counter(), False: Counter()}
    for line in lines:
        at = [i for i, token in enumerate(line) if token.kind is Kind.CODE]
        if not at:
            continue
        outer[True][form(line[at[0]].text)] += 1
        outer[False][form(line[at[-1]].text)] += 1
        before = any(t.kind is Kind.WORD for t in line[: at[0]])
        after = any(t.kind is Kind.WORD for t in line[at[-1] + 1 :])
        first += after and not before
        last += before and not after
    is_first = first >= last
    counted = outer[is_first]
    enough = max(_USUAL * counted.total(), min(2, counted.total() / 2))
    return Codes(is_first, frozenset(f for f, count in counted.items() if count >= enough))


def without_numbers(lines: Sequence[Line]) -> list[Line]:
    """The lines without the numbers of a numbered list: 1, 2, 3 … before lines that have codes besides."""
    numbers = [_number_before(line) for line in lines]
    given = [n for n in numbers if n is not None]
    full = sum(bool(line) for line in lines)
    if len(given) < max(2, _MOST * full) or any(b <= a for a, b in pairwise(given)):
        return list(lines)
    if given[-1] - given[0] > 2 * len(given):
        return list(lines)
    return [_drop_number(line) if n is not None else line for line, n in zip(lines, numbers, strict=True)]


def _number_before(line: Line) -> int | None:
    """The number at the head of a line whose code follows at once, or at its end; None where there is no such one."""
    if not line or line[0].kind is not Kind.CODE or not line[0].text.isdecimal() or len(line[0].text) > 3:
        return None
    rest = [t for t in line[1:] if t.kind not in _PARTING]
    if not rest:
        return None
    follows = rest[0].kind is Kind.CODE and len(rest) > 1
    ends = line[1].kind is Kind.PART and rest[-1].kind is Kind.CODE and _length(rest[-1].text) > 1 and len(rest) > 1
    return int(line[0].text) if follows or ends else None


def _drop_number(line: Line) -> Line:
    rest = line[1:]
    while rest and rest[0].kind in _PARTING:
        rest = rest[1:]
    return rest


def _word_before_number(tokens: Line) -> bool:
    """Whether a word comes before the next number."""
    for token in tokens:
        if token.kind is Kind.WORD:
            return True
        if token.kind is Kind.CODE:
            return False
    return False


def _length(code: str) -> int:
    found = _DIGITS.search(code)
    return len(found.group()) if found else 0


def _follows(known: str, code: str, first: bool) -> bool:
    """Whether one is the number after the other."""
    if not (known.isdecimal() and code.isdecimal()):
        return False
    return int(code) - int(known) == (1 if first else -1)
