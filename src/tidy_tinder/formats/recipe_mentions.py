"""The colours that a piece of a line names: by code, by name, by both, and spans of codes."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from copy import copy

from tidy_tinder.core.names.finding import Finding, Match, fold
from tidy_tinder.formats.recipe_doubts import keys_of, on_no_chart
from tidy_tinder.formats.recipe_pieces import Piece
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_scan import Scan
from tidy_tinder.formats.recipe_words import SPAN, TOKEN, counts_in, is_lead, is_qualifier, unit_in

# Words with figures in one colour: its code and its grade.
_MOST_FIGURES = 2
# Colours that a span of codes opens at most; more is a list of pages, or a slip.
_LONGEST_SPAN = 40
# Digits of a number that is a code wherever it stands.
_SHORTEST_CODE = 3
# Of a range's name, with its maker.
_RANGE_WORDS = 3


def mentions(scan: Scan, piece: Piece) -> list[ReadCall]:
    """The colours that a piece names: at each word the longest run of words that is one."""
    calls = list(_spans(scan, piece))
    opened = {i for call in calls for i in range(call.start, call.end)}
    tokens = [t for t in TOKEN.finditer(scan.scanned, piece.start, piece.end) if t.start() not in opened]
    at = 0
    # Up to where words may stand before a colour that is alone in its piece, and from where on after it.
    leads = next((i for i, t in enumerate(tokens) if not is_lead(t.group())), len(tokens))
    tail = next((i for i in range(len(tokens), 0, -1) if not is_qualifier(tokens[i - 1].group())), 0)
    known = _known_until(scan, tokens)
    folded = [fold(t.group()).split() for t in tokens]
    while at < len(tokens):
        for end in range(_longest_mention(scan, tokens, at, known[at]), at, -1):
            if not scan.catalogue.could_mean([word for words in folded[at:end] for word in words]):
                continue
            call = _mention(scan, tokens, at, end, alone=at <= leads and end >= tail)
            if call is not None:
                calls.append(call)
                at = end
                break
        else:
            # “Heron 501 and 17”: what is on no chart has named its range all the same.
            if tokens[at].group().isdecimal() and (named := _named_before(scan, tokens, at)):
                scan.meet((named[0],))
            at += 1
    return sorted(calls, key=lambda call: call.start)


def names_any(scan: Scan, start: int, end: int) -> bool:
    """Whether a part of a line names a colour; the line is as unread as before."""
    trial = copy(scan)
    trial.ranges = []
    return bool(mentions(trial, Piece(start, end, "")))


def _spans(scan: Scan, piece: Piece) -> Iterator[ReadCall]:
    """Spans of codes, opened in the order of their chart."""
    for found in SPAN.finditer(scan.scanned, piece.start, piece.end):
        ends = [scan.catalogue.resolve(found[end], scan.scope or None) for end in ("first", "last")]
        if not all(end.certain for end in ends) or ends[0].hits[0].range_name != ends[1].hits[0].range_name:
            continue
        # “Over 1-3” counts steps where the range that is spoken of has no such codes.
        few = found["last"].isdecimal() and len(found["last"]) < _SHORTEST_CODE
        if few and scan.scope and ends[0].hits[0].range_name not in scan.scope:
            yield on_no_chart(scan.line, *found.span())
            continue
        chart = [entry.key for entry in scan.catalogue.chart_of(ends[0].hits[0].range_name)]
        low, high = sorted(chart.index(end.hits[0].key) for end in ends)
        if high - low < _LONGEST_SPAN:
            start, stop = found.span()
            yield from (ReadCall(scan.line[start:stop], start, stop, key) for key in chart[low : high + 1])


def _longest_mention(scan: Scan, tokens: Sequence[re.Match[str]], at: int, until: int) -> int:
    """Where the longest run of words from one on ends that may be one colour: with a code and a grade it holds two
    words with figures, and a letter of its code apart.
    """
    figures, end = 0, at
    for end in range(at, min(until, at + scan.catalogue.longest_name + 4)):
        figures += any(c.isdigit() for c in tokens[end].group())
        if figures > _MOST_FIGURES:
            return end
    return end + 1


def _known_until(scan: Scan, tokens: Sequence[re.Match[str]]) -> list[int]:
    """For each word, the first one from it on that is part of no colour here."""
    until, end = [], len(tokens)
    for at in range(len(tokens) - 1, -1, -1):
        end = end if scan.catalogue.knows(tokens[at].group()) else at
        until.append(end)
    return until[::-1]


def _mention(scan: Scan, tokens: Sequence[re.Match[str]], at: int, end: int, alone: bool) -> ReadCall | None:
    """The call that the tokens from `at` to `end` are, or None; alone: no other words stand beside them."""
    words = [t.group() for t in tokens[at:end]]
    if "".join(words).rstrip("%").isdecimal() and words[-1].endswith("%"):
        return None  # a grade, of a name that was not read
    finding = scan.catalogue.resolve(" ".join(words), scan.scope or None)
    whole = alone and len(finding.hits) == 1
    if (finding.match is Match.REORDERED and not whole) or not (finding.hits or finding.conflict):
        return None
    before = tokens[at - 1].group().lower() if at else ""
    after = unit_in(tokens[end].group()) if end < len(tokens) else ""
    meant = (
        _contradicts(words, finding, after)
        if finding.conflict
        else _believable(scan, words, finding, before, after, alone)
    )
    return _call(scan, tokens, at, end, finding) if meant else None


def _contradicts(words: list[str], finding: Finding, after: str) -> bool:
    """Whether a code and a name that stand together are meant for one colour; “Ember (2 layers)” is no Ember of 2."""
    if len(words) > 1 and len(words[-1]) < _SHORTEST_CODE and counts_in(words[-1], after):
        return False
    both = finding.conflict is not None and finding.conflict.by_code and finding.conflict.by_name
    return len(words) == 1 or bool(both)


def _believable(scan: Scan, words: list[str], finding: Finding, before: str, after: str, alone: bool) -> bool:
    """Whether these words mean a colour here: numbers may be counts, and names are ordinary words."""
    counts = len(words) == 1 and not any(c.isalpha() for c in words[0])
    if counts and counts_in(words[0], after):
        return False  # “in 4-5 layers”
    if len(words) == 1 and words[0].isdecimal():
        written = before not in ("step", "steps", "x") and any(hit.code == words[0] for hit in finding.hits)
        in_scope = any(hit.range_name in scan.scope for hit in finding.hits)
        return written and (len(words[0]) > 2 or in_scope or alone)
    if any(any(c.isdigit() for c in word) for word in words):
        return True
    named = scan.catalogue.ranges_called(words[0]) and len(words) > 1
    return bool(alone or named or words[0][:1].isupper())


def _range_missed(scan: Scan, tokens: Sequence[re.Match[str]], at: int, end: int, range_name: str) -> str:
    """The range that a number by itself is written under and has no such code, read as one of another range; "" else.

    That is the range right before it, or the last that the line names, where nothing else speaks of the other one.
    """
    if end - at > 1 or not tokens[at].group().isdecimal():
        return ""
    named = _named_before(scan, tokens, at)
    if named:
        return "" if range_name in named else named[0]
    spoken_of = {*scan.scope, *scan.outer}
    return scan.ranges[-1] if scan.ranges and range_name not in spoken_of else ""


def _named_before(scan: Scan, tokens: Sequence[re.Match[str]], at: int) -> list[str]:
    """The ranges that the words right before one name."""
    runs = (tokens[i:at] for i in range(max(at - _RANGE_WORDS, 0), at))
    return [
        name for run in runs for name in sorted(scan.catalogue.ranges_called(" ".join(token.group() for token in run)))
    ]


def _call(scan: Scan, tokens: Sequence[re.Match[str]], at: int, end: int, finding: Finding) -> ReadCall:
    start, stop = tokens[at].start(), tokens[end - 1].end()
    stop += scan.line[stop : stop + 1] == ")" and "(" in scan.line[start:stop]
    written = scan.line[start:stop]
    for length in range(end - at - 1, 0, -1):
        called = scan.catalogue.ranges_called(" ".join(t.group() for t in tokens[at : at + length]))
        if called and finding.hits:
            scan.meet(tuple(sorted(called)))
            break
    missed = _range_missed(scan, tokens, at, end, finding.hits[0].range_name) if finding.certain else ""
    if missed:
        problem = f"“{written}” is not on the chart of {missed}, which is named before it. Which one is meant?"
        return ReadCall(written, start, stop, None, keys_of(finding.hits), problem)
    if finding.certain:
        count = next((n for at_code, n in scan.written_counts.items() if start <= at_code < stop), 1)
        return ReadCall(written, start, stop, finding.hits[0].key, layers=count)
    if finding.conflict:
        both = finding.conflict.by_code + finding.conflict.by_name
        return ReadCall(written, start, stop, None, keys_of(both), finding.conflict.message)
    ranges = ", ".join(dict.fromkeys(hit.range_name for hit in finding.hits))
    problem = f"“{written}” is on the charts of {ranges}. Which one is meant?"
    return ReadCall(written, start, stop, None, keys_of(finding.hits), problem)
