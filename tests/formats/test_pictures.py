"""Pictures: what they are by their bytes, what is refused and in which words, upright, in their own channels."""

from __future__ import annotations

import io
import random
import struct
import zlib
from collections.abc import Callable

import numpy as np
import pytest
from PIL import Image, ImageCms, ImageOps
from pillow_heif import from_pillow
from tests.formats.mangling import broken

from tidy_tinder.core.reflectance.colorimetry import decode_srgb
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.picture.decoding import MOST_BYTES, decode_picture
from tidy_tinder.formats.picture.kinds import PAGE, REFERENCE, PictureKind
from tidy_tinder.formats.picture.profile import space_of


def drawn(width: int = 800, height: int = 620) -> Image.Image:
    """A picture whose upper left quarter is red."""
    image = Image.new("RGB", (width, height), (200, 200, 200))
    image.paste((210, 30, 30), (0, 0, width // 2, height // 2))
    return image


def saved(kind: str, image: Image.Image | None = None, **how: object) -> bytes:
    out = io.BytesIO()
    (image or drawn()).save(out, kind, **how)
    return out.getvalue()


def heic() -> bytes:
    out = io.BytesIO()
    from_pillow(drawn()).save(out, quality=90)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "kind"),
    [
        (saved("JPEG", quality=95), PictureKind.JPEG),
        (saved("PNG"), PictureKind.PNG),
        (saved("TIFF"), PictureKind.TIFF),
        (heic(), PictureKind.HEIC),
    ],
    ids=["JPEG", "PNG", "TIFF", "HEIC"],
)
def test_the_four_kinds_come_out_alike(content: bytes, kind: PictureKind) -> None:
    picture = decode_picture(content)
    assert picture.kind is kind
    assert picture.pixels.shape == (620, 800, 3)
    assert np.abs(picture.pixels[100, 100].astype(int) - (210, 30, 30)).max() < 12
    assert np.abs(picture.pixels[500, 700].astype(int) - 200).max() < 4


@pytest.mark.parametrize("turned", [1, 3, 6, 8])
def test_a_picture_is_turned_upright(turned: int) -> None:
    exif = Image.Exif()
    exif[0x0112] = turned
    ways = {1: None, 3: Image.Transpose.ROTATE_180, 6: Image.Transpose.ROTATE_90, 8: Image.Transpose.ROTATE_270}
    way = ways[turned]
    lying = drawn() if way is None else drawn().transpose(way)
    picture = decode_picture(saved("JPEG", lying, exif=exif, quality=95))
    assert picture.pixels.shape == (620, 800, 3)
    assert picture.pixels[100, 100, 0] > picture.pixels[100, 100, 1] + 100


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "TIFF"])
def test_all_eight_ways_to_hold_a_camera_are_those_of_pillow(kind: str, orientation: int) -> None:
    exif = Image.Exif()
    exif[0x0112] = orientation
    content = saved(kind, drawn(90, 60), exif=exif, **({"lossless": True} if kind == "WEBP" else {}))
    with Image.open(io.BytesIO(content)) as image:
        wanted = np.asarray(ImageOps.exif_transpose(image).convert("RGB"))
    assert np.array_equal(decode_picture(content, REFERENCE).pixels, wanted)


def test_what_shows_through_is_white_in_every_kind_that_knows_it() -> None:
    """Against Pillow's own alpha compositing; a strip's border lies in the picture."""
    rng = np.random.default_rng(2)
    clear = Image.fromarray(rng.integers(0, 256, (600, 40, 4), dtype=np.uint8))
    ground = Image.new("RGBA", clear.size, "white")
    ground.alpha_composite(clear)
    for kind, how in (("PNG", {}), ("WEBP", {"lossless": True, "exact": True})):
        pixels = decode_picture(saved(kind, clear, **how), REFERENCE).pixels
        assert np.abs(pixels.astype(int) - np.asarray(ground.convert("RGB"))).max() <= 1, kind


@pytest.mark.parametrize("kind", ["WEBP", "PNG"])
def test_of_a_moving_picture_the_first_one_is_taken(kind: str) -> None:
    moving = saved(kind, drawn(), save_all=True, append_images=[Image.new("RGB", (800, 620), "blue")], duration=200)
    pixels = decode_picture(moving, REFERENCE).pixels
    assert pixels.shape == (620, 800, 3)
    assert np.abs(pixels[100, 100].astype(int) - (210, 30, 30)).max() < 12


def test_a_webp_that_was_cut_off_is_refused() -> None:
    content = saved("WEBP", drawn(), quality=90)
    for part in (60, len(content) // 2, len(content) - 40):
        with pytest.raises(UnreadableError, match="damaged or was cut off"):
            decode_picture(content[:part], REFERENCE)


def test_greys_and_sixteen_bits() -> None:
    levels = np.linspace(0, 65535, 700 * 700).reshape(700, 700).astype(np.uint16)
    picture = decode_picture(saved("TIFF", Image.fromarray(levels)))
    assert picture.pixels.shape == (700, 700, 3)
    assert np.abs(picture.pixels[..., 0].astype(int) - (levels >> 8)).max() <= 1
    assert decode_picture(saved("PNG", drawn().convert("L"))).pixels.shape == (620, 800, 3)


def bomb() -> bytes:
    """A PNG of 900 million pixels in a few bytes."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")


REFUSED: dict[str, tuple[Callable[[], bytes], str]] = {
    "nothing": (lambda: b"", "empty"),
    "text": (lambda: b"101 Oxlip\n102 Fly Cap\n", "no picture"),
    "a GIF": (lambda: saved("GIF"), "GIF"),
    "a PDF": (lambda: b"%PDF-1.7\n", "PDF"),
    "an SVG": (lambda: b"<svg xmlns='http://www.w3.org/2000/svg'/>", "drawing"),
    "a WebP": (lambda: saved("WEBP"), "WebP"),
    "a ZIP": (lambda: b"PK\x03\x04rest", "ZIP"),
    "a film": (lambda: b"\0\0\0\x18ftypmp42", "film"),
    "cut off": (lambda: saved("JPEG")[:6000], "damaged or was cut off"),
    "only its beginning": (lambda: b"\xff\xd8\xff", "damaged or was cut off"),
    "a bomb": (bomb, "million"),
    "too small": (lambda: saved("JPEG", drawn(500, 400)), str(PAGE.fewest_side)),
    "for print": (lambda: saved("JPEG", drawn().convert("CMYK")), "CMYK"),
    "too long": (lambda: b"\xff\xd8\xff" + bytes(MOST_BYTES), "MB"),
    "a HEIC that is none": (lambda: b"\0\0\0\x18ftypheic" + bytes(200), "damaged or was cut off"),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_cannot_be_taken_is_refused_in_words(what: str) -> None:
    content, words = REFUSED[what]
    with pytest.raises(UnreadableError, match=words):
        decode_picture(content())


def profile(colorants: tuple[tuple[float, float, float], ...], curve: bytes) -> bytes:
    """A profile of a matrix and one curve for all channels (ICC.1:2022)."""

    def fixed(values: tuple[float, ...]) -> bytes:
        return b"".join(struct.pack(">i", round(value * 65536)) for value in values)

    tags = {name: b"XYZ \0\0\0\0" + fixed(c) for name, c in zip((b"rXYZ", b"gXYZ", b"bXYZ"), colorants, strict=True)}
    tags |= dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve)
    table, data, at = b"", b"", 132 + 12 * len(tags)
    for name, tag in tags.items():
        table += struct.pack(">4sII", name, at + len(data), len(tag))
        data += tag + bytes(-len(tag) % 4)
    header = bytearray(128)
    header[12:24], header[36:40] = b"mntrRGB XYZ ", b"acsp"
    return bytes(header) + struct.pack(">I", len(tags)) + table + data


# Colorants of Display P3 under D50, as its profiles hold them (from memory; SMPTE RP 431-2's primaries with D65 white).
P3 = ((0.51512, 0.24120, -0.00105), (0.29198, 0.69225, 0.04189), (0.15710, 0.06657, 0.78407))
# The curve of IEC 61966-2-1 as a parametric curve of type 3.
SRGB_CURVE = b"para\0\0\0\0\0\x03\0\0" + b"".join(
    struct.pack(">i", round(v * 65536)) for v in (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)
)


def test_no_profile_and_pillows_own_profile_are_srgb() -> None:
    own = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    for space in (space_of(None), space_of(own)):
        assert np.abs(space.matrix - np.eye(3)).max() < 0.002
        assert np.abs(space.curve - decode_srgb(np.arange(256) / 255)).max() < 0.002


def test_display_p3_is_read_with_its_matrix() -> None:
    space = space_of(profile(P3, SRGB_CURVE))
    assert np.abs(space.curve - decode_srgb(np.arange(256) / 255)).max() < 1e-3
    # Display P3 to linear sRGB, both with a D65 white (from memory, to four digits).
    known = [[1.2249, -0.2247, 0.0], [-0.0420, 1.0419, 0.0], [-0.0197, -0.0786, 1.0979]]
    assert np.abs(space.matrix - known).max() < 0.002


@pytest.mark.parametrize(
    ("curve", "gamma"),
    [(b"curv\0\0\0\0\0\0\0\0", 1.0), (b"curv\0\0\0\0\0\0\0\x01" + struct.pack(">H", round(2.2 * 256)), 2.2)],
)
def test_plain_curves(curve: bytes, gamma: float) -> None:
    space = space_of(profile(P3, curve))
    assert np.abs(space.curve - (np.arange(256) / 255) ** gamma).max() < 1e-3


def test_a_curve_of_many_points_is_interpolated() -> None:
    points = (np.linspace(0, 1, 33) ** 1.8 * 65535).round().astype(int)
    curve = b"curv\0\0\0\0" + struct.pack(">I", 33) + b"".join(struct.pack(">H", p) for p in points)
    assert np.abs(space_of(profile(P3, curve)).curve - (np.arange(256) / 255) ** 1.8).max() < 2e-3


@pytest.mark.parametrize(
    "damaged", [b"nonsense", profile(P3, b"mft2" + bytes(40)), profile(P3, SRGB_CURVE)[:150], bytes(132)]
)
def test_a_profile_that_is_not_read_is_said(damaged: bytes) -> None:
    with pytest.raises(UnreadableError, match="colour profile"):
        space_of(damaged)
    with pytest.raises(UnreadableError, match="colour profile"):
        decode_picture(saved("JPEG", icc_profile=damaged))


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "TIFF", "WEBP", "HEIC"])
def test_a_broken_picture_is_a_picture_or_refused_in_words(kind: str) -> None:
    whole = heic() if kind == "HEIC" else saved(kind, drawn(320, 240))
    rng, refused = random.Random(kind), list[str]()
    for _ in range(80):
        try:
            assert decode_picture(broken(whole, rng), REFERENCE).pixels.shape[2] == 3
        except UnreadableError as problem:
            refused.append(problem.detail)
    assert len(refused) > 40
    assert all(10 < len(said) < 600 and "Error" not in said for said in refused)
