"""Which kind of picture a file is, by its first bytes: its name may say anything."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from tidy_tinder.formats.errors import UnreadableError


class PictureKind(StrEnum):
    """A kind that is read; the value is Pillow's name for it."""

    JPEG = "JPEG"
    PNG = "PNG"
    TIFF = "TIFF"
    HEIC = "HEIF"
    WEBP = "WEBP"


@dataclass(frozen=True)
class Accepted:
    """What is taken as a picture: of which kinds, with how many pixels on the shorter side; taken: said so in words."""

    kinds: frozenset[PictureKind]
    fewest_side: int
    taken: str


PAGE = Accepted(frozenset(PictureKind) - {PictureKind.WEBP}, 600, "Photos are taken as JPEG, PNG, TIFF or HEIC.")
"""A photo or scan of a printed page."""

REFERENCE = Accepted(frozenset(PictureKind), 1, "Pictures are taken as JPEG, PNG, TIFF, WebP or HEIC.")
"""A picture that is drawn from."""

_LONGEST_NAME = 120
_STARTS = (
    (b"\xff\xd8\xff", PictureKind.JPEG),
    (b"\x89PNG\r\n\x1a\n", PictureKind.PNG),
    (b"II*\x00", PictureKind.TIFF),
    (b"MM\x00*", PictureKind.TIFF),
)
# ISO 14496-12: the box “ftyp” names the brand at byte 8 (ISO 23008-12 for pictures).
_HEIC_BRANDS = (b"heic", b"heix", b"hevc", b"heim", b"heis", b"mif1", b"msf1")
_OTHERS = (
    (b"GIF8", "a GIF, which has too few colours"),
    (b"%PDF", "a PDF; save its page as a picture"),
    (b"BM", "a BMP; save it as PNG or TIFF"),
    (b"PK\x03\x04", "a ZIP archive; unpack it first"),
    (b"<svg", "a drawing, not a photo"),
    (b"<?xml", "text, not a photo"),
)


def shown_name(name: str, otherwise: str) -> str:
    """A file's name as it is shown: its last part, printable, not endless; `otherwise` where nothing is left of it."""
    last = name.replace("\\", "/").rsplit("/", maxsplit=1)[-1]
    return "".join(c for c in last if c.isprintable()).strip()[:_LONGEST_NAME] or otherwise


def kind_of(content: bytes, accepted: Accepted = PAGE) -> PictureKind:
    """The kind of a file. Raises UnreadableError, which says what it is instead."""
    if not content:
        raise UnreadableError(f"The file is empty. {accepted.taken}")
    for start, kind in _STARTS:
        if content.startswith(start):
            return kind
    if content[4:8] == b"ftyp":
        if content[8:12] in _HEIC_BRANDS:
            return PictureKind.HEIC
        raise UnreadableError(f"This is a film or a picture of another kind. {accepted.taken}")
    if content[:4] == b"RIFF" and content[8:12] == b"WEBP":
        if PictureKind.WEBP in accepted.kinds:
            return PictureKind.WEBP
        raise UnreadableError(f"This is a WebP, which is made for screens. {accepted.taken}")
    for start, what in _OTHERS:
        if content.lstrip()[: len(start)].lower() == start.lower():
            raise UnreadableError(f"This is {what}. {accepted.taken}")
    raise UnreadableError(f"This is no picture that is known here. {accepted.taken}")
