"""A picture opened in a process of its own. Run as a module it is that process.

It is given a file and answers with one line of JSON: how large the picture is, what its numbers stand for and its
working copy, or why it cannot be opened.
"""

from __future__ import annotations

import base64
import sys
from dataclasses import dataclass
from typing import Any

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.core.reference.working import working_copy
from tidy_tinder.formats.picture.decoding import decode_picture
from tidy_tinder.formats.picture.kinds import REFERENCE
from tidy_tinder.services.background.other_process import OtherProcess, keep_within_limits, say

# PNG of the working copy: the fastest that compresses at all.
_COMPRESSION = 1


@dataclass(frozen=True)
class Opened:
    """What came of it; refused: why there is nothing."""

    width: int = 0
    height: int = 0
    working: bytes = b""
    curve: tuple[float, ...] = ()
    matrix: tuple[tuple[float, ...], ...] = ()
    profile: str = ""
    refused: str = ""


def open_apart(process: OtherProcess, content: bytes) -> Opened | None:
    """Open a file in a process; None where it was stopped."""
    for answer in process.answers(__name__, [content]):
        if "refused" in answer:
            return Opened(refused=answer["refused"])
        working = base64.b64decode(answer.pop("working"))
        return Opened(working=working, **answer)
    if process.stopped:
        return None
    return Opened(refused="This picture could not be opened within the time and memory for one. Save it smaller.")


def _opened(content: bytes) -> dict[str, Any]:
    import cv2  # noqa: PLC0415 -- loaded only when a picture is opened

    picture = decode_picture(content, REFERENCE)
    height, width = picture.pixels.shape[:2]
    working = working_copy(picture.pixels, picture.space)
    _, packed = cv2.imencode(
        ".png", cv2.cvtColor(working.pixels, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_PNG_COMPRESSION, _COMPRESSION]
    )
    return {
        "width": width, "height": height, "working": base64.b64encode(packed.tobytes()).decode(),
        "curve": [round(float(v), 6) for v in picture.space.curve], "matrix": picture.space.matrix.tolist(),
        "profile": picture.space.name,
    }  # fmt: skip


if __name__ == "__main__":
    keep_within_limits()
    try:
        say(sys.stdout.buffer, _opened(sys.stdin.buffer.read()))
    except TidyTinderError as reason:
        say(sys.stdout.buffer, {"refused": f"{reason.title}: {reason.detail}"})
