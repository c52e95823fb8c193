"""What only the whole list shows: words that every line begins or ends with, and last words that are ratings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.chart_list.codes import Line
from tidy_tinder.formats.chart_list.entries import Entry
from tidy_tinder.formats.chart_list.marks import said_last
from tidy_tinder.formats.chart_list.tokens import Kind

_NEARLY_ALL = 0.8
_MOST = 0.6
_FEWEST = 4


def without_title(lines: Sequence[Line]) -> tuple[list[Line], str]:
    """The lines without the words that stand before the number of nearly all that have one, and those words."""
    heads = [_words_before_number(line) for line in lines]
    coded = sum(any(t.kind is Kind.CODE for t in line) for line in lines)
    usual = Counter(fold(" ".join(head)) for head in heads if head)
    if coded < _FEWEST or not usual:
        return list(lines), ""
    title, count = usual.most_common(1)[0]
    if count < _NEARLY_ALL * coded:
        return list(lines), ""
    same = [fold(" ".join(head)) == title for head in heads]
    bare = [_from_number(line) if is_same else line for line, is_same in zip(lines, same, strict=True)]
    return bare, " ".join(heads[same.index(True)])


def _words_before_number(line: Line) -> list[str]:
    """The words before the first number, where a name follows that; none where they may be the name themselves."""
    at = next((i for i, token in enumerate(line) if token.kind is Kind.CODE), None)
    if at is None or not any(t.kind is Kind.WORD for t in line[at:]):
        return []
    return [t.text for t in line[:at] if t.kind is Kind.WORD]


def _from_number(line: Line) -> Line:
    at = next(i for i, token in enumerate(line) if token.kind is Kind.CODE)
    return (*(t for t in line[:at] if t.kind is Kind.MARK), *line[at:])


def leave_out_endings(entries: Sequence[Entry]) -> None:
    """Take the last part of a name away where nearly all names of the list end with it (“in stock”)."""
    while len(entries) >= _FEWEST:
        endings = Counter(fold(" ".join(e.parts[-1][1])) for e in entries if len(e.parts) > 1)
        if not endings:
            return
        ending, count = endings.most_common(1)[0]
        if count < _NEARLY_ALL * len(entries):
            return
        for entry in entries:
            if len(entry.parts) > 1 and fold(" ".join(entry.parts[-1][1])) == ending:
                entry.left_out.append(" ".join(entry.parts.pop()[1]))


def read_ratings(entries: Sequence[Entry]) -> None:
    """Read the last words of names as ratings where most names of the list end with one of the same kind."""
    for _ in range(2):
        ends = [(entry, said_last(entry.parts[-1][1][-1])) for entry in entries if _can_lose_a_word(entry)]
        kinds = Counter(said[0] for entry, said in ends if said is not None and said[0] not in entry.said)
        if not kinds or len(entries) < _FEWEST:
            return
        kind, count = kinds.most_common(1)[0]
        rated = [
            (entry, said) for entry, said in ends if said is not None and said[0] is kind and kind not in entry.said
        ]
        if count < _MOST * len(entries) or _are_grades([entry for entry, _ in rated]):
            return
        for entry, said in rated:
            word = entry.parts[-1][1].pop()
            entry.say(*said, word)
            if not entry.parts[-1][1]:
                entry.parts.pop()


def _are_grades(entries: Sequence[Entry]) -> bool:
    """Whether names would be alike without their last words: “Cool Grey 1”, “Cool Grey 3”."""
    shorter = [
        fold(" ".join(word for _, words in entry.parts for word in words).rsplit(" ", 1)[0]) for entry in entries
    ]
    return len(set(shorter)) < len(shorter)


def _can_lose_a_word(entry: Entry) -> bool:
    return sum(len(words) for _, words in entry.parts) > 1
