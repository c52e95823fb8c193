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
    from PIL import Image, ImageOps  # noqa: PLC0415 -- loaded only when a photo is read

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
                image.load()
                upright = ImageOps.exif_transpose(image) or image
                grey = upright.mode == "I;16"
                pixels = np.asarray(upright) >> 8 if grey else np.asarray(_opaque(upright))
    except UnreadableError:
        raise
    except Image.DecompressionBombError as problem:
        raise UnreadableError(f"The picture has more than {MOST_PIXELS / 1e6:.0f} million pixels.") from problem
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError, OverflowError) as problem:
        raise UnreadableError(
            "The picture is damaged or was cut off on its way. Send it once more, or photograph the page again."
        ) from problem
    pixels = pixels.astype(np.uint8)
    if pixels.ndim == 2:
        pixels = np.repeat(pixels[..., None], 3, axis=-1)
    return Picture(np.ascontiguousarray(pixels), space_of(profile if not grey else None), kind)


def _opaque(image: Image) -> Image:
    """Without transparency: what shows through is white, as the paper that it will be drawn on."""
    from PIL import Image as pil  # noqa: PLC0415, N813 -- loaded only when a photo is read

    if image.mode not in ("RGBA", "LA") and "transparency" not in image.info:
        return image.convert("RGB")
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
