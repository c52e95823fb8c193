"""A file of marks of any kind: which it is, and its marks."""

from __future__ import annotations

from tidy_tinder.formats.file_text import NoText, text_of
from tidy_tinder.formats.swatch_file.cgats import is_cgats, read_cgats
from tidy_tinder.formats.swatch_file.cxf import is_cxf, read_cxf
from tidy_tinder.formats.swatch_file.record import MOST_BYTES, MarksFile, Said, refused
from tidy_tinder.formats.swatch_file.text_table import read_csv


def read_marks(content: bytes, said: Said) -> MarksFile:
    """The marks of a file: CxF3, CGATS.17 or CSV, told by what stands in it. Every problem is in the result."""
    text = text_of(content, MOST_BYTES, "a file of marks")
    if isinstance(text, NoText):
        return refused("text", text.line, text.message)
    if is_cxf(text):
        return read_cxf(text, said)
    if is_cgats(text):
        return read_cgats(text, said)
    return read_csv(text, said)
