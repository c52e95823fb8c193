"""A file made an array: its size is looked at before anything is decoded, it is turned upright, its profile is read."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reflectance.camera_space import CameraSpace
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.picture.kinds import PAGE, Accepted, PictureKind, kind_of
from tidy_tinder.formats.picture.profile import space_of

if TYPE_CHECKING:
    from PIL.Image import Image

MOST_BYTES = 60_000_000
MOST_PIXELS = 60_000_000
"""A 60-megapixel picture takes 180 MB decoded; a scan of A4 at 600 dpi has 35 million."""
_ORIENTATION = 0x0112
# Rows that are taken over at once.
_STRIP = 64
_MODES = ("RGB", "RGBA", "RGBX", "L", "LA", "P", "I;16")


@dataclass(frozen=True, eq=False)
class Picture:
    """pixels: (height, width, 3), upright, in its own channels; space: what they stand for."""

    pixels: NDArray[np.uint8]
    space: CameraSpace
    kind: PictureKind


def check_picture(content: bytes, accepted: Accepted = PAGE) -> PictureKind:
    """Whether a file can be a picture that is taken, by its first bytes and its length. Raises UnreadableError."""
    if len(content) > MOST_BYTES:
        raise UnreadableError(
            f"The file has {len(content) / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} are taken. Save it as JPEG, or "
            "photograph with fewer megapixels."
        )
    return kind_of(content, accepted)


def decode_picture(content: bytes, accepted: Accepted = PAGE) -> Picture:
    """A picture from a file. Raises UnreadableError, which says what is wrong with it and what to do."""
    from PIL import Image  # noqa: PLC0415 -- loaded only when a photo is read

    kind = check_picture(content, accepted)
    if kind is PictureKind.HEIC:
        from pillow_heif import register_heif_opener  # noqa: PLC0415 -- loaded only for what needs it

        register_heif_opener()
    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # what is wrong is found by the checks below, not by Pillow's remarks
            with Image.open(io.BytesIO(content), formats=[kind.value]) as image:
                _check_size(image.width, image.height, accepted)
                if image.mode not in _MODES:
                    raise UnreadableError(f"This picture has the channels {image.mode}, not RGB. {accepted.taken}")
                profile = image.info.get("icc_profile")
                grey = image.mode == "I;16"
                pixels = _webp_pixels(content) if kind is PictureKind.WEBP else _pixels(image)
                # Asked for afterwards: Pillow turns a TIFF while it loads it, and says then that it is upright.
                orientation = image.getexif().get(_ORIENTATION, 1)
    except UnreadableError:
        raise
    except Image.DecompressionBombError as problem:
        raise UnreadableError(f"The picture has more than {MOST_PIXELS / 1e6:.0f} million pixels.") from problem
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError, OverflowError) as problem:
        raise UnreadableError(
            "The picture is damaged or was cut off on its way. Send it once more, or photograph the page again."
        ) from problem
    upright = np.ascontiguousarray(_upright(pixels, orientation))
    return Picture(upright, space_of(profile if not grey else None), kind)


def _pixels(image: Image) -> NDArray[np.uint8]:
    """(h, w, 3), in strips: a whole copy of 60 megapixels takes 240 MB, and Pillow makes one at each step."""
    image.load()
    pixels = np.empty((image.height, image.width, 3), dtype=np.uint8)
    for top in range(0, image.height, _STRIP):
        strip = image.crop((0, top, image.width, min(top + _STRIP, image.height)))
        if strip.mode == "I;16":
            pixels[top : top + strip.height] = (np.asarray(strip) >> 8).astype(np.uint8)[..., None]
        else:
            pixels[top : top + strip.height] = np.asarray(_opaque(strip))
    return pixels


def _webp_pixels(content: bytes) -> NDArray[np.uint8]:
    """The same of a WebP, of which Pillow keeps four copies while it decodes. Raises OSError where it is damaged."""
    import cv2  # noqa: PLC0415 -- loaded only when such a picture is opened

    coded = cv2.imdecode(np.frombuffer(content, dtype=np.uint8), cv2.IMREAD_UNCHANGED)
    if coded is None:
        raise OSError("no WebP that can be decoded")
    pixels = np.empty((*coded.shape[:2], 3), dtype=np.uint8)
    for top in range(0, len(coded), _STRIP):
        strip = coded[top : top + _STRIP]
        shown = strip[..., 2::-1]
        if strip.shape[-1] == 4:
            share = strip[..., 3:].astype(np.uint16)
            shown = ((shown * share + 255 * (255 - share) + 127) // 255).astype(np.uint8)
        pixels[top : top + len(strip)] = shown
    return pixels


def _upright(pixels: NDArray[np.uint8], orientation: int) -> NDArray[np.uint8]:
    """Turned as the camera was held (Exif 2.32, tag Orientation): where the file's first row and column belong."""
    sideways = pixels.swapaxes(0, 1)
    ways = {
        2: pixels[:, ::-1], 3: pixels[::-1, ::-1], 4: pixels[::-1], 5: sideways, 6: sideways[:, ::-1],
        7: sideways[::-1, ::-1], 8: sideways[::-1],
    }  # fmt: skip
    return ways.get(orientation, pixels)


def _opaque(image: Image) -> Image:
    """Without transparency: what shows through is white, as the paper that it will be drawn on."""
    from PIL import Image as pil  # noqa: PLC0415, N813 -- loaded only when a photo is read

    if image.mode not in ("RGBA", "LA") and "transparency" not in image.info:
        return image if image.mode == "RGB" else image.convert("RGB")
    ground = pil.new("RGBA", image.size, "white")
    ground.alpha_composite(image.convert("RGBA"))
    return ground.convert("RGB")


def _check_size(width: int, height: int, accepted: Accepted) -> None:
    if width * height > MOST_PIXELS:
        raise UnreadableError(
            f"The picture has {width} × {height} pixels, more than {MOST_PIXELS / 1e6:.0f} million. Photograph with "
            "fewer megapixels, or scan at 300 dpi."
        )
    if min(width, height) < accepted.fewest_side:
        raise UnreadableError(
            f"The picture has only {width} × {height} pixels; a page needs at least {accepted.fewest_side} on its "
            "shorter side. Send the original, not a small copy."
        )
