"""The ranges that words of a recipe name, which hold for the codes that follow."""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.formats.recipe_words import LEADS, TOKEN


def ranges_line(line: str, catalogue: Catalogue) -> tuple[str, ...]:
    """The ranges that a line names, where it does nothing else; in their order."""
    words = [w for w in fold(line).split() if w not in LEADS]
    named: list[str] = []
    at = 0
    while at < len(words):
        for end in range(min(len(words), at + catalogue.longest_range), at, -1):
            ranges = catalogue.ranges_called(" ".join(words[at:end]))
            if ranges:
                named.extend(sorted(ranges))
                at = end
                break
        else:
            return ()
    return tuple(dict.fromkeys(named))


def ranges_in(words: str, catalogue: Catalogue) -> tuple[str, ...]:
    """The ranges that a title, heading, label or sentence names among other words, with a capital as names have it."""
    return tuple(dict.fromkeys(name for _, _, ranges in ranges_at(words, catalogue) for name in ranges))


def ranges_at(words: str, catalogue: Catalogue) -> Iterator[tuple[int, int, tuple[str, ...]]]:
    """Where words name ranges, with a capital: start and end of each, and the ranges that are called so."""
    tokens = list(TOKEN.finditer(words))
    at = 0
    while at < len(tokens):
        longest = min(len(tokens), at + catalogue.longest_range) if tokens[at].group()[:1].isupper() else at
        for end in range(longest, at, -1):
            if ranges := catalogue.ranges_called(" ".join(token.group() for token in tokens[at:end])):
                yield tokens[at].start(), tokens[end - 1].end(), tuple(sorted(ranges))
                at = end - 1
                break
        at += 1
