"""What looks like a colour in a piece of a line but was read as none: it is asked for, with what comes near."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_capitals import is_in_capitals, is_pressed_name, is_sentence
from tidy_tinder.formats.recipe_colour_words import BESIDE_PENCILS, DAYS, SMALL, TONES, TOOLS
from tidy_tinder.formats.recipe_doubts import LONGEST_NAME, as_long_as_codes, coming_near, on_no_chart, without_how
from tidy_tinder.formats.recipe_familiar import joins_only
from tidy_tinder.formats.recipe_longer_names import names_within
from tidy_tinder.formats.recipe_pieces import Piece
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_drawn
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_scan import Scan
from tidy_tinder.formats.recipe_words import (
    CLAUSES,
    CODE_LIKE,
    FINISHES,
    HEAVIER,
    LIGHTER,
    OF_LAYERS,
    SETS,
    TOKEN,
    YEAR,
    counts_something,
)

LONGEST_LABEL = 3
"""Words of a label that a dash or “=” ends."""


_ALL_OF_IT = frozenset("everything anything nothing something everywhere whole rest lot alles ganze tout todo".split())


def unread(scan: Scan, piece: Piece, listed: bool, bare_list: bool) -> list[ReadCall]:
    """What looks like a colour in a piece but is none: to be settled, with what comes near."""
    tokens = [t for t in TOKEN.finditer(scan.scanned, piece.start, piece.end) if t.start() not in scan.counted]
    written = list(TOKEN.finditer(scan.line, piece.start, piece.end))
    if any(counts_something(written, i) and not _counts_layers(written[i + 1]) for i in range(len(written))):
        return []
    codes = [t for i, t in enumerate(tokens) if _looks_like_code(scan, tokens, i, listed)]
    if codes:
        return [on_no_chart(scan.line, t.start(), t.end()) for t in codes]
    tokens, labelled = _that_name(scan, piece, tokens)
    if len(tokens) == 1 and as_long_as_codes(tokens[0].group(), scan.scope, scan.catalogue):
        return [on_no_chart(scan.line, tokens[0].start(), tokens[0].end())]
    words = [t.group() for t in tokens]
    if is_label(scan, piece) or _is_no_name(words) or _is_said_whole(scan, piece, tokens):
        return []
    placed = listed or scan.bulleted or scan.led or labelled
    if not 0 < len(words) <= LONGEST_NAME or not placed or scan.catalogue.ranges_called(" ".join(words)):
        return []
    near = coming_near(" ".join(words), scan.scope, scan.catalogue) if listed or scan.bulleted else ()
    near = near or names_within(words, scan.scope, scan.catalogue)
    opens = (scan.bulleted or scan.led) and piece.start == scan.begins and is_pressed_name(scan.line, piece.end, words)
    capitals = (listed or opens) and is_in_capitals(words) and not is_sentence(scan.line, tokens)
    figures = scan.line[piece.start : piece.end] != scan.scanned[piece.start : piece.end]
    bare = bare_list and not figures and _may_be_in_a_bare_list(words, written[0].group())
    return [on_no_chart(scan.line, tokens[0].start(), tokens[-1].end(), near)] if capitals or near or bare else []


def _that_name(
    scan: Scan, piece: Piece, tokens: Sequence[re.Match[str]]
) -> tuple[list[re.Match[str]], bool]:  # fmt: skip
    """The words of a piece that may name a colour, and whether a label stands before them: what stands in brackets says
    something of it, and before a colon where it goes.
    """
    labels = [found.end() for found in re.finditer(r":\s", scan.scanned[piece.start : piece.end])]
    begins = piece.start + labels[-1] if labels else piece.start
    after = [token for token in tokens if token.start() >= begins]
    opens = scan.line.find("(", piece.start, piece.end)
    said = without_how([token for token in after if token.start() < opens] or after)
    return said, bool(labels) or piece.start == scan.begins > 0


def _may_be_in_a_bare_list(words: Sequence[str], first_written: str) -> bool:
    """Whether one or two words may be a colour among others, whatever they are: no part of the drawing, nothing that is
    done, no tool.
    """
    folded = [fold(word) for word in words]
    clause = folded[0] in OF_WORK | DONE or first_written.lower() in CLAUSES
    where = all(is_drawn(word) or word in TONES for word in folded)
    small = len(words) == 1 and folded[0] in SMALL | _ALL_OF_IT
    how = bool(HEAVIER.search(folded[-1]) or LIGHTER.search(folded[-1]))
    # “215, Whey, burnish”
    done = len(words) == 1 and (joins_only(words[0]) or any(finish.match(words[0]) for finish in FINISHES.values()))
    return len(words) <= 2 and not (clause or where or small or how or done or folded[-1] in TOOLS)


def _counts_layers(unit: re.Match[str]) -> bool:
    """Whether a word that counts is said of layers, which are those of a colour: “2 coats of Gorse Bloom”."""
    return unit.group().lower() in OF_LAYERS


def is_label(scan: Scan, piece: Piece) -> bool:
    """Whether a piece says what the next one is for: “MD = 107”."""
    words = TOKEN.findall(scan.scanned, piece.start, piece.end)
    return len(words) <= LONGEST_LABEL and scan.scanned.startswith(("=", " ="), piece.end)


def _is_said_whole(scan: Scan, piece: Piece, tokens: Sequence[re.Match[str]]) -> bool:
    """Whether one word is a sentence: “Done!”"""
    opens = piece.start == 0 or piece.before.endswith((".", "!", "?"))
    return opens and len(tokens) == 1 and scan.line.startswith((".", "!", "?"), tokens[0].end())


def _looks_like_code(scan: Scan, tokens: Sequence[re.Match[str]], i: int, listed: bool) -> bool:
    """A letter with digits always does, and a bare number of three or four digits; a year does in a list."""
    word = tokens[i].group()
    if i and word.isdecimal() and scan.catalogue.ranges_called(tokens[i - 1].group()):
        return not (i + 1 < len(tokens) and fold(tokens[i + 1].group()) in SETS)
    if not CODE_LIKE.match(word):
        return False
    return not YEAR.match(word) or listed or scan.bulleted or bool(scan.ranges)


def _is_no_name(words: Sequence[str]) -> bool:
    """Whether a word by itself is a day, a part of the drawing, or what is used beside pencils."""
    if len(words) != 1:
        return False
    word = fold(words[0])
    return word in DAYS or not {word, word.removesuffix("s")}.isdisjoint(BESIDE_PENCILS) or is_drawn(word)
