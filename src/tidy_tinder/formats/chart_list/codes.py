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
        way = line if self.first else line[::-1]  # from the side on which codes stand
        named = _followed_by_words(way)
        chosen: list[int] = []
        word_since = False
        for i, token in enumerate(way):
            if token.kind is Kind.WORD:
                word_since = True
            elif token.kind is Kind.CODE and not chosen:
                if not self._is_outer(token.text, word_since):
                    return ()
                chosen.append(i)
                word_since = False
            elif token.kind is Kind.CODE and word_since and self._begins_another(way, chosen[-1], i, named[i]):
                chosen.append(i)
                word_since = False
        return tuple(chosen) if self.first else tuple(len(line) - 1 - i for i in reversed(chosen))

    def _is_outer(self, code: str, words_outside: bool) -> bool:
        """Whether the outermost number can be a code: of a usual form, or with nothing but marks on its outer side."""
        usual = form(code) in self.forms
        if form(code).joint and not usual:
            return False  # a span (“104-108”) among plain codes
        return usual or not words_outside

    def _begins_another(self, way: Line, known: int, at: int, named: bool) -> bool:
        """Whether a number further in is the code of another colour: one with a name, in the form of codes, apart."""
        code = way[at].text
        if form(code) not in self.forms:
            return False
        apart = way[at - 1].kind in _PARTING
        if not named:
            return _length(code) > 1 and apart
        return apart or _length(code) > 1 or _follows(way[known].text, code, self.first)


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


def _followed_by_words(way: Line) -> list[bool]:
    """Of each piece, whether a word comes after it before the next number."""
    followed, word = [False] * len(way), False
    for i in range(len(way) - 1, -1, -1):
        followed[i] = word
        if way[i].kind is Kind.WORD:
            word = True
        elif way[i].kind is Kind.CODE:
            word = False
    return followed


def _length(code: str) -> int:
    found = _DIGITS.search(code)
    return len(found.group()) if found else 0


def _follows(known: str, code: str, first: bool) -> bool:
    """Whether one is the number after the other."""
    if not (known.isdecimal() and code.isdecimal()):
        return False
    return int(code) - int(known) == (1 if first else -1)
