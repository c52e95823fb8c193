"""A photo read in a process of its own. Run as a module it is that process.

It is given one question and answers in lines of JSON: what is being done, and in the end what was read or why nothing
can be.
"""

from __future__ import annotations

import base64
import json
import sys
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, BinaryIO

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.reading import ReadingStep, read_page
from tidy_tinder.formats.picture.decoding import decode_picture
from tidy_tinder.formats.sheet_json import page_as_json, page_from_json
from tidy_tinder.formats.sheet_page import PrintedPage
from tidy_tinder.services.background.other_process import OtherProcess, keep_within_limits, say
from tidy_tinder.services.photos.plain import knowledge_from, plain_knowledge, plain_reading

_FLAT_QUALITY = 88
_DECODING = "decoding"
_LONGEST_TOKEN = 20


@dataclass(frozen=True)
class Question:
    """A photo, the pages that it may show, and what is known of each."""

    content: bytes
    pages: Sequence[tuple[PrintedPage, PageKnowledge]]


@dataclass(frozen=True)
class Answer:
    """What came of it: a reading with its page and the page made flat as JPEG, or why there is none."""

    page: int | None = None
    found: Mapping[str, Any] | None = None
    flat: bytes | None = None
    refused: str = ""


def read_apart(process: OtherProcess, question: Question, said: Callable[[str], None]) -> Answer | None:
    """Read it in a process; `said` is told what is being done. None where it was stopped."""
    for answer in process.answers(__name__, _asked(question)):
        if "step" in answer:
            said(answer["step"])
        elif "refused" in answer:
            return Answer(refused=answer["refused"])
        else:
            return Answer(answer["page"], answer["found"], base64.b64decode(answer["flat"]))
    if process.stopped:
        return None
    return Answer(refused="This picture could not be read within the time and memory for one photo. Photograph anew.")


def _asked(question: Question) -> list[bytes]:
    pages = [[page_as_json(page), plain_knowledge(known)] for page, known in question.pages]
    return [json.dumps({"bytes": len(question.content), "pages": pages}).encode() + b"\n", question.content]


def _answer(asks: BinaryIO, answers: BinaryIO) -> None:
    """Read the one photo that is asked about."""
    asked = json.loads(asks.readline())
    content = asks.read(asked["bytes"])
    pages = [(page_from_json(page), knowledge_from(known)) for page, known in asked["pages"]]
    try:
        say(answers, {"step": _DECODING})
        say(answers, _read(content, pages, lambda step: say(answers, {"step": step.value})))
    except TidyTinderError as reason:
        say(answers, {"refused": f"{reason.title}: {reason.detail}"})


def _read(
    content: bytes, pages: Sequence[tuple[PrintedPage, PageKnowledge]], said: Callable[[ReadingStep], None]
) -> dict[str, Any]:
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    picture = decode_picture(content)
    reading = read_page(picture.pixels, [(page.layout, known) for page, known in pages], picture.space, said)
    page = next(page for page, _ in pages if page.layout.slot == reading.flat.found.layout.slot)
    if reading.code and reading.code != page.said_in_code:
        return {"refused": _other_sheet(reading.code, page.token)}
    _, packed = cv2.imencode(
        ".jpg", cv2.cvtColor(reading.flat.image, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_JPEG_QUALITY, _FLAT_QUALITY]
    )
    flat = base64.b64encode(packed.tobytes()).decode()
    return {"page": page.page, "found": plain_reading(reading), "flat": flat}


def _other_sheet(code: str, token: str) -> str:
    """That a page's code is that of another sheet; of one that is none of ours, only how it begins."""
    words = code.split()
    seen = words[1] if len(words) > 1 else code
    return (
        f"This is another page: its code is that of another sheet ({seen[:_LONGEST_TOKEN]}, not {token}). Choose that "
        "sheet, or photograph this one."
    )


if __name__ == "__main__":
    keep_within_limits()
    _answer(sys.stdin.buffer, sys.stdout.buffer)
