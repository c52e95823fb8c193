"""Pages in photos: found, told apart, made flat; checked against where the tests' own camera knows each point to be."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from tests.core.sheet_camera import Camera, Shot

from tidy_tinder.core.sheet.errors import MirroredError, NoSheetError, TooSmallError, WrongPageError
from tidy_tinder.core.sheet.finding import find_page
from tidy_tinder.core.sheet.flattening import PX_PER_MM, flatten
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.layout import Layout, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout

SHEET = sheet_layout(PageSize.A4, CellCount.NINETY)
FRAME = frame_layout(PageSize.A4)
SHOTS = {
    "straight": Shot(),
    "tilted": Shot(tilt=18, turn=4),
    "turned by a quarter": Shot(turn=91, fill=0.62),
    "upside down": Shot(turn=178, tilt=-8),
    "curled": Shot(curl=9, tilt=8),
    "curled and turned": Shot(curl=12, turn=-6, tilt=-10),
    "blurred": Shot(blur=0.22, noise=5),
    "in a shadow": Shot(shade=0.7, turn=2),
}


def grey(photo: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.asarray(cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY), dtype=np.uint8)


def zone_middles(layout: Layout) -> NDArray[np.float64]:
    return np.array([zone.box.middle for cell in layout.cells for zone in cell.zones])


CASES = [("sheet", name) for name in SHOTS] + [
    ("frame", "tilted"),
    ("frame", "curled and turned"),
    ("frame", "in a shadow"),
]


@pytest.mark.parametrize(("kind", "name"), CASES)
def test_a_page_is_found_and_made_flat(kind: str, name: str) -> None:
    shot, layout = SHOTS[name], {"sheet": SHEET, "frame": FRAME}[kind]
    camera = Camera(layout, shot)
    photo = camera.photo()
    found = find_page(grey(photo), layout)
    assert len(found.seen) >= 7
    flat = flatten(photo, found)
    assert flat.image.shape == (2970, 2100, 3)
    assert flat.dots > 0.9 * flat.dots_in_all
    # Each printed black dot lies in the flat page where the layout has it, to a tenth of its width and a bit.
    assert flat.off_mm < 0.1
    for x, y in layout.dots:
        column, row = round(x * PX_PER_MM), round(y * PX_PER_MM)
        around = flat.image[row - 15 : row + 15, column - 15 : column + 15].astype(float).mean(-1)
        dark = np.clip(around.max() * 0.7 - around, 0, None)
        rows, columns = np.indices(dark.shape)
        off = np.array([(dark * columns).sum(), (dark * rows).sum()]) / dark.sum() - 14.5
        assert np.linalg.norm(off) < 2.5  # pixels: a quarter of a millimetre; zones are inset by .9


@pytest.mark.parametrize("shot", [SHOTS["straight"], SHOTS["tilted"]], ids=["straight", "tilted"])
def test_the_plane_of_a_flat_page_is_where_the_camera_knows_it(shot: Shot) -> None:
    camera = Camera(SHEET, shot)
    found = find_page(grey(camera.photo()), SHEET)
    off = found.places(zone_middles(SHEET)) - camera.places(zone_middles(SHEET))
    # In pixels; pixel middles are counted from 0 by one and from ½ by the other.
    assert np.abs(off).max() < 1.5
    assert found.off_mm < 0.1


def test_curl_is_measured() -> None:
    curls = []
    for curl in (0.0, 9.0):
        photo = Camera(SHEET, Shot(curl=curl, tilt=12)).photo()
        curls.append(flatten(photo, find_page(grey(photo), SHEET)).curl_mm)
    assert curls[0] < 0.2
    assert 0.5 < curls[1] < 9.0


@pytest.mark.parametrize("hidden", [(0, 1), (2, 5), (4, 6)])
def test_two_hidden_marks_do_no_harm(hidden: tuple[int, int]) -> None:
    camera = Camera(SHEET, Shot(tilt=10, turn=3, curl=4))
    photo = camera.photo()
    for place in hidden:
        x, y = camera.places(np.array([SHEET.markers[place].box.middle]))[0].astype(int)
        photo[max(y - 45, 0) : y + 45, max(x - 45, 0) : x + 45] = (140, 120, 110)  # a thumb
    flat = flatten(photo, find_page(grey(photo), SHEET))
    assert len(flat.found.seen) == 6
    assert flat.off_mm < 0.1


def test_a_page_of_another_place_in_the_set_is_refused_by_its_number() -> None:
    other = sheet_layout(PageSize.A4, CellCount.NINETY, slot=1)
    photo = Camera(other, Shot()).photo()
    with pytest.raises(WrongPageError, match="This is page 2 of that set, not page 1"):
        find_page(grey(photo), SHEET)
    assert find_page(grey(photo), other).seen == tuple(range(8, 16))


def test_a_mirrored_picture_is_told() -> None:
    photo = Camera(SHEET, Shot(tilt=5)).photo()
    with pytest.raises(MirroredError, match="other camera"):
        find_page(np.ascontiguousarray(grey(photo)[:, ::-1]), SHEET)


@pytest.mark.parametrize("seen", [0, 1, 2])
def test_too_few_marks_are_refused_with_their_number(seen: int) -> None:
    photo = grey(Camera(SHEET, Shot()).photo())
    for marker in SHEET.markers[seen:]:
        x, y = Camera(SHEET, Shot()).places(np.array([marker.box.middle]))[0].astype(int)
        photo[y - 85 : y + 85, x - 85 : x + 85] = 200
    with pytest.raises(NoSheetError, match=f"{seen} of its eight marks"):
        find_page(photo, SHEET)


def test_three_marks_are_just_enough() -> None:
    camera = Camera(SHEET, Shot())
    photo = grey(camera.photo())
    for marker in [m for i, m in enumerate(SHEET.markers) if i not in (0, 2, 5)]:
        x, y = camera.places(np.array([marker.box.middle]))[0].astype(int)
        photo[y - 85 : y + 85, x - 85 : x + 85] = 200
    assert len(find_page(photo, SHEET).seen) == 3


@pytest.mark.parametrize(("px_per_mm", "taken"), [(5.2, False), (5.8, True)])
def test_a_page_with_too_few_pixels_is_refused_and_one_just_above_is_not(px_per_mm: float, taken: bool) -> None:
    height = 2200
    shot = Shot(height=height, width=1700, fill=px_per_mm * 297 / height, blur=0.05)
    photo = grey(Camera(SHEET, shot).photo())
    if taken:
        assert find_page(photo, SHEET).px_per_mm == pytest.approx(px_per_mm, rel=0.03)
    else:
        with pytest.raises(TooSmallError, match="Move closer"):
            find_page(photo, SHEET)


@pytest.mark.parametrize("kind", ["black", "white", "noise", "stripes"])
def test_other_pictures_are_no_sheet(kind: str) -> None:
    shape = (1500, 1100)
    pictures = {
        "black": np.zeros(shape),
        "white": np.full(shape, 255.0),
        "noise": np.random.default_rng(2).uniform(0, 255, shape),
        "stripes": np.tile(np.arange(shape[1]) % 40 > 20, (shape[0], 1)) * 255.0,
    }
    with pytest.raises(NoSheetError):
        find_page(pictures[kind].astype(np.uint8), SHEET)
