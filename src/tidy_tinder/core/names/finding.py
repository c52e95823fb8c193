"""The one resolver of codes and names: from what somebody wrote to the colours it can mean.

Used by the finder, the ticking of codes, the recipe text and the command line alike. It offers what is
there and invents nothing: several hits are all returned, and a code and a name that do not belong
together are said to be so.
"""

from __future__ import annotations

import difflib
import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

# Share of letters in common (difflib's ratio) above which one name may be a slip of another: one wrong
# letter in a word of five still reaches it.
_NEAR_ENOUGH = 0.8
# The same for a single word among several: one wrong, missing or doubled letter in a word of four or more.
_WORD_NEAR_ENOUGH = 0.75
_SHORTEST_SLIP = 4
# Letters of a name without its spaces that is looked for among slips: shorter ones are too like other words.
_SHORTEST_JOINED, _LONGEST_JOINED = 6, 40
# Answers that are kept.
_MOST_RESOLVED = 20_000
# A code may be written with a space in it: so many letters may be a part of one.
_CODE_PART = 2

_NO_WORD = re.compile(r"[^\w%]+")
_LEADING_ZEROS = re.compile(r"(?<!\d)0+(?=\d)")


@dataclass(frozen=True)
class Entry:
    """One colour of a chart as the resolver needs it; key is the caller's identity of it."""

    key: int
    maker: str
    range_name: str
    code: str
    name: str

    @property
    def label(self) -> str:
        """As it is said aloud and written in messages: “Heron 119 Fly cap”."""
        return f"{self.range_name} {self.code} {self.name}"


class Match(StrEnum):
    """How the hits were found, the surest first."""

    EXACT = "exact"
    REORDERED = "words in another order"
    PARTIAL = "part of a name or code"
    NEAR = "near in spelling"
    NONE = "nothing"


@dataclass(frozen=True)
class Conflict:
    """A code and a name, or a range and a colour, that do not belong together.

    by_code and by_name hold what each alone would mean; message says so in words.
    """

    by_code: tuple[Entry, ...]
    by_name: tuple[Entry, ...]
    message: str


@dataclass(frozen=True)
class Finding:
    """What a text can mean. certain: exactly one colour, found exactly."""

    text: str
    hits: tuple[Entry, ...]
    match: Match
    conflict: Conflict | None = None

    @property
    def certain(self) -> bool:
        """True where nothing is left to settle."""
        return len(self.hits) == 1 and self.match in (Match.EXACT, Match.REORDERED) and self.conflict is None


@lru_cache(maxsize=16_384)
def fold(text: str) -> str:
    """Case, accents, hyphens, apostrophes and doubled spaces taken away: “Crème-Jug” → “creme jug”."""
    if not text.isascii():
        text = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c))
    plain = text.casefold().replace("’", "'").replace("'", "").replace("%", " % ")
    return " ".join(_NO_WORD.sub(" ", plain.replace("_", " ")).split())


def fold_code(text: str) -> str:
    """A code without case, spaces and leading zeros: “m 01” → “m1”, “007” → “7”."""
    return _code_of(fold(text).split())


def _code_of(folded: Sequence[str]) -> str:
    """The code that folded words are."""
    return _LEADING_ZEROS.sub("", "".join(folded))


class Catalogue:
    """All charted colours, indexed for finding."""

    def __init__(self, entries: Iterable[Entry]) -> None:
        self.entries: tuple[Entry, ...] = tuple(entries)
        self._charts: dict[str, tuple[Entry, ...]] = {
            name: tuple(e for e in self.entries if e.range_name == name)
            for name in {e.range_name for e in self.entries}
        }
        self._by_code: dict[str, list[Entry]] = defaultdict(list)
        self._by_name: dict[str, list[Entry]] = defaultdict(list)
        self._by_words: dict[tuple[str, ...], list[Entry]] = defaultdict(list)
        self._ranges: dict[str, set[str]] = defaultdict(set)
        for entry in self.entries:
            name = fold(entry.name)
            self._by_code[fold_code(entry.code)].append(entry)
            self._by_name[name].append(entry)
            self._by_words[tuple(sorted(name.split()))].append(entry)
            maker, line = fold(entry.maker), fold(entry.range_name)
            for called_so in (line, f"{maker} {line}".strip(), maker):
                if called_so:
                    self._ranges[called_so].add(entry.range_name)
        self._joined: dict[str, list[Entry]] = defaultdict(list)
        for name, called in self._by_name.items():
            joined = name.replace(" ", "")
            if len(joined) >= _SHORTEST_JOINED:
                for key in {joined, *_one_left_out(joined)}:
                    self._joined[key].extend(called)
        self._vocabulary = sorted({word for name in self._by_name for word in name.split()})
        codes = {word for entry in self.entries for word in fold(entry.code).split()}
        self._known = {*self._vocabulary, *codes, *(word for called in self._ranges for word in called.split())}
        self._range_words = {word for called in self._ranges for word in called.split()}
        self._folded = [(fold(e.name), fold_code(e.code), fold(e.label), e) for e in self.entries]
        # A text asks for the same words again and again, and is read twice.
        self._resolved: dict[tuple[str, frozenset[str]], Finding] = {}
        self._near: dict[tuple[str, int], tuple[Entry, ...]] = {}
        self.longest_name = max((len(name.split()) for name in self._by_name), default=0)
        self.longest_range = max((len(called.split()) for called in self._ranges), default=0)

    def chart_of(self, range_name: str) -> tuple[Entry, ...]:
        """The colours of one range in their order."""
        return self._charts.get(range_name, ())

    def knows(self, word: str) -> bool:
        """Whether a word can be part of what means a colour: of a name, of a code, or of what a range is called."""
        return all(w in self._known or len(w) <= _CODE_PART or not w.isalpha() for w in fold(word).split())

    def could_mean(self, words: Sequence[str]) -> bool:
        """Whether folded words can mean a colour at all; asked before they are resolved, because most do not."""
        if tuple(sorted(words)) in self._by_words:
            return True
        return any(len(w) <= _CODE_PART or w in self._range_words or not w.isalpha() for w in words)

    def ranges_called(self, text: str) -> frozenset[str]:
        """The ranges that a text names as a whole: by range, by maker, or by both; else none."""
        return frozenset(self._ranges.get(fold(text), ()))

    def has_name(self, text: str) -> bool:
        """Whether some colour is called exactly this (folded)."""
        return fold(text) in self._by_name

    def has_code(self, text: str) -> bool:
        """Whether some colour has exactly this code (folded)."""
        return fold_code(text) in self._by_code

    def resolve(self, text: str, within: Iterable[str] | None = None) -> Finding:
        """What `text` can mean: range + code, code, name, or code and name together.

        within: names of the ranges that an unqualified text belongs to (a recipe names its range once at
        the top). A range named in the text itself goes before it; where nothing is found within, the
        whole catalogue is asked.
        """
        scope = frozenset(within or ())
        kept = self._resolved.get((text, scope))
        if kept is None:
            if len(self._resolved) >= _MOST_RESOLVED:
                self._resolved.clear()
            kept = self._resolved[text, scope] = self._resolve(text, scope)
        return kept

    def _resolve(self, text: str, within: frozenset[str]) -> Finding:
        words = fold(text).split()
        if not words:
            return Finding(text, (), Match.NONE)
        whole = self._named(words)
        named, rest = self._take_range(words)
        if whole and not named:
            return self._narrowed(Finding(text, *whole), within)
        scope = named or within
        finding = self._resolve_words(text, rest or words, scope)
        if finding.hits or finding.conflict or not scope:
            return finding
        if whole and rest:
            # “Tallow Light” is no colour of the range Tallow, and what another range calls one of its own.
            return self._narrowed(Finding(text, *whole), within)
        elsewhere = self._resolve_words(text, rest or words, frozenset())
        if not named or not elsewhere.hits:
            return elsewhere
        ranges = ", ".join(sorted(named))
        others = ", ".join(e.label for e in elsewhere.hits[:4])
        message = f"“{text.strip()}” is not on the chart of {ranges}; elsewhere it is {others}."
        return Finding(text, (), Match.NONE, Conflict((), elsewhere.hits, message))

    def suggest(self, text: str, limit: int = 12) -> Finding:
        """What the finder shows while one types: the exact hits first, then names and codes that begin so,
        then those that hold every word, and where there is none of these, those near in spelling.
        """
        exact = self.resolve(text)
        if exact.conflict and not exact.conflict.by_name and (meant := self.near(text)):
            # “Warm Sh 1”: the number is no code beside an unknown name, but the end of a name with a slip in it.
            return Finding(text, meant[:limit], Match.NEAR)
        if exact.conflict or exact.match is Match.EXACT:
            return Finding(text, exact.hits[:limit], exact.match, exact.conflict)
        if exact.hits:
            return Finding(text, exact.hits[:limit], exact.match)
        if partial := self._partial(fold(text)):
            return Finding(text, partial[:limit], Match.PARTIAL)
        near = self.near(text)
        near += tuple(e for e in self._near_by_word(fold(text).split()) if e not in near)
        return Finding(text, near[:limit], Match.NEAR if near else Match.NONE)

    def near(self, text: str, limit: int = 4) -> tuple[Entry, ...]:
        """Colours whose name differs from `text` by a slip or two, the likeliest first."""
        asked = (fold(text), limit)
        if asked not in self._near:
            if len(self._near) >= _MOST_RESOLVED:
                self._near.clear()
            names = difflib.get_close_matches(asked[0], self._by_name, n=limit, cutoff=_NEAR_ENOUGH)
            self._near[asked] = tuple(entry for name in names for entry in self._by_name[name])
        return self._near[asked]

    def slips_of(self, words: str) -> tuple[Entry, ...]:
        """Colours whose name is these words but for one letter that is wrong, missing, doubled or turned round, with or
        without the spaces between them; short names have none. It takes no longer the more colours there are.
        """
        joined = fold(words).replace(" ", "")
        if not _SHORTEST_JOINED <= len(joined) <= _LONGEST_JOINED:
            return ()
        found = {e.key: e for key in (joined, *_one_left_out(joined)) for e in self._joined.get(key, ())}
        return tuple(found.values())

    def _near_by_word(self, words: list[str]) -> list[Entry]:
        """Colours that hold, for every word and in any order, that word or one near in spelling."""
        meant = [self._words_near(word) for word in words]
        if not meant or not all(meant):
            return []
        return [e for _, _, label, e in self._folded if all(m & set(label.split()) for m in meant)]

    def _words_near(self, word: str) -> set[str]:
        known = {w for w in self._vocabulary if w.startswith(word)}
        if len(word) >= _SHORTEST_SLIP:
            known |= set(difflib.get_close_matches(word, self._vocabulary, n=6, cutoff=_WORD_NEAR_ENOUGH))
        ranges = {w for called in self._ranges for w in called.split() if w == word}
        return known | ranges

    def _narrowed(self, finding: Finding, within: Iterable[str] | None) -> Finding:
        """The hits inside `within`, or all of them where none is inside."""
        scope = frozenset(within or ())
        inside = tuple(e for e in finding.hits if e.range_name in scope)
        return Finding(finding.text, inside or finding.hits, finding.match, finding.conflict)

    def _take_range(self, words: list[str]) -> tuple[frozenset[str], list[str]]:
        """The longest range or maker name at either end of the words, and the words without it."""
        for length in range(len(words), 0, -1):
            for start in {0, len(words) - length}:
                called = " ".join(words[start : start + length])
                if called in self._ranges:
                    rest = words[:start] + words[start + length :]
                    return frozenset(self._ranges[called]), rest
        return frozenset(), words

    def _resolve_words(self, text: str, words: list[str], scope: frozenset[str]) -> Finding:
        """Codes and names among `words`, inside `scope` (everything where empty)."""
        named = self._named(words)
        if named and (inside := _inside(named[0], scope)):
            return Finding(text, inside, named[1])
        coded = _inside(self._by_code.get(_code_of(words), ()), scope)
        if coded:
            return Finding(text, coded, Match.EXACT)
        return self._code_and_name(text, words, scope)

    def _code_and_name(self, text: str, words: list[str], scope: frozenset[str]) -> Finding:
        """A code at either end of the words and a name in the rest; they must belong together."""
        for code_words, name_words in _splits(words):
            by_code = _inside(self._by_code.get(_code_of(code_words), ()), scope)
            if not by_code:
                continue
            named = self._named(name_words)
            by_name = _inside(named[0], scope) if named else ()
            both = tuple(e for e in by_code if e in by_name)
            if both and named:
                return Finding(text, both, named[1])
            return Finding(text, (), Match.NONE, _disagreement(code_words, name_words, by_code, by_name))
        return Finding(text, (), Match.NONE)

    def _named(self, words: Sequence[str]) -> tuple[tuple[Entry, ...], Match] | None:
        """The colours called exactly these words, in this or another order."""
        exact = self._by_name.get(" ".join(words))
        if exact:
            return tuple(exact), Match.EXACT
        turned = self._by_words.get(tuple(sorted(words)))
        return (tuple(turned), Match.REORDERED) if turned else None

    def _partial(self, folded: str) -> tuple[Entry, ...]:
        """Entries whose name or code begins so, then those whose label holds every word."""
        as_code = fold_code(folded)
        begins = [e for name, code, _, e in self._folded if name.startswith(folded) or code.startswith(as_code)]
        words, there = folded.split(), {e.key for e in begins}
        holds = [e for _, _, label, e in self._folded if e.key not in there and all(w in label for w in words)]
        return tuple(begins + holds)


def _one_left_out(word: str) -> set[str]:
    """The word without one of its letters, for each of them: two words that share one are a slip or two apart."""
    return {word[:i] + word[i + 1 :] for i in range(len(word))}


def _inside(entries: Iterable[Entry], scope: frozenset[str]) -> tuple[Entry, ...]:
    """Those of `entries` whose range is in `scope`; all where the scope is empty."""
    return tuple(e for e in entries if not scope or e.range_name in scope)


def _splits(words: list[str]) -> Iterable[tuple[list[str], list[str]]]:
    """The ways to take one or two words at either end as the code, with at least one left for the name."""
    for length in (1, 2):
        if len(words) > length:
            yield words[:length], words[length:]
            yield words[-length:], words[:-length]


def _disagreement(code: list[str], name: list[str], by_code: tuple[Entry, ...], by_name: tuple[Entry, ...]) -> Conflict:
    """The message for a code and a name that do not belong together."""
    said, called = "".join(code).upper(), " ".join(name)
    is_code = " or ".join(e.label for e in by_code[:3])
    if by_name:
        is_name = " or ".join(e.label for e in by_name[:3])
        message = f"The code and the name do not belong together: {said} is {is_code}, but “{called}” is {is_name}."
    else:
        message = f"{said} is {is_code}; no colour there is called “{called}”."
    return Conflict(by_code, by_name, message)
