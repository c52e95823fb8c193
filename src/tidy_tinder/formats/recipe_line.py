"""One line of a recipe, read into a heading, a note or a step with its calls.

Nothing of it is dropped: what looks like a colour but cannot be read becomes a call that is still to be settled, with
what it could mean.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from tidy_tinder.core.names.finding import Catalogue, Finding, Match, fold
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Role, SaidRole, StepKind
from tidy_tinder.formats.recipe_capitals import is_in_capitals, is_pressed_name, is_sentence
from tidy_tinder.formats.recipe_colour_nouns import spoken_of
from tidy_tinder.formats.recipe_colour_words import SMALL
from tidy_tinder.formats.recipe_doubts import (
    LONGEST_NAME,
    as_long_as_codes,
    coming_near,
    either,
    graded,
    keys_of,
    on_no_chart,
    suspected,
    without_how,
)
from tidy_tinder.formats.recipe_figures import mask_figures
from tidy_tinder.formats.recipe_negations import without_those_not_laid
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK
from tidy_tinder.formats.recipe_pressing import in_brackets, pressed_each
from tidy_tinder.formats.recipe_ranges import ranges_in
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_repeats import repeated_calls
from tidy_tinder.formats.recipe_words import (
    BULLET,
    CLAUSES,
    CODE_LIKE,
    FINISHES,
    FIRST,
    HASH_HEADING,
    LAYERS,
    OR,
    OVER,
    PART_STRENGTH,
    PRESSURE_OF,
    ROLES,
    SEPARATOR,
    SETS,
    SPAN,
    TOKEN,
    UNDER,
    UNITS,
    YEAR,
    counts_something,
    is_lead,
    is_qualifier,
    layers_in,
    pressure_in,
    unit_in,
)

# Characters beside a separator among which the three words before or after it stand.
_BESIDE = 100
# Words with figures in one colour: its code and its grade.
_MOST_FIGURES = 2
# Colours that a span of codes opens at most; more is a list of pages, or a slip.
_LONGEST_SPAN = 40


@dataclass
class _Piece:
    """A part of a line between two separators, while it is read."""

    start: int
    end: int
    before: str
    calls: list[ReadCall] = field(default_factory=list)


class LineReader:
    """Reads one line into a step."""

    def __init__(
        self, line: str, area: str, scope: tuple[str, ...], catalogue: Catalogue, over_a_list: bool,
        past: Sequence[ReadStep] = (),
    ) -> None:  # fmt: skip
        self._line = BULLET.sub("", line, count=1).strip()
        masked = mask_figures(self._line, catalogue)
        self._scan, self._written_counts = masked.line, masked.counts
        self._bulleted = self._line != line
        self._past = past
        self._area = area
        self._scope = scope
        self._catalogue = catalogue
        self._over_a_list = over_a_list
        self._begins = 0
        self.ranges: list[str] = []
        # Where the words of “two light layers” stand: they count, and name no colour.
        self._counted = {i for count in LAYERS.finditer(self._line) for i in range(*count.span())}

    def read(self) -> ReadStep:
        """The step, heading or note that the line is."""
        line = self._line
        heading = self._heading()
        if heading is not None:
            return ReadStep(StepKind.HEADING, heading, line)
        self._begins = self._prefix()
        pieces = self._pieces(self._begins)
        for piece in pieces:
            piece.calls = self._mentions(piece)
        listed = sum(bool(piece.calls) for piece in pieces)
        # “119, Brambel, 107” is a bare list; “119, heavy, in circles” is not.
        bare_list = listed >= 2 and not any(pressure_in(self._words_outside(p)) for p in pieces if not p.calls)
        for piece in pieces:
            piece.calls = piece.calls or self._unread(piece, bool(listed), bare_list)
        for piece in pieces:
            taken = {i for call in piece.calls for i in range(call.start, call.end)} | self._counted
            part = (piece.start, piece.end)
            doubts = suspected(self._line, self._scan, part, taken, self._scope, self._catalogue)
            piece.calls = sorted([*piece.calls, *doubts], key=lambda call: call.start)
        # “Mix Wren Wing and Gorse Bloom”: the second has a colour's place as soon as the first may be one.
        if not listed and any(piece.calls for piece in pieces):
            for piece in pieces:
                piece.calls = piece.calls or self._unread(piece, listed=True, bare_list=False)
        pieces = self._alternatives(pieces)
        calls = without_those_not_laid(line, self._ordered(self._qualified(pieces)))
        calls = calls or repeated_calls(line, self._past)
        words = self._words_outside(_Piece(0, len(line), "", [c for p in pieces for c in p.calls]))
        finish = next((name for name, pattern in FINISHES.items() if pattern.search(words)), Finish.DRY)
        kind = StepKind.STEP if calls or finish != Finish.DRY or self._bulleted else StepKind.NOTE
        return ReadStep(kind, self._area, line, tuple(calls), pressure_in(words), layers_in(words), finish)

    def _heading(self) -> str | None:
        """The area that the line announces, where it announces one."""
        words = TOKEN.findall(self._line)
        if HASH_HEADING.match(self._line):
            return self._line.lstrip("# ").rstrip(":").strip()
        if self._line.endswith(":") and len(words) <= 8:
            return self._line.rstrip(": ").strip()
        plain = not self._bulleted and len(words) <= 3 and not re.search(r"[,;→>+/().|:]|\d", self._line)
        listed = [piece for piece in SEPARATOR.split(self._line) if piece.strip()]
        over_a_list = self._over_a_list and len(listed) == 1
        named = any(self._catalogue.has_name(piece) or self._catalogue.slips_of(piece) for piece in listed)
        spoken = any(spoken_of(self._line, list(TOKEN.finditer(self._line)), (0, len(self._line)), things=False))
        a_colour = (named or spoken) and not over_a_list
        if plain and words and not a_colour and not any(w.lower() in PRESSURE_OF for w in words):
            finished = any(pattern.search(self._line) for pattern in FINISHES.values())
            return None if finished else self._line
        return None

    def _prefix(self) -> int:
        """Where the colours of the line begin: after “Gills, light to dark:” or after “Heron:”."""
        colon = re.search(r":\s", self._scan)
        if not colon:
            return 0
        prefix = self._scan[: colon.start()]
        ranges = tuple(sorted(self._catalogue.ranges_called(prefix))) or ranges_in(prefix, self._catalogue)
        if ranges:
            self._meet(ranges)
        elif len(TOKEN.findall(prefix)) > 8 or any(CODE_LIKE.match(t) for t in TOKEN.findall(prefix)):
            return 0
        elif not self._area:
            self._area = prefix.strip()
        return colon.end()

    def _pieces(self, start: int) -> list[_Piece]:
        """The parts of the line between separators, each with the separator before it."""
        pieces, at, before = [], start, ""
        for gap in SEPARATOR.finditer(self._scan, start):
            if self._inside_name(gap.start(), gap.end()):
                continue
            pieces.append(_Piece(at, gap.start(), before))
            at, before = gap.end(), gap.group().strip().lower()
        pieces.append(_Piece(at, len(self._line), before))
        return [p for p in pieces if self._scan[p.start : p.end].strip()]

    def _inside_name(self, start: int, end: int) -> bool:
        """Whether a separator such as “and” is part of a colour's name."""
        gap = fold(self._line[start:end])
        if not gap:
            return False
        left = fold(self._line[max(0, start - _BESIDE) : start]).split()[-3:]
        right = fold(self._line[end : end + _BESIDE]).split()[:3]
        return any(
            self._catalogue.has_name(" ".join([*left[-i:], gap, *right[:j]]))
            for i in range(1, len(left) + 1)
            for j in range(1, len(right) + 1)
        )

    def _meet(self, ranges: tuple[str, ...]) -> None:
        """A range named in the line holds for what follows in it."""
        self._scope = ranges
        self.ranges.extend(ranges)

    def _mentions(self, piece: _Piece) -> list[ReadCall]:
        """The colours that a piece names: at each word the longest run of words that is one."""
        calls = list(self._spans(piece))
        opened = {i for call in calls for i in range(call.start, call.end)}
        tokens = [t for t in TOKEN.finditer(self._scan, piece.start, piece.end) if t.start() not in opened]
        at = 0
        # Up to where words may stand before a colour that is alone in its piece, and from where on after it.
        leads = next((i for i, t in enumerate(tokens) if not is_lead(t.group())), len(tokens))
        tail = next((i for i in range(len(tokens), 0, -1) if not is_qualifier(tokens[i - 1].group())), 0)
        known = self._known_until(tokens)
        folded = [fold(t.group()).split() for t in tokens]
        while at < len(tokens):
            for end in range(self._longest_mention(tokens, at, known[at]), at, -1):
                if not self._catalogue.could_mean([word for words in folded[at:end] for word in words]):
                    continue
                call = self._mention(tokens, at, end, alone=at <= leads and end >= tail)
                if call is not None:
                    calls.append(call)
                    at = end
                    break
            else:
                at += 1
        return sorted(calls, key=lambda call: call.start)

    def _spans(self, piece: _Piece) -> Iterator[ReadCall]:
        """Spans of codes, opened in the order of their chart."""
        for found in SPAN.finditer(self._scan, piece.start, piece.end):
            ends = [self._catalogue.resolve(found[end], self._scope or None) for end in ("first", "last")]
            if not all(end.certain for end in ends) or ends[0].hits[0].range_name != ends[1].hits[0].range_name:
                continue
            chart = [entry.key for entry in self._catalogue.chart_of(ends[0].hits[0].range_name)]
            low, high = sorted(chart.index(end.hits[0].key) for end in ends)
            if high - low < _LONGEST_SPAN:
                start, stop = found.span()
                yield from (ReadCall(self._line[start:stop], start, stop, key) for key in chart[low : high + 1])

    def _longest_mention(self, tokens: Sequence[re.Match[str]], at: int, until: int) -> int:
        """Where the longest run of words from one on ends that may be one colour: with a code and a grade it holds two
        words with figures, and a letter of its code apart.
        """
        figures, end = 0, at
        for end in range(at, min(until, at + self._catalogue.longest_name + 4)):
            figures += any(c.isdigit() for c in tokens[end].group())
            if figures > _MOST_FIGURES:
                return end
        return end + 1

    def _known_until(self, tokens: Sequence[re.Match[str]]) -> list[int]:
        """For each word, the first one from it on that is part of no colour here."""
        until, end = [], len(tokens)
        for at in range(len(tokens) - 1, -1, -1):
            end = end if self._catalogue.knows(tokens[at].group()) else at
            until.append(end)
        return until[::-1]

    def _mention(self, tokens: Sequence[re.Match[str]], at: int, end: int, alone: bool) -> ReadCall | None:
        """The call that the tokens from `at` to `end` are, or None; alone: no other words stand beside them."""
        words = [t.group() for t in tokens[at:end]]
        if "".join(words).rstrip("%").isdecimal() and words[-1].endswith("%"):
            return None  # a grade, of a name that was not read
        finding = self._catalogue.resolve(" ".join(words), self._scope or None)
        whole = alone and len(finding.hits) == 1
        if (finding.match is Match.REORDERED and not whole) or not (finding.hits or finding.conflict):
            return None
        before = tokens[at - 1].group().lower() if at else ""
        after = unit_in(tokens[end].group()) if end < len(tokens) else ""
        if finding.conflict:
            if not (finding.conflict.by_code and finding.conflict.by_name) and len(words) > 1:
                return None
            return self._call(tokens, at, end, finding)
        if not self._believable(words, finding, before, after, alone):
            return None
        return self._call(tokens, at, end, finding)

    def _believable(self, words: list[str], finding: Finding, before: str, after: str, alone: bool) -> bool:
        """Whether these words mean a colour here: numbers may be counts, and names are ordinary words."""
        counts = len(words) == 1 and not any(c.isalpha() for c in words[0])
        if counts and after in UNITS - set(MARK_PRESSURES):
            return False  # “in 4-5 layers”
        if len(words) == 1 and words[0].isdecimal():
            written = before not in ("step", "steps", "x") and any(hit.code == words[0] for hit in finding.hits)
            in_scope = any(hit.range_name in self._scope for hit in finding.hits)
            return written and (len(words[0]) > 2 or in_scope or alone)
        if any(any(c.isdigit() for c in word) for word in words):
            return True
        named = self._catalogue.ranges_called(words[0]) and len(words) > 1
        return bool(alone or named or words[0][:1].isupper())

    def _call(self, tokens: Sequence[re.Match[str]], at: int, end: int, finding: Finding) -> ReadCall:
        start, stop = tokens[at].start(), tokens[end - 1].end()
        stop += self._line[stop : stop + 1] == ")" and "(" in self._line[start:stop]
        written = self._line[start:stop]
        for length in range(end - at - 1, 0, -1):
            called = self._catalogue.ranges_called(" ".join(t.group() for t in tokens[at : at + length]))
            if called and finding.hits:
                self._meet(tuple(sorted(called)))
                break
        if finding.certain:
            count = next((n for at_code, n in self._written_counts.items() if start <= at_code < stop), 1)
            return ReadCall(written, start, stop, finding.hits[0].key, layers=count)
        if finding.conflict:
            both = finding.conflict.by_code + finding.conflict.by_name
            return ReadCall(written, start, stop, None, keys_of(both), finding.conflict.message)
        ranges = ", ".join(dict.fromkeys(hit.range_name for hit in finding.hits))
        problem = f"“{written}” is on the charts of {ranges}. Which one is meant?"
        return ReadCall(written, start, stop, None, keys_of(finding.hits), problem)

    def _unread(self, piece: _Piece, listed: bool, bare_list: bool) -> list[ReadCall]:
        """What looks like a colour in a piece but is none: to be settled, with what comes near."""
        tokens = [t for t in TOKEN.finditer(self._scan, piece.start, piece.end) if t.start() not in self._counted]
        written = list(TOKEN.finditer(self._line, piece.start, piece.end))
        if any(counts_something(written, i) for i in range(len(written))):
            return []
        codes = [t for i, t in enumerate(tokens) if self._looks_like_code(tokens, i, listed)]
        if codes:
            return [on_no_chart(self._line, t.start(), t.end()) for t in codes]
        # What stands in brackets says something of it.
        opens = self._line.find("(", piece.start, piece.end)
        tokens = without_how([t for t in tokens if t.start() < opens] or tokens)
        if len(tokens) == 1 and as_long_as_codes(tokens[0].group(), self._scope, self._catalogue):
            return [on_no_chart(self._line, tokens[0].start(), tokens[0].end())]
        words = [t.group() for t in tokens]
        name = " ".join(words)
        placed = (listed or self._bulleted) and not self._catalogue.ranges_called(name)
        if not 0 < len(words) <= LONGEST_NAME or not placed:
            return []
        near = coming_near(name, self._scope, self._catalogue)
        opens = self._bulleted and piece.start == self._begins and is_pressed_name(self._line, piece.end, words)
        capitals = (listed or opens) and is_in_capitals(words) and not is_sentence(self._line, tokens)
        figures = self._line[piece.start : piece.end] != self._scan[piece.start : piece.end]
        clause = fold(words[0]) in OF_WORK | DONE or written[0].group().lower() in CLAUSES
        short = len(words) <= 2 and not clause and not (len(words) == 1 and fold(words[0]) in SMALL)
        suspicious = capitals or bool(near) or (bare_list and short and not figures)
        return [on_no_chart(self._line, tokens[0].start(), tokens[-1].end(), near)] if suspicious else []

    def _looks_like_code(self, tokens: Sequence[re.Match[str]], i: int, listed: bool) -> bool:
        """A letter with digits always does, and a bare number of three or four digits; a year does in a list."""
        word = tokens[i].group()
        if i and word.isdecimal() and self._catalogue.ranges_called(tokens[i - 1].group()):
            return not (i + 1 < len(tokens) and fold(tokens[i + 1].group()) in SETS)
        if not CODE_LIKE.match(word):
            return False
        return not YEAR.match(word) or listed or self._bulleted or bool(self.ranges)

    def _qualified(self, pieces: list[_Piece]) -> list[tuple[_Piece, ReadCall]]:
        """Every call with the pressure, layers and role that the words round it give."""
        group: list[int] = []  # calls that a following "…, medium, two layers" still speaks of
        closed = False
        calls: list[tuple[_Piece, ReadCall]] = []
        for piece in pieces:
            words = self._words_outside(piece)
            pressure, layers = pressure_in(words), layers_in(words)
            role: SaidRole = next((name for name, pattern in ROLES.items() if pattern.search(words)), "")
            if piece.calls:
                group = [] if closed else group
                closed = False
                group.extend(range(len(calls), len(calls) + len(piece.calls)))
                pressed = pressed_each(self._line, piece.calls, (piece.start, piece.end), words)
                for call, hard in zip(piece.calls, pressed, strict=True):
                    calls.append((piece, replace(call, pressure=hard, layers=max(layers, call.layers), role=role)))
            if calls and PART_STRENGTH.search(words):
                calls[-1] = (calls[-1][0], graded(calls[-1][1], words, self._catalogue))
            if not piece.calls and (pressure or layers > 1):
                closed = True
                for i in group[-1:] if in_brackets(self._line, piece.start) else group:
                    owner, call = calls[i]
                    said = replace(call, pressure=call.pressure or pressure, layers=max(call.layers, layers))
                    calls[i] = (owner, said)
        return calls

    def _words_outside(self, piece: _Piece) -> str:
        """The words of a piece that are not part of a colour."""
        ends = [piece.start, *(call.end for call in piece.calls)]
        starts = [*(call.start for call in piece.calls), piece.end]
        return " ".join(self._line[end:start] for end, start in zip(ends, starts, strict=True))

    def _ordered(self, calls: list[tuple[_Piece, ReadCall]]) -> list[ReadCall]:
        """The calls in the order in which they go down: in “A over B over C”, C first, then B; “A first” is first."""
        ordered: list[ReadCall] = []
        chain = 0
        for piece, call in calls:
            leads = call.start == piece.calls[0].start
            if ordered and leads and piece.before in OVER:
                ordered.insert(chain, replace(call, role=call.role or Role.BELOW))
                continue
            if ordered and leads and piece.before in UNDER:
                ordered[-1] = replace(ordered[-1], role=ordered[-1].role or Role.BELOW)
            chain = len(ordered)
            if len(piece.calls) == 1 and FIRST.match(self._line[call.end : piece.end]):
                chain = 0
            ordered.insert(chain, call)
        return ordered

    def _alternatives(self, pieces: list[_Piece]) -> list[_Piece]:
        """“A or B” is one call."""
        kept: list[_Piece] = []
        for piece in pieces:
            before = kept[-1] if kept else None
            if before is None or piece.before not in OR or not (len(before.calls) == len(piece.calls) == 1):
                kept.append(piece)
                continue
            both = either(self._line, before.calls[0], piece.calls[0])
            kept[-1] = _Piece(before.start, piece.end, before.before, [both])
        return kept
