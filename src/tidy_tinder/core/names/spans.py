"""Typed codes with spans, “101-118, 122, 130”, read against the order of one chart."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.names.finding import Entry, fold, fold_code

_DASH = re.compile(r"\s*(?:-|–|—|\bto\b)\s*")
_BETWEEN = re.compile(r"[,;\n\t]+|\s+and\s+")


@dataclass(frozen=True)
class SpanReading:
    """What a line of codes means on one chart.

    keys: the colours meant, in chart order, each once. unknown: what is on the chart neither as a code nor
    as a name, in the words in which it was written; nothing of it was guessed.
    """

    keys: tuple[int, ...]
    unknown: tuple[str, ...]


def read_spans(text: str, chart: Sequence[Entry]) -> SpanReading:
    """Read `text` against `chart`, the entries of one range in their printed order.

    Codes and names may be mixed, parted by commas, semicolons, lines or, between codes, spaces. A span
    runs in the order of the chart, either way round, and needs both its ends on the chart.
    """
    positions = _positions(chart)
    chosen: set[int] = set()
    unknown: list[str] = []
    for piece in _pieces(text, positions):
        codes = _read_piece(piece, positions)
        if codes is None:
            unknown.append(piece)
        else:
            chosen.update(codes)
    return SpanReading(tuple(chart[i].key for i in sorted(chosen)), tuple(unknown))


def _positions(chart: Sequence[Entry]) -> dict[str, int]:
    """Chart position by folded name and by folded code; a code goes before a name."""
    positions = {fold(entry.name): i for i, entry in enumerate(chart)}
    positions.update({fold_code(entry.code): i for i, entry in enumerate(chart)})
    return positions


def _pieces(text: str, positions: dict[str, int]) -> list[str]:
    """The parts of the line; a part that is no name, no code and no span is parted at its spaces."""
    pieces: list[str] = []
    for part in (p.strip() for p in _BETWEEN.split(text)):
        if not part:
            continue
        whole = _read_piece(part, positions) is not None
        spaced = _DASH.sub("-", part).split()
        pieces.extend([part] if whole or len(spaced) == 1 else spaced)
    return pieces


def _read_piece(piece: str, positions: dict[str, int]) -> range | None:
    """The chart positions of one code, name or span; None where it is not on the chart."""
    single = _position(piece, positions)
    if single is not None:
        return range(single, single + 1)
    ends = _DASH.split(piece)
    if len(ends) != 2:
        return None
    first, last = _position(ends[0], positions), _position(ends[1], positions)
    if first is None or last is None:
        return None
    return range(min(first, last), max(first, last) + 1)


def _position(text: str, positions: dict[str, int]) -> int | None:
    """Where one code or name stands on the chart."""
    if not fold(text):
        return None
    by_code = positions.get(fold_code(text))
    return by_code if by_code is not None else positions.get(fold(text))
