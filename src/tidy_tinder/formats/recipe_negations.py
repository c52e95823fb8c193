"""What a recipe says is not laid or not done: “do not use 119 here”, “121 instead of 119”, “no solvent”.

Only what stands right after such words is meant by them. “Don't press hard with 119” and “not only 119” lay it.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from tidy_tinder.formats.recipe_reading import ReadCall

_MOST = 40
"""Characters before a colour among which the words stand."""
_TAKEN = (
    "use|using|add|adding|lay|apply|try|take|reach for|go in with|nimm|nehmen|verwende|benutze|utilise[rz]?|usar|uses?"
)
_PLACED = "over|on|onto|into|under|with|über|auf|mit|unter|sur|sous|avec|sobre|bajo|con|op|onder|met"
_ARTICLES = "the|any|a|an|your|my|den|die|das|ein(?:en|e)?|le|la|les|du|de|el|los|het"
_NO = "do not|don['’]?t|never|nicht|ne|no"
# What another colour stands for: “121 instead of 119”.
_REPLACED = (
    "instead of|in place of|rather than|statt|anstatt|anstelle von|au lieu de|plutôt que|en vez de|en lugar de|"
    "in plaats van"
)
_AWAY = f"avoid|avoiding|without|never|not|ohne|nicht|sans|sin|zonder|{_REPLACED}"
_NOT_LAID = re.compile(
    rf"\b(?:(?:{_NO})\s(?:{_TAKEN})|{_AWAY})\s(?:(?:{_PLACED})\s)?(?:(?:{_ARTICLES})\s)?$", re.IGNORECASE
)

# “statt 126 geht auch 124”, “instead of 126 you can use 124”: another way, not what is laid.
_OTHER_WAY = re.compile(
    rf"\b(?:{_REPLACED})\s[^.,;]{{1,40}}?\s"
    r"(?:geht|gehen|you (?:can|could|may)|one (?:can|could|may)|kann|kannst|on peut|kun je|puedes)\b[^.,;]*$",
    re.IGNORECASE,
)
# “without 119 and 126”, “do not use 119 or 126” leave both away; “not 119, and 126 on top” one, and “121 instead of 119
# and 126” may lay the last.
_EITHER, _BOTH = re.compile(r"\s(?:or|nor|oder|ou|ni|o|of)\s", re.I), re.compile(r"\s(?:and|und|et|y|en)\s", re.I)
_IN_PLACE_OF = re.compile(rf"\b(?:{_REPLACED})\s(?:\w+\s)?$", re.IGNORECASE)
# “I tried 130 first and did not like it”: what was tried, and what is said of it in the same sentence.
_TRIED = re.compile(
    r"\b(?:tried|tested|experimented with|probiert|essayé|probé|geprobeerd)\s(?:\w+\s){0,2}?$", re.IGNORECASE
)
_IN_VAIN = re.compile(
    r"[^.;!?]*?\b(?:(?:did not|didn['’]?t|does not|doesn['’]?t) (?:like|work|go)|disliked|"
    r"(?:was|is|were|looked|turned out|came out) "
    r"(?:far |much |a bit |a little )?(?:too|wrong|awful|ugly|no good|not right)|hated)\b",
    re.IGNORECASE,
)
# “if you have no Ember, use 126 instead”: neither is laid by who has the one; what comes after that is.
_IF_MISSING = re.compile(
    r"\bif you (?:have no|have ?n['’]?t(?: got)?|(?:do not|don['’]?t) (?:have|own)|lack|are (?:out of|missing))\s"
    r"(?:[^.,;]{1,40}?,?\s(?:(?:just|simply|then)\s)?(?:use|take|try|go (?:in )?with|substitute)\s)?"
    rf"(?:(?:{_ARTICLES})\s)?$",
    re.IGNORECASE,
)

# “No solvent here”, “don't press hard”, “before burnishing”, “skip the highlight”, “around the highlights”: what is not
# done, not yet, or left free.
_UNDONE = re.compile(
    r"\b(?:(?:no|not|without|never|avoid(?:ing)?|skip|don['’]?t|do not|before|ohne|kein(?:e[nr]?)?|nicht|sans|"
    r"pas(?: de)?|sin|zonder|geen|niet)\s(?:(?:you|it|the|any|a|too|so|very|zu|trop|muy|te|over|yet|to|use|using|add|"
    r"adding|press|pressing|lay|laying)\s)*|(?:leave|leaving|except|around|round|save|spare)\s(?:for\s)?(?:the|any)\s)[^\W\d]+",
    re.IGNORECASE,
)
_NOT_DONE = re.compile(r"\b(?:do not|don['’]?t|never|nicht|nie)\b[^.;]*$", re.IGNORECASE)


def what_is_done(words: str) -> str:
    """The words without those that say what is not done."""
    return _UNDONE.sub(" ", words)


def is_not_done(before: str) -> bool:
    """Whether what follows these words is not to be done: “do not use 126 again”."""
    return bool(_NOT_DONE.search(before[-_MOST:]))


def without_those_not_laid(line: str, calls: Sequence[ReadCall]) -> list[ReadCall]:
    """The calls of a line that it does not say to leave away; the others stay in its words."""
    gone: list[ReadCall] = []
    for call in sorted(calls, key=lambda one: one.start):
        if (gone and _is_joined(line, gone[-1], call)) or _is_not_laid(line, call):
            gone.append(call)
    return [call for call in calls if call not in gone]


def _is_joined(line: str, gone: ReadCall, call: ReadCall) -> bool:
    """Whether a call is left away with the one before it."""
    between = line[gone.end : call.start]
    replaced = _IN_PLACE_OF.search(line[max(gone.start - _MOST, 0) : gone.start])
    return bool(_EITHER.fullmatch(between) or (_BOTH.fullmatch(between) and not replaced))


def _is_not_laid(line: str, call: ReadCall) -> bool:
    before = line[max(call.start - _MOST, 0) : call.start]
    farther = line[max(call.start - 2 * _MOST, 0) : call.start]
    in_vain = _TRIED.search(before) and _IN_VAIN.match(line, call.end)
    return bool(_NOT_LAID.search(before) or in_vain or _IF_MISSING.search(farther) or _OTHER_WAY.search(farther))
