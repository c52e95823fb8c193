"""The ranges that words of a recipe name, which hold for the codes that follow."""

from __future__ import annotations

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
    tokens = TOKEN.findall(words)
    named: list[str] = []
    at = 0
    while at < len(tokens):
        longest = min(len(tokens), at + catalogue.longest_range) if tokens[at][:1].isupper() else at
        for end in range(longest, at, -1):
            if ranges := catalogue.ranges_called(" ".join(tokens[at:end])):
                named.extend(sorted(ranges))
                at = end - 1
                break
        at += 1
    return tuple(dict.fromkeys(named))
