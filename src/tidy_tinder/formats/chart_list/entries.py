"""The colours of one line: each code with its name and the marks that stand with it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from tidy_tinder.formats.chart_list.marks import Says, effect_in, mark_of, said_alone
from tidy_tinder.formats.chart_list.tokens import Kind, Token
from tidy_tinder.formats.chart_list.written import WrittenColour

LONGEST_WORDS = 120
"""Characters of a code or a name."""

_JOINED = {",": ", ", "(": " (", "[": " (", ".": ". ", ":": ": "}
_DASH = re.compile(r"[-–—•·]+")


@dataclass
class Entry:
    """A colour while it is read: its code, the parts of its name with what stands before each, and what is said."""

    code: str = ""
    parts: list[tuple[str, list[str]]] = field(default_factory=list)
    said: dict[Says, str] = field(default_factory=dict)
    left_out: list[str] = field(default_factory=list)

    @property
    def name(self) -> str:
        """The parts of the name put together as they were parted."""
        name = ""
        for before, words in self.parts:
            if name:
                name += " – " if _DASH.fullmatch(before) else _JOINED.get(before, " ")
            name += " ".join(words) + (")" if name and before in ("(", "[") else "")
        return name

    def say(self, what: Says, value: str, text: str) -> None:
        """Take what a mark says; a second word on the same thing is left out, not taken over the first."""
        if what is Says.NOTHING or what in self.said:
            self.left_out.append(text)
        else:
            self.said[what] = value


def entry_of(code: str, named: Sequence[Token], beside: Sequence[Token] = ()) -> Entry:
    """One colour. named: the pieces on the side of its code where names stand; beside: those on the other side, whose
    words are its name only where there are none on the first: a number alone is no name beside words.
    """
    entry = Entry(code)
    if _is_number(named) and _has_words(beside):
        named, beside = beside, named
    _take(entry, named)
    if beside and not entry.parts:
        _take(entry, beside)
    elif beside:
        other = Entry()
        _take(other, beside)
        for what, value in other.said.items():
            entry.say(what, value, value)
        for _, words in other.parts:
            alone = said_alone(" ".join(words))
            if alone is not None:
                entry.say(*alone, " ".join(words))
            else:
                entry.left_out.append(" ".join(words))
        entry.left_out.extend(other.left_out)
    return entry


def _has_words(tokens: Sequence[Token]) -> bool:
    return any(token.kind is Kind.WORD for token in tokens)


def _is_number(tokens: Sequence[Token]) -> bool:
    return any(token.kind is Kind.CODE for token in tokens) and not _has_words(tokens)


def _take(entry: Entry, tokens: Sequence[Token]) -> None:
    """Parts of the name, marks, and words that say something by themselves, in order."""
    before, words = "", list[str]()
    for token in (*tokens, Token(Kind.PART, "")):
        if token.kind in (Kind.WORD, Kind.CODE):
            words.append(token.text)
            continue
        if words:
            alone = said_alone(" ".join(words)) if entry.parts else None
            if alone is None:
                entry.parts.append((before, words))
            else:
                entry.say(*alone, " ".join(words))
            words = []
        before = "" if token.kind is Kind.MARK else token.text
        if token.kind is Kind.MARK:
            entry.say(*mark_of(token.mark, token.text), token.text)


def split_at(line: Sequence[Token], codes: Sequence[int], first: bool) -> list[Entry]:
    """The colours of a line whose codes stand at these places, before their names or after them."""
    entries = []
    for place, at in enumerate(codes):
        after = line[at + 1 : codes[place + 1]] if place + 1 < len(codes) else line[at + 1 :]
        before = line[codes[place - 1] + 1 : at] if place else line[:at]
        outermost = place == 0 if first else place == len(codes) - 1
        named, beside = (after, before) if first else (before, after)
        entries.append(entry_of(line[at].text, named, beside if outermost else ()))
    return entries


def written(entry: Entry) -> WrittenColour:
    """The colour as it is handed on, with what keeps it from being taken."""
    said = {what.value: value for what, value in entry.said.items() if what is not Says.COUNT}
    colour = WrittenColour(entry.code, entry.name, count=int(entry.said.get(Says.COUNT, "1")), **said)
    if not colour.effect:
        colour = replace(colour, effect=effect_in(colour.name))
    if not colour.name:
        return replace(colour, problem="No name stands with this code.")
    if max(len(colour.name), len(colour.code)) > LONGEST_WORDS:
        return replace(colour, problem=f"A name has at most {LONGEST_WORDS} characters.")
    return colour
