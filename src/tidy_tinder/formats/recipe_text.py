"""Recipes as people write them, read into steps and calls.

A pasted list is read line by line (`recipe_line`); each line stays in its place with its own words. What is understood
is written down in docs/formats.md.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_colour_nouns import spoken_of
from tidy_tinder.formats.recipe_familiar import is_familiar, joins_only
from tidy_tinder.formats.recipe_keys import with_keys_read
from tidy_tinder.formats.recipe_labelled import with_labelled_lists
from tidy_tinder.formats.recipe_left import with_words_left, words_left
from tidy_tinder.formats.recipe_line import LineReader
from tidy_tinder.formats.recipe_lists import Lists
from tidy_tinder.formats.recipe_own_codes import with_own_codes
from tidy_tinder.formats.recipe_own_names import with_own_names
from tidy_tinder.formats.recipe_ranges import ranges_in, ranges_line
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_repeats import repeated_anew
from tidy_tinder.formats.recipe_short_codes import with_short_codes
from tidy_tinder.formats.recipe_tables import with_rows_as_lines
from tidy_tinder.formats.recipe_words import (
    BULLET,
    CODE_LIKE,
    HASH_HEADING,
    PICTURE,
    PRESSURE_OF,
    SEPARATOR,
    SMALL_LABEL,
    TOKEN,
)

LONGEST_TEXT = 16_000
LONGEST_LINE = 2_000
"""Characters of a text, and of a line of it: more is no step of a recipe."""

# Words of a title, of one with a full stop, and a full stop between two sentences (not that of “No. 3”).
_LONGEST_TITLE, _SHORT = 12, 5
# “1st layer”, “First coat”, “2x Gull”, “1 Oat 2 Sloe”: a step.
_COUNTED = re.compile(
    r"\d\s?x\b|1\s\D+\s2\s\D|(?:\d{1,2}(?:st|nd|rd|th)|first|erste|première|primera|eerste)\s(?:layer|coat|pass|step|schicht|"
    r"lage|couche|capa|laag)\b",
    re.IGNORECASE,
)
# What no title has: arrows, labels, bars, dots that lead, how hard in brackets or at its end, what comes next.
_LAID = re.compile(
    r"→|->|=>|:|\||(?:\.{2,}|…)\s\w|\s[=>]\s|\((?-i:[LMH])\)|"
    rf"\b(?:then|dann|danach|puis|ensuite|luego|daarna)\b|,\s(?:{'|'.join(PRESSURE_OF)})$",
    re.IGNORECASE,
)
_IN_BRACKETS = re.compile(r"\([^()]*\)")
_SENTENCES = re.compile(r"\w{3}[.!?]\s+\w")


@dataclass(frozen=True)
class RecipeReading:
    """A recipe as it was read. ranges: those named once for all of it."""

    title: str
    steps: tuple[ReadStep, ...]
    ranges: tuple[str, ...]

    @property
    def calls(self) -> tuple[ReadCall, ...]:
        """All calls in order."""
        return tuple(call for step in self.steps for call in step.calls)


def read_recipe(text: str, catalogue: Catalogue) -> RecipeReading:
    """Read a pasted recipe against the charted colours. Never fails: what is not understood stays a note.

    Spaces in a row are one. It takes time in proportion to the text, if no line is longer than LONGEST_LINE.
    """
    lines = with_rows_as_lines(text.splitlines())
    return _read_twice(lines, catalogue)


def read_lines(title: str, lines: Sequence[str], catalogue: Catalogue) -> tuple[ReadStep, ...]:
    """Read the lines of a recipe that has its title already: one step for each line, none of which may be empty."""
    return _read_twice(lines, catalogue, title).steps


def _read_twice(lines: Sequence[str], catalogue: Catalogue, title: str = "") -> RecipeReading:
    """All lines with what in them may name a colour and was not read.

    A name on two charts means the one whose range the recipe speaks of anywhere, if it speaks of one only.
    """
    reading = _read_lines(lines, catalogue, (), title)
    if reading.ranges:
        reading = _read_lines(lines, catalogue, reading.ranges, title)
    return replace(reading, steps=tuple(with_words_left(reading.steps, catalogue)))


def _read_lines(
    lines: Sequence[str], catalogue: Catalogue, named: tuple[str, ...], title: str = ""
) -> RecipeReading:  # fmt: skip
    """One reading of all lines; named: the ranges to fall back on. Its ranges are those that it met.

    title: where it is known, and no line is one.
    """
    area = ""
    steps: list[ReadStep] = []
    lists = Lists()
    scope, met = named, [*named, *ranges_in(title, catalogue)]
    for number, line in enumerate(lines):
        if not line:
            lists.end()
            continue
        ranges = ranges_line(line, catalogue)
        if not title and not steps and HASH_HEADING.match(line) and any(lines[number + 1 :]):
            title = line.lstrip("# ").strip()
            met.extend(ranges_in(title, catalogue))
        elif ranges:
            scope = ranges
            met.extend(ranges)
            steps.append(ReadStep(StepKind.NOTE, area, line))
            lists.end_all()
        elif not title and not steps and any(lines[number + 1 :]) and _is_title(line, lines[number + 1], catalogue):
            title = line.lstrip("# ").strip()
            met.extend(ranges_in(title, catalogue))
        else:
            alone = _stands_over_a_list(lines, number, catalogue)
            reader = LineReader(line, area, scope, catalogue, alone, steps)
            step = reader.read()
            met.extend(reader.ranges)
            if step.kind == StepKind.HEADING:
                area = step.area
            if step.kind != StepKind.STEP:
                # “Heron for everything” tells which range is meant, wherever it stands.
                met.extend(ranges_in(step.text, catalogue))
            steps.append(step)
            lists.take(line, len(steps) - 1, scope)
    asked = _without_verbs(with_labelled_lists(lists.asked(steps, catalogue), catalogue))
    asked = repeated_anew(with_keys_read(with_own_codes(with_own_names(asked), catalogue)))
    asked = with_short_codes(asked, set(met), catalogue)
    return RecipeReading(title or "Untitled recipe", tuple(asked), tuple(dict.fromkeys(met)))


def _without_verbs(steps: Sequence[ReadStep]) -> list[ReadStep]:
    """Steps without questions whether “about”, “scratch out” or “veins lifted” is a colour."""
    return [replace(step, calls=tuple(call for call in step.calls if not _is_a_verb(call))) for step in steps]


def _is_a_verb(call: ReadCall) -> bool:
    """Whether a call that nothing charted comes near to ends with a verb or a small word, and has nothing but such and
    what is drawn before it: “warm stone” may be a colour.
    """
    *before, last = TOKEN.findall(call.as_written)
    rest = all(joins_only(word) or (word.islower() and is_familiar(word)) for word in before)
    return call.key is None and not call.candidates and joins_only(last) and rest


def _stands_over_a_list(lines: Sequence[str], number: int, catalogue: Catalogue) -> bool:
    """Whether a line opens a paragraph whose next line is more than one more name: then it is a heading, unless both
    are colours.
    """
    opens = number == 0 or not lines[number - 1]
    following = lines[number + 1] if number + 1 < len(lines) else ""
    if not (opens and following) or catalogue.has_name(following) or _are_labelled(lines[number], following):
        return False
    return not (_is_spoken(lines[number]) and _begins_with_a_colour(following, catalogue))


def _is_title(line: str, following: str, catalogue: Catalogue) -> bool:
    """Whether the first line is a title: no number or bullet, no code, no arrow, no colon at its end, and no colour in
    everyday words with another colour in the line after it.
    """
    if HASH_HEADING.match(line):
        return True
    # A picture before a title stands before no other line.
    bullet = BULLET.match(line) and not (PICTURE.match(line) and not PICTURE.match(following))
    if bullet or _are_labelled(line, following) or _COUNTED.match(line) or _LAID.search(line):
        return False
    if _is_prose(line) and _may_lay(line, catalogue):
        return False
    # “Ember (2 layers), Rowan Berry (hard), a pale grey”
    listed = [fold(p) for p in SEPARATOR.split(_IN_BRACKETS.sub(" ", line)) if p.strip()]
    charted = sum(catalogue.has_name(p) or catalogue.has_code(p) for p in listed)
    if charted == len(listed) or (charted > 1 and _IN_BRACKETS.search(line)):
        return False
    if any(CODE_LIKE.match(t) and catalogue.has_code(t) for t in TOKEN.findall(line)):
        return False
    return not (_is_spoken(line) and _begins_with_a_colour(following, catalogue))


def _are_labelled(line: str, following: str) -> bool:
    """Whether two lines each say where or how their colours go: “base – marzipan”, “mid – marzipan & ginger root”."""
    return bool(SMALL_LABEL.match(line) and SMALL_LABEL.match(following))


def _is_prose(line: str) -> bool:
    """Whether a line is a sentence or several, or longer than titles are."""
    words = len(TOKEN.findall(line))
    return words > _LONGEST_TITLE or bool(_SENTENCES.search(line)) or (line.endswith(".") and words > _SHORT)


def _may_lay(line: str, catalogue: Catalogue) -> bool:
    """Whether a sentence lays a colour, or, longer than titles are, has words that may be one. A title may name what is
    drawn after a colour; a sentence that names one lays it.
    """
    if LineReader(line, "", (), catalogue, over_a_list=False).read().calls:
        return True
    return len(TOKEN.findall(line)) > _LONGEST_TITLE and bool(words_left(line, (), catalogue))


def _is_spoken(words: str) -> bool:
    """Whether words are one colour in everyday words, and nothing else."""
    found = list(spoken_of(words, list(TOKEN.finditer(words)), (0, len(words)), things=False))
    return len(found) == 1 and not TOKEN.search(words[: found[0][0]] + words[found[0][1] :])


def _begins_with_a_colour(line: str, catalogue: Catalogue) -> bool:
    """Whether a line has a colour in its first part, and nothing beside it."""
    first = next((part for part in SEPARATOR.split(BULLET.sub("", line, count=1)) if part.strip()), "")
    return _is_spoken(first) or bool(catalogue.resolve(first).hits)
