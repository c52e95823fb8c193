"""The text of a file that somebody sends: how large it may be, and where it is no text."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class NoText:
    """Why a file cannot be read as text, and in which line, as a text editor counts."""

    line: int
    message: str


def text_of(content: bytes, most_bytes: int, what: str) -> str | NoText:
    """The text of a file in UTF-8, with or without a byte order mark. what: it is, such as “a catalogue”."""
    if len(content) > most_bytes:
        size = f"{len(content) / 1e6:.0f} MB"
        return NoText(1, f"The file has {size}; {what} has at most {most_bytes // 1_000_000} MB.")
    if not content.strip():
        return NoText(1, "The file is empty.")
    if (at := content.find(b"\x00")) >= 0:
        return NoText(_line(content, at), "This is not a text file: it holds a NUL here. Save it as text, UTF-8.")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        return NoText(_line(content, error.start), "The file is not UTF-8 here. Save it again with the encoding UTF-8.")


def _line(content: bytes, at: int) -> int:
    return content.count(b"\n", 0, at) + 1
