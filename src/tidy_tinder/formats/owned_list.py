"""A pasted list of what somebody owns, as people keep one: codes, names, spans, counts, numbers and bullets.

Read against the charted colours; what is not understood stays a piece with what comes near it. Nothing is guessed.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.names.finding import Catalogue, Finding
from tidy_tinder.core.names.spans import read_spans
from tidy_tinder.formats.recipe_words import BULLET

LONGEST_LIST = 20_000
"""Characters of a list: a thousand lines and more."""

_SPAN = re.compile(r"[-–—]|\bto\b")
_BETWEEN = re.compile(r"[,;\t]")
_BOX = re.compile(r"^\s*(?:\[[ xX]?\]|☐|☑|✓)\s*")
# “2x 119”, “2 × 119”, “119 x2”, “119 (2)”, “119 ×2”: up to nine of one pencil.
_COUNT_BEFORE = re.compile(r"^([2-9])\s?[xX×]\s+(?=\S)")
_COUNT_AFTER = re.compile(r"\s+(?:[xX×]\s?([2-9])|\(\s?[xX×]?\s?([2-9])\s?[xX×]?\s?\))$")


@dataclass(frozen=True)
class ListedPiece:
    """One piece of a list: the colours it means, in chart order where it is a span; count: how many pencils of each.

    problem: why it is not settled, "" where it is; keys are then what it can mean.
    """

    text: str
    keys: tuple[int, ...]
    problem: str = ""
    count: int = 1


def read_owned_list(text: str, catalogue: Catalogue) -> tuple[ListedPiece, ...]:
    """What each piece of a list means. A range by itself, or before a colon, holds for what follows."""
    reader = _ListReader(catalogue)
    for line in text.splitlines():
        reader.read_line(" ".join(_BOX.sub("", BULLET.sub("", line, count=1)).replace("\t", ",").split()))
    return tuple(reader.pieces)


class _ListReader:
    """Reads one line after another; the range that holds is its state."""

    def __init__(self, catalogue: Catalogue) -> None:
        self._catalogue = catalogue
        self._scope: frozenset[str] = frozenset()
        self.pieces: list[ListedPiece] = []

    def read_line(self, line: str) -> None:
        before, colon, rest = line.partition(":")
        if colon and self._enter(before):
            line = rest
        for part in _BETWEEN.split(line):
            piece = part.strip().rstrip(".")
            if piece and not self._enter(piece):
                self._read_piece(piece)

    def _enter(self, words: str) -> bool:
        """Whether these words are a range, which holds from now on."""
        named = self._catalogue.ranges_called(words.strip())
        self._scope = named or self._scope
        return bool(named)

    def _read_piece(self, written: str) -> None:
        piece, count = _counted(written)
        whole = self._catalogue.resolve(piece, self._scope)
        if whole.certain:
            self.pieces.append(ListedPiece(written, (whole.hits[0].key,), count=count))
            self._scope = self._named_in(piece) or self._scope
        elif spans := self._spans(piece):
            self.pieces.append(self._span(written, spans, count))
        elif several := self._several(piece):
            self.pieces.extend(ListedPiece(word, (key,), count=count) for word, key in several)
        else:
            self.pieces.append(self._unsettled(written, piece, whole, count))

    def _named_in(self, piece: str) -> frozenset[str]:
        """The range that the first words of a piece name."""
        return self._range_before(piece.split())[0]

    def _range_before(self, words: Sequence[str]) -> tuple[frozenset[str], list[str]]:
        """The longest range that the first words name, and the rest."""
        for length in range(min(len(words) - 1, self._catalogue.longest_range), 0, -1):
            if named := self._catalogue.ranges_called(" ".join(words[:length])):
                return named, list(words[length:])
        return frozenset(), list(words)

    def _spans(self, piece: str) -> dict[str, tuple[int, ...]]:
        """By range, the colours from one code to another in the order of its chart; empty where it is no span."""
        named, rest = self._range_before(piece.split())
        ranges = named or self._scope or frozenset(entry.range_name for entry in self._catalogue.entries)
        self._scope = named or self._scope
        readings = {name: read_spans(" ".join(rest), self._catalogue.chart_of(name)) for name in sorted(ranges)}
        return {
            name: r.keys for name, r in readings.items() if len(r.keys) > 1 and not r.unknown and _SPAN.search(piece)
        }

    def _span(self, written: str, spans: dict[str, tuple[int, ...]], count: int) -> ListedPiece:
        if len(spans) == 1:
            return ListedPiece(written, next(iter(spans.values())), count=count)
        said = f"The charts of {', '.join(spans)} have these codes; write the range before them."
        return ListedPiece(written, (), said, count)

    def _several(self, piece: str) -> list[tuple[str, int]]:
        """The colours of codes that only spaces part; empty unless every one of them is sure."""
        named, words = self._range_before(piece.split())
        found = [(word, self._catalogue.resolve(word, named or self._scope)) for word in words]
        if len(words) < 2 or not all(f.certain and self._catalogue.has_code(word) for word, f in found):
            return []
        self._scope = named or self._scope
        return [(word, finding.hits[0].key) for word, finding in found]

    def _unsettled(self, written: str, piece: str, whole: Finding, count: int) -> ListedPiece:
        if whole.conflict:
            both = whole.conflict.by_code + whole.conflict.by_name
            return ListedPiece(written, tuple(e.key for e in both), whole.conflict.message, count)
        if whole.hits:
            said = "It can mean several; write the range too, or choose."
            return ListedPiece(written, tuple(e.key for e in whole.hits), said, count)
        near = tuple(e.key for e in self._catalogue.suggest(piece, 6).hits)
        said = "No chart here has it; near it are these." if near else "No chart here has it."
        return ListedPiece(written, near, said, count)


def _counted(piece: str) -> tuple[str, int]:
    """A piece without its count, and the count."""
    if before := _COUNT_BEFORE.match(piece):
        return piece[before.end() :], int(before.group(1))
    if after := _COUNT_AFTER.search(piece):
        return piece[: after.start()], int(after.group(1) or after.group(2))
    return piece, 1
