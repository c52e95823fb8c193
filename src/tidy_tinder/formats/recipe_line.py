"""One line of a recipe, read into a heading, a note or a step with its calls.

Nothing of it is dropped: what looks like a colour but cannot be read becomes a call that is still to be settled, with
what it could mean.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from tidy_tinder.core.names.finding import Catalogue, Finding, Match, fold
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, SaidRole, StepKind
from tidy_tinder.formats.recipe_capitals import is_in_capitals, is_pressed_name, is_sentence, last_in_capitals
from tidy_tinder.formats.recipe_colour_nouns import spoken_of
from tidy_tinder.formats.recipe_colour_words import BESIDE_PENCILS, DAYS, SMALL, TONES, TOOLS
from tidy_tinder.formats.recipe_doubts import (
    LONGEST_NAME,
    as_long_as_codes,
    coming_near,
    graded,
    keys_of,
    on_no_chart,
    suspected,
    without_how,
)
from tidy_tinder.formats.recipe_figures import mask_figures
from tidy_tinder.formats.recipe_longer_names import names_within, with_words_beside
from tidy_tinder.formats.recipe_negations import without_those_not_laid
from tidy_tinder.formats.recipe_pieces import (
    Piece,
    in_the_order_laid,
    pieces_of,
    with_choices_joined,
    with_codes_joined,
    words_outside,
)
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_drawn
from tidy_tinder.formats.recipe_pressing import in_brackets, pressed_each
from tidy_tinder.formats.recipe_ranges import ranges_in
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_repeats import repeated_calls
from tidy_tinder.formats.recipe_words import (
    BULLET,
    CLAUSES,
    CODE_LIKE,
    DASH,
    FINISHES,
    HASH_HEADING,
    JOINING,
    LAYERS,
    PART_STRENGTH,
    PRESSURE_OF,
    ROLES,
    SEPARATOR,
    SETS,
    SPAN,
    TOKEN,
    UNITS,
    YEAR,
    counts_something,
    is_lead,
    is_qualifier,
    layers_in,
    pressure_in,
    unit_in,
    what_is_done,
)

# Words with figures in one colour: its code and its grade.
_MOST_FIGURES = 2
# Words of a label that a dash or “=” ends.
_LONGEST_LABEL = 3
# Colours that a span of codes opens at most; more is a list of pages, or a slip.
_LONGEST_SPAN = 40


def _is_no_name(words: Sequence[str]) -> bool:
    """Whether a word by itself is a day, a part of the drawing, or what is used beside pencils."""
    if len(words) != 1:
        return False
    word = fold(words[0])
    return word in DAYS | BESIDE_PENCILS or is_drawn(word)


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
        pieces = pieces_of(line, self._scan, self._begins, self._catalogue)
        for piece in pieces:
            found, part = self._mentions(piece), (piece.start, piece.end)
            piece.calls = with_words_beside(line, part, found, self._scope, self._catalogue)
        listed = sum(bool(piece.calls) for piece in pieces)
        # “119, Brambel, 107” is a bare list; “119, heavy, in circles” is not.
        pressed = any(pressure_in(words_outside(line, p)) for p in pieces if not p.calls)
        bare_list = listed >= 2 and 2 * listed >= len(pieces) and not pressed
        pieces = with_codes_joined(line, pieces, self._scope, self._catalogue)
        for piece in pieces:
            piece.calls = piece.calls or self._unread(piece, bool(listed), bare_list)
        for piece in pieces:
            if self._is_label(piece):
                continue
            taken = {i for call in piece.calls for i in range(call.start, call.end)} | self._counted
            part = (piece.start, piece.end)
            doubts = suspected(self._line, self._scan, part, taken, self._scope, self._catalogue)
            piece.calls = sorted([*piece.calls, *doubts], key=lambda call: call.start)
        for piece, following in pairwise(pieces):
            piece.calls = piece.calls or self._joined(piece, following)
        # “Mix Wren Wing and Gorse Bloom”: the second has a colour's place as soon as the first may be one.
        if not listed and any(piece.calls for piece in pieces):
            for piece in pieces:
                piece.calls = piece.calls or self._unread(piece, listed=True, bare_list=False)
        pieces = with_choices_joined(line, pieces)
        calls = without_those_not_laid(line, in_the_order_laid(line, self._qualified(pieces)))
        calls = calls or repeated_calls(line, self._past)
        words = what_is_done(words_outside(line, Piece(0, len(line), "", calls=[c for p in pieces for c in p.calls])))
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
        named = any(
            self._catalogue.slips_of(piece) or names_within(TOKEN.findall(piece), (), self._catalogue)
            for piece in listed
        )
        spoken = any(spoken_of(self._line, list(TOKEN.finditer(self._line)), (0, len(self._line)), things=False))
        a_colour = (named or spoken) and not over_a_list
        if plain and words and not a_colour and not any(w.lower() in PRESSURE_OF for w in words):
            finished = any(pattern.search(self._line) for pattern in FINISHES.values())
            return None if finished else self._line
        return None

    def _prefix(self) -> int:
        """Where the colours of the line begin: after “Gills, light to dark:”, “Gills - ” or “Heron:”."""
        ends = re.search(r":\s", self._scan) or self._dash()
        if not ends:
            return 0
        prefix = self._scan[: ends.start()]
        ranges = tuple(sorted(self._catalogue.ranges_called(prefix))) or ranges_in(prefix, self._catalogue)
        if ranges:
            self._meet(ranges)
        elif len(TOKEN.findall(prefix)) > 8 or any(CODE_LIKE.match(t) for t in TOKEN.findall(prefix)):
            return 0
        elif not self._area:
            self._area = prefix.strip()
        return ends.end()

    def _dash(self) -> re.Match[str] | None:
        """The dash after what a line begins with, where that is no colour and not how one is laid."""
        dash = DASH.search(self._scan)
        tokens = list(TOKEN.finditer(self._scan, 0, dash.start())) if dash else []
        words = [token.group() for token in tokens]
        if not 0 < len(words) <= _LONGEST_LABEL or any(is_lead(word) or not word.isalpha() for word in words):
            return None
        spoken = any(spoken_of(self._line, tokens, (0, tokens[-1].end())))
        return None if spoken or names_within(words, (), self._catalogue) else dash

    def _meet(self, ranges: tuple[str, ...]) -> None:
        """A range named in the line holds for what follows in it."""
        self._scope = ranges
        self.ranges.extend(ranges)

    def _mentions(self, piece: Piece) -> list[ReadCall]:
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

    def _spans(self, piece: Piece) -> Iterator[ReadCall]:
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

    def _unread(self, piece: Piece, listed: bool, bare_list: bool) -> list[ReadCall]:
        """What looks like a colour in a piece but is none: to be settled, with what comes near."""
        tokens = [t for t in TOKEN.finditer(self._scan, piece.start, piece.end) if t.start() not in self._counted]
        written = list(TOKEN.finditer(self._line, piece.start, piece.end))
        if any(counts_something(written, i) for i in range(len(written))):
            return []
        codes = [t for i, t in enumerate(tokens) if self._looks_like_code(tokens, i, listed)]
        if codes:
            return [on_no_chart(self._line, t.start(), t.end()) for t in codes]
        # What stands in brackets says something of it, and before a colon where it goes.
        opens = self._line.find("(", piece.start, piece.end)
        labels = [found.end() for found in re.finditer(r":\s", self._scan[piece.start : piece.end])]
        begins = piece.start + labels[-1] if labels else piece.start
        tokens = without_how(
            [t for t in tokens if begins <= t.start() < opens] or [t for t in tokens if begins <= t.start()]
        )
        if len(tokens) == 1 and as_long_as_codes(tokens[0].group(), self._scope, self._catalogue):
            return [on_no_chart(self._line, tokens[0].start(), tokens[0].end())]
        words = [t.group() for t in tokens]
        if self._is_label(piece) or _is_no_name(words):
            return []
        labelled = bool(labels) or piece.start == self._begins > 0
        placed = listed or self._bulleted or labelled
        if not 0 < len(words) <= LONGEST_NAME or not placed or self._catalogue.ranges_called(" ".join(words)):
            return []
        near = coming_near(" ".join(words), self._scope, self._catalogue) if listed or self._bulleted else ()
        near = near or names_within(words, self._scope, self._catalogue)
        opens = self._bulleted and piece.start == self._begins and is_pressed_name(self._line, piece.end, words)
        capitals = (listed or opens) and is_in_capitals(words) and not is_sentence(self._line, tokens)
        figures = self._line[piece.start : piece.end] != self._scan[piece.start : piece.end]
        clause = fold(words[0]) in OF_WORK | DONE or written[0].group().lower() in CLAUSES
        folded = [fold(word) for word in words]
        where = all(is_drawn(word) or word in TONES for word in folded)
        none = clause or where or folded[-1] in TOOLS or (len(words) == 1 and folded[0] in SMALL)
        short = len(words) <= 2 and not none
        suspicious = capitals or bool(near) or (bare_list and short and not figures)
        return [on_no_chart(self._line, tokens[0].start(), tokens[-1].end(), near)] if suspicious else []

    def _is_label(self, piece: Piece) -> bool:
        """Whether a piece says what the next one is for: “MD = 107”."""
        words = TOKEN.findall(self._scan, piece.start, piece.end)
        return len(words) <= _LONGEST_LABEL and self._scan.startswith(("=", " ="), piece.end)

    def _joined(self, piece: Piece, following: Piece) -> list[ReadCall]:
        """A name in capitals that ends a piece, where “and” joins it with a colour: “let Slate Mist and Sloe show”."""
        if following.before not in JOINING or not following.calls:
            return []
        if self._line[following.start : following.calls[0].start].strip():
            return []
        name = last_in_capitals(self._line, list(TOKEN.finditer(self._scan, piece.start, piece.end)))
        if name is None:
            return []
        near = coming_near(self._line[slice(*name)], self._scope, self._catalogue)
        return [on_no_chart(self._line, *name, near)]

    def _looks_like_code(self, tokens: Sequence[re.Match[str]], i: int, listed: bool) -> bool:
        """A letter with digits always does, and a bare number of three or four digits; a year does in a list."""
        word = tokens[i].group()
        if i and word.isdecimal() and self._catalogue.ranges_called(tokens[i - 1].group()):
            return not (i + 1 < len(tokens) and fold(tokens[i + 1].group()) in SETS)
        if not CODE_LIKE.match(word):
            return False
        return not YEAR.match(word) or listed or self._bulleted or bool(self.ranges)

    def _qualified(self, pieces: list[Piece]) -> list[tuple[Piece, ReadCall]]:
        """Every call with the pressure, layers and role that the words round it give."""
        group: list[int] = []  # calls that a following "…, medium, two layers" still speaks of
        closed, spoken = False, 0
        calls: list[tuple[Piece, ReadCall]] = []
        for piece in pieces:
            words = what_is_done(words_outside(self._line, piece))
            pressure, layers = pressure_in(words), layers_in(words)
            role: SaidRole = next((name for name, pattern in ROLES.items() if pattern.search(words)), "")
            if piece.calls:
                # “Oat, then 119. End with 107, hard”: a sentence that has colours speaks of them.
                group = [] if closed or piece.sentence != spoken else group
                closed, spoken = False, piece.sentence
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
