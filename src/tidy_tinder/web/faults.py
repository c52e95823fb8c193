"""What is wrong with one field of a request, in words of ours: those of the library that checks it speak of types."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

# By the library's name of the fault; in braces what it tells of it. What is not here keeps the library's words.
_WORDS: Mapping[str, str] = {
    "missing": "this is missing",
    "extra_forbidden": "this is not known here",
    "too_long": "it may have at most {max_length}, not {actual_length}",
    "too_short": "it must have at least {min_length}, not {actual_length}",
    "string_too_long": "{max_length} characters at most may stand here",
    "string_too_short": "{min_length} or more characters must stand here",
    "string_pattern_mismatch": "it is not written as it must be here",
    "greater_than_equal": "it must be {ge} or more",
    "greater_than": "it must be more than {gt}",
    "less_than_equal": "it must be {le} or less",
    "less_than": "it must be less than {lt}",
    "finite_number": "it must be a number",
    "literal_error": "it must be {expected}",
    "enum": "it must be {expected}",
    "json_invalid": "it is no JSON",
}
# The library tells a value of another kind from one that cannot be read as it; whoever sent it need not.
_KINDS: Mapping[str, str] = {
    "int": "a whole number",
    "float": "a number",
    "bool": "true or false",
    "string": "text",
    "list": "a list",
    "dict": "an object",
    "model": "an object",
    "date": "a date such as 2026-11-30",
    "datetime": "a time such as 2026-11-30T14:50:00Z",
}
# How a member of an enumeration is told where it stands in a Literal.
_MEMBER = re.compile(r"<\w+\.\w+: ('[^']*')>")
_UNREADABLE = ("_type", "_parsing", "_from_float", "_attributes_type", "_from_datetime_parsing")


def in_words(fault: Mapping[str, Any]) -> str:
    """What is wrong, as an entry of a ValidationError's `errors()` has it."""
    kind, told = str(fault["type"]), fault.get("ctx", {})
    if kind in _WORDS:
        return _MEMBER.sub(r"\1", _WORDS[kind].format(**told))
    for ending in sorted(_UNREADABLE, key=len, reverse=True):
        if kind.endswith(ending) and kind.removesuffix(ending) in _KINDS:
            return f"it must be {_KINDS[kind.removesuffix(ending)]}"
    return str(fault["msg"]).removeprefix("Value error, ")
