"""The pieces of a line between its separators, each with the colours that were read in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import Role
from tidy_tinder.formats.recipe_doubts import either, keys_of
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_words import FIRST, OR, OVER, SEPARATOR, UNDER

# Characters beside a separator among which the three words before or after it stand.
_BESIDE = 100
# Between a name and its code.
_SAME = frozenset("/=|")


@dataclass(frozen=True)
class Piece:
    """A part of a line between two separators, with the colours that were read in it.

    before: the separator that it comes after; sentence: the number of its sentence in the line.
    """

    start: int
    end: int
    before: str
    sentence: int = 0
    calls: tuple[ReadCall, ...] = ()


def pieces_of(line: str, scanned: str, start: int, catalogue: Catalogue) -> list[Piece]:
    """The pieces of a line from a place on; scanned: the line with what is no colour masked."""
    pieces, at, before, sentence = [], start, "", 0
    for gap in SEPARATOR.finditer(scanned, start):
        if _is_inside_a_name(line, gap.start(), gap.end(), catalogue):
            continue
        pieces.append(Piece(at, gap.start(), before, sentence))
        at, before = gap.end(), gap.group().strip().lower()
        sentence += before.endswith((".", "!", "?"))
    pieces.append(Piece(at, len(line), before, sentence))
    return [piece for piece in pieces if scanned[piece.start : piece.end].strip()]


def _is_inside_a_name(line: str, start: int, end: int, catalogue: Catalogue) -> bool:
    """Whether a separator such as “and” is part of a colour's name."""
    gap = fold(line[start:end])
    if not gap:
        return False
    left = fold(line[max(0, start - _BESIDE) : start]).split()[-3:]
    right = fold(line[end : end + _BESIDE]).split()[:3]
    return any(
        catalogue.has_name(" ".join([*left[-i:], gap, *right[:j]]))
        for i in range(1, len(left) + 1)
        for j in range(1, len(right) + 1)
    )


def words_outside(line: str, piece: Piece) -> str:
    """The words of a piece that are not part of a colour."""
    ends = [piece.start, *(call.end for call in piece.calls)]
    starts = [*(call.start for call in piece.calls), piece.end]
    return " ".join(line[end:start] for end, start in zip(ends, starts, strict=True))


def with_codes_joined(line: str, pieces: Sequence[Piece], scope: Sequence[str], catalogue: Catalogue) -> list[Piece]:
    """The pieces, a name and its code being one: “Fern/163”, “163 = Fern”."""
    kept: list[Piece] = []
    for piece in pieces:
        before = kept[-1] if kept else None
        both = _name_and_code(line, before, piece, scope, catalogue) if before and piece.before in _SAME else None
        if before is None or both is None:
            kept.append(piece)
        else:
            kept[-1] = Piece(before.start, piece.end, before.before, before.sentence, (both,))
    return kept


def _name_and_code(
    line: str, one: Piece, other: Piece, scope: Sequence[str], catalogue: Catalogue
) -> ReadCall | None:  # fmt: skip
    """The call that a name and a code beside it are together; None where they are two."""
    if len(one.calls) != 1 or len(other.calls) != 1:
        return None
    first, second = one.calls[0], other.calls[0]
    if any(c.isdigit() for c in first.as_written) == any(c.isdigit() for c in second.as_written):
        return None
    found = catalogue.resolve(f"{first.as_written} {second.as_written}", scope or None)
    if not found.hits:
        return None
    written = line[first.start : second.end]
    layers = max(first.layers, second.layers)
    if found.certain:
        return ReadCall(written, first.start, second.end, found.hits[0].key, layers=layers)
    problem = f"“{written}” is on the charts of several ranges. Which one is meant?"
    return ReadCall(written, first.start, second.end, None, keys_of(found.hits), problem, layers=layers)


def with_choices_joined(line: str, pieces: Sequence[Piece]) -> list[Piece]:
    """The pieces, those of “A or B” being one with one call."""
    kept: list[Piece] = []
    for piece in pieces:
        before = kept[-1] if kept else None
        if before is None or piece.before not in OR or not (len(before.calls) == len(piece.calls) == 1):
            kept.append(piece)
            continue
        both = either(line, before.calls[0], piece.calls[0])
        kept[-1] = Piece(before.start, piece.end, before.before, before.sentence, (both,))
    return kept


def in_the_order_laid(line: str, calls: Sequence[tuple[Piece, ReadCall]]) -> list[ReadCall]:
    """The calls in the order in which they go down: in “A over B over C”, C first, then B; “A first” is first."""
    ordered: list[ReadCall] = []
    chain = begins = sentence = 0
    for piece, call in calls:
        # “119. Over that 107” goes down in its order.
        same = piece.sentence == sentence
        if not same:
            begins, sentence = len(ordered), piece.sentence
        leads = same and call.start == piece.calls[0].start
        if ordered and leads and piece.before in OVER:
            ordered.insert(chain, replace(call, role=call.role or Role.BELOW))
            continue
        if ordered and leads and piece.before in UNDER:
            ordered[-1] = replace(ordered[-1], role=ordered[-1].role or Role.BELOW)
        chain = len(ordered)
        if len(piece.calls) == 1 and FIRST.match(line[call.end : piece.end]):
            chain = begins
        ordered.insert(chain, call)
    return ordered
