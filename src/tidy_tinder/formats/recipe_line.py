"""One line of a recipe, read into a heading, a note or a step with its calls.

Nothing of it is dropped: what looks like a colour but cannot be read becomes a call that is still to be settled, with
what it could mean.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import Finish, SaidRole, StepKind
from tidy_tinder.formats.recipe_capitals import is_in_capitals, is_laying
from tidy_tinder.formats.recipe_colour_nouns import spoken_of
from tidy_tinder.formats.recipe_colour_words import IN
from tidy_tinder.formats.recipe_doubts import coming_near, graded, perhaps, suspected, without_how
from tidy_tinder.formats.recipe_longer_names import names_within, with_words_beside
from tidy_tinder.formats.recipe_mentions import mentions, names_any
from tidy_tinder.formats.recipe_negations import what_is_done, without_those_not_laid
from tidy_tinder.formats.recipe_pieces import (
    Piece,
    in_the_order_laid,
    pieces_of,
    with_choices_joined,
    with_codes_joined,
    words_outside,
)
from tidy_tinder.formats.recipe_plain_names import is_beside, is_drawn
from tidy_tinder.formats.recipe_pressing import in_brackets, pressed_each
from tidy_tinder.formats.recipe_ranges import ranges_in
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_repeats import goes_on_from, repeated_calls
from tidy_tinder.formats.recipe_scan import Scan
from tidy_tinder.formats.recipe_slots import ReadThere, in_slots
from tidy_tinder.formats.recipe_unread import LONGEST_LABEL, is_label, unread
from tidy_tinder.formats.recipe_words import (
    CODE_LIKE,
    DASH,
    FINISHES,
    HASH_HEADING,
    OF_WHAT_WAS_NAMED,
    PART_STRENGTH,
    PRESSURE_OF,
    ROLES,
    SENTENCE,
    SEPARATOR,
    SMALL_LABEL,
    TIME,
    TOKEN,
    is_lead,
    is_qualifier,
    layers_in,
    pressure_in,
    without_label,
)


class LineReader:
    """Reads one line into a step."""

    def __init__(
        self, line: str, area: str, scope: tuple[str, ...], catalogue: Catalogue, over_a_list: bool,
        past: Sequence[ReadStep] = (),
    ) -> None:  # fmt: skip
        self._scan = Scan(line, scope, catalogue)
        self._past = past
        self._area = area
        self._over_a_list = over_a_list

    @property
    def ranges(self) -> list[str]:
        """The ranges that the line names."""
        return self._scan.ranges

    def read(self) -> ReadStep:
        """The step, heading or note that the line is."""
        scan, line = self._scan, self._scan.line
        heading = self._heading()
        if heading is not None:
            return ReadStep(StepKind.HEADING, heading, line)
        scan.begins = self._prefix()
        pieces = pieces_of(line, scan.scanned, scan.begins, scan.catalogue)
        pieces = [replace(piece, calls=self._named(piece)) for piece in pieces]
        listed = sum(bool(piece.calls) for piece in pieces)
        # “119, Brambel, 107” is a bare list; “119, heavy, in circles” is not.
        pressed = any(pressure_in(words_outside(line, p)) for p in pieces if not p.calls)
        bare_list = listed >= 2 and 2 * listed >= len(pieces) and not pressed
        pieces = with_codes_joined(line, pieces, scan.scope, scan.catalogue)
        pieces = [self._with(piece, unread(scan, piece, bool(listed), bare_list)) for piece in pieces]
        pieces = [replace(piece, calls=self._with_doubts(piece)) for piece in pieces]
        read = ReadThere.of([call for piece in pieces for call in piece.calls])
        pieces = [replace(piece, calls=self._with_slots(piece, read)) for piece in pieces]
        # “Mix Wren Wing and Gorse Bloom”: the second has a colour's place as soon as the first may be one.
        if not listed and any(piece.calls for piece in pieces):
            pieces = [self._with(piece, unread(scan, piece, listed=True, bare_list=False)) for piece in pieces]
        pieces = with_choices_joined(line, pieces)
        calls = without_those_not_laid(line, in_the_order_laid(line, self._qualified(pieces)))
        if not calls or goes_on_from(line):
            calls = [*repeated_calls(line, self._past), *calls]
        words = what_is_done(
            words_outside(line, Piece(0, len(line), "", calls=tuple(c for p in pieces for c in p.calls)))
        )
        finish = next((name for name, pattern in FINISHES.items() if pattern.search(words)), Finish.DRY)
        kind = StepKind.STEP if calls or finish != Finish.DRY or scan.bulleted else StepKind.NOTE
        said = pressure_in(words), layers_in(words), finish
        return ReadStep(kind, self._area, line, tuple(calls), *said, number=scan.number)

    def _named(self, piece: Piece) -> tuple[ReadCall, ...]:
        """The colours that a piece names, none of them read from a part of a longer name."""
        found, part = mentions(self._scan, piece), (piece.start, piece.end)
        scope, catalogue = self._scan.scope, self._scan.catalogue
        return tuple(with_words_beside(self._scan.line, part, found, scope, catalogue))

    def _with_doubts(self, piece: Piece) -> tuple[ReadCall, ...]:
        """The calls of a piece with what else in it may name a colour."""
        scan = self._scan
        if is_label(scan, piece):
            return piece.calls
        taken = {i for call in piece.calls for i in range(call.start, call.end)} | scan.counted
        doubts = suspected(scan.line, scan.scanned, (piece.start, piece.end), taken, scan.scope, scan.catalogue)
        # “Dark: 126” says what its colour is for.
        last = max((call.start for call in piece.calls), default=0)
        asked = [d for d in doubts if d.end > last or not scan.scanned.startswith(":", d.end)]
        return tuple(sorted([*piece.calls, *asked], key=lambda call: call.start))

    def _with_slots(self, piece: Piece, read: ReadThere) -> tuple[ReadCall, ...]:
        """The calls of a piece with the names in it that stand where a colour does; read: those of the line."""
        scan, part = self._scan, (piece.start, piece.end)
        if is_label(scan, piece):
            return piece.calls
        found = (
            perhaps(scan.line, start, end, coming_near(scan.line[start:end], scan.scope, scan.catalogue))
            for start, end in in_slots(scan.line, scan.scanned, part, read, labelled=scan.begins > 0)
        )
        return tuple(sorted([*piece.calls, *found], key=lambda call: call.start))

    @staticmethod
    def _with(piece: Piece, calls: Sequence[ReadCall]) -> Piece:
        """A piece with calls, unless it has some."""
        return piece if piece.calls else replace(piece, calls=tuple(calls))

    def _heading(self) -> str | None:
        """The area that the line announces, where it announces one."""
        line, catalogue = self._scan.line, self._scan.catalogue
        words = TOKEN.findall(line)
        if HASH_HEADING.match(line):
            return line.lstrip("# ").rstrip(":").strip()
        if line.endswith(":") and len(words) <= 8:
            return line.rstrip(": ").strip()
        plain = not self._scan.bulleted and 0 < len(words) <= 3 and not re.search(r"[,;→>+/().|:=]|\d", line)
        pressed = any(word.lower() in PRESSURE_OF for word in words)
        labelled = SMALL_LABEL.match(line) and not self._over_a_list
        if not plain or pressed or labelled or any(pattern.search(line) for pattern in FINISHES.values()):
            return None
        listed = [piece for piece in SEPARATOR.split(line) if piece.strip()]
        if self._over_a_list and len(listed) == 1:
            return line
        named = any(catalogue.slips_of(piece) or names_within(TOKEN.findall(piece), (), catalogue) for piece in listed)
        spoken = any(spoken_of(line, list(TOKEN.finditer(line)), (0, len(line)), things=False))
        # “Highlights in Grate”
        laid = any(is_laying(word) or word in IN for word in words[:-1]) and words[-1][:1].isupper()
        return None if named or spoken or laid or _has_a_name(line, words) else line

    def _prefix(self) -> int:
        """Where the colours of the line begin: after “Gills, light to dark:”, “Gills - ” or “Heron:”."""
        scan = self._scan
        ends = re.search(r"\s?:\s", scan.scanned) or self._dash()
        if not ends:
            return 0
        prefix = scan.scanned[: ends.start()]
        if self._goes_before(prefix):
            return 0
        if self._is_a_colour(ends):
            scan.led = True
            scan.scanned = prefix + ",".ljust(len(ends.group())) + scan.scanned[ends.end() :]
            return 0
        ranges = tuple(sorted(scan.catalogue.ranges_called(prefix))) or ranges_in(prefix, scan.catalogue)
        if ranges:
            scan.meet(ranges)
        elif not self._area:
            self._area = TIME.sub("", scan.line[: ends.start()]).strip()
        return ends.end()

    def _goes_before(self, prefix: str) -> bool:
        """Whether what stands before a colon is more than a label: a sentence, many words, a code, or other colours, as
        in “Breast → Ember, Pantile; deepest: Sloe”.
        """
        words = TOKEN.findall(prefix)
        if SENTENCE.search(prefix) or len(words) > 8 or any(CODE_LIKE.match(word) for word in words):
            return True
        parted = SEPARATOR.search(prefix)
        listed = parted is not None and names_any(self._scan, 0, len(prefix))
        return listed or re.search(r"[;→]|\w\s?-?>", prefix) is not None

    def _is_a_colour(self, ends: re.Match[str]) -> bool:
        """Whether the label that ends there is a colour, and how it is laid follows: “Fly Cap: light, all over”."""
        scan = self._scan
        tokens = list(TOKEN.finditer(scan.scanned, 0, ends.start()))
        label = [token.group() for token in without_how(tokens)]
        after = SEPARATOR.search(scan.scanned, ends.end())
        if not label or names_any(scan, ends.end(), after.start() if after else len(scan.line)):
            return False
        spoken = any(spoken_of(scan.line, tokens, (0, ends.start()), things=False))
        how = TOKEN.match(scan.scanned, ends.end())
        # “Tiger Lily – petals”: where it is laid tells a colour as well as how.
        pressed = how is not None and (is_qualifier(how.group()) or (how.group().islower() and is_drawn(how.group())))
        new = pressed and len(label) > 1 and is_in_capitals(label) and not is_beside(fold(label[-1]))
        named = scan.catalogue.has_name(scan.scanned[: ends.start()]) or names_within(label, (), scan.catalogue)
        return spoken or new or bool(named)

    def _dash(self) -> re.Match[str] | None:
        """The dash after what a line begins with, where that is no colour and not how one is laid."""
        dash = DASH.search(self._scan.scanned)
        tokens = list(TOKEN.finditer(self._scan.scanned, 0, dash.start())) if dash else []
        words = [token.group() for token in tokens]
        if not 0 < len(words) <= LONGEST_LABEL or any(is_lead(word) or not word.isalpha() for word in words):
            return None
        spoken = any(spoken_of(self._scan.line, tokens, (0, tokens[-1].end())))
        return None if spoken or names_within(words, (), self._scan.catalogue) else dash

    def _qualified(self, pieces: list[Piece]) -> list[tuple[Piece, ReadCall]]:
        """Every call with the pressure, layers and role that the words round it give."""
        group: list[int] = []  # calls that a following "…, medium, two layers" still speaks of
        closed, spoken = False, 0
        calls: list[tuple[Piece, ReadCall]] = []
        for piece in pieces:
            words = what_is_done(without_label(words_outside(self._scan.line, piece)))
            before = OF_WHAT_WAS_NAMED.search(self._scan.line, piece.start, piece.calls[0].start if piece.calls else 0)
            if before and calls:
                calls[-1] = (calls[-1][0], replace(calls[-1][1], layers=layers_in(before.group())))
                words = words.replace(before.group(), " ", 1)
            pressure, layers = pressure_in(words), layers_in(words)
            role: SaidRole = next((name for name, pattern in ROLES.items() if pattern.search(words)), "")
            if piece.calls:
                # “Oat, then 119. End with 107, hard”: a sentence that has colours speaks of them.
                group = [] if closed or piece.sentence != spoken else group
                closed, spoken = False, piece.sentence
                group.extend(range(len(calls), len(calls) + len(piece.calls)))
                pressed = pressed_each(self._scan.line, piece.calls, (piece.start, piece.end), words)
                for call, hard in zip(piece.calls, pressed, strict=True):
                    calls.append((piece, replace(call, pressure=hard, layers=max(layers, call.layers), role=role)))
            if calls and PART_STRENGTH.search(words):
                calls[-1] = (calls[-1][0], graded(calls[-1][1], words, self._scan.catalogue))
            if not piece.calls and (pressure or layers > 1):
                closed = True
                for i in group[-1:] if in_brackets(self._scan.line, piece.start) else group:
                    owner, call = calls[i]
                    said = replace(call, pressure=call.pressure or pressure, layers=max(call.layers, layers))
                    calls[i] = (owner, said)
        return calls


def _has_a_name(line: str, words: Sequence[str]) -> bool:
    """Whether a short line has a name: “teeth Milk Tooth”, “stalk – Twig”, “Old Rose – skin”."""
    dash = DASH.search(line)
    if dash:
        before, after = TOKEN.findall(line[: dash.start()]), TOKEN.findall(line, dash.end())
        leads = len(before) > 1 and is_in_capitals(before) and not is_beside(fold(before[-1]))
        thing = words[0][:1].isupper() and any(is_beside(fold(word)) for word in after)
        named = bool(after) and after[0][:1].isupper() and not thing
        return named or (leads and all(is_drawn(word) for word in after))
    return words[0].islower() and any(word[:1].isupper() for word in words[1:])
