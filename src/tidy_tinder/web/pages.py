"""The built interface: which file a path stands for, packed as the browser takes it, and how long it may keep it.

Used by the application and by the door, so nothing but the standard library is loaded here.
"""

from __future__ import annotations

import mimetypes
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

DIST = Path(__file__).parent / "dist"
_ENCODINGS = (("br", ".br"), ("gzip", ".gz"))
_FOR_EVER = "public, max-age=31536000, immutable"
_AN_HOUR = "public, max-age=3600"
_ASK_AGAIN = "no-cache"


@dataclass(frozen=True)
class Page:
    """What is sent for a path. headers: those of the content itself."""

    content: bytes
    headers: dict[str, str]


def page_for(path: str, takes: Callable[[str], bool], dist: Path = DIST) -> Page | None:
    """The file of the interface at a path without its first slash; the page itself where the path names no file.

    takes: whether the browser takes an encoding. None for what would be a file that is not there, for /api, and where
    the interface is not built.
    """
    if path == "api" or path.startswith("api/"):
        return None
    file = _file_at(path, dist)
    if file is not None:
        return _packed(file, _FOR_EVER if path.startswith("assets/") else _AN_HOUR, takes)
    if "." in path.rsplit("/", 1)[-1] or not (dist / "index.html").is_file():
        return None
    return _packed(dist / "index.html", _ASK_AGAIN, takes)


def _file_at(path: str, dist: Path) -> Path | None:
    """The file of the interface that a path names, if there is one."""
    try:
        file = (dist / path).resolve()
        return file if path and file.is_file() and file.is_relative_to(dist.resolve()) else None
    except (ValueError, OSError):
        # No file can have such a name: it holds a NUL, or is longer than names may be.
        return None


def _packed(file: Path, keeping: str, takes: Callable[[str], bool]) -> Page:
    """A file, in the best encoding that was made at build time and that the browser takes."""
    headers = {
        "Content-Type": mimetypes.guess_type(file.name)[0] or "application/octet-stream",
        "Vary": "Accept-Encoding",
        "Cache-Control": keeping,
    }
    for name, ending in _ENCODINGS:
        packed = file.with_name(file.name + ending)
        if takes(name) and packed.is_file():
            return Page(packed.read_bytes(), headers | {"Content-Encoding": name})
    return Page(file.read_bytes(), headers)
