"""Where a page lies in a picture: its markers, and the plane through them.

Markers are looked for at a moderate size first, then with the contrast evened out, then larger (design page 6-sheet):
most are found at once, and a marker in a shadow or far away by the second and third look. They are found by OpenCV and
refined at full size.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.sheet.errors import MirroredError, NoSheetError, NotReadableError, TooSmallError, WrongPageError
from tidy_tinder.core.sheet.furniture import MARKERS
from tidy_tinder.core.sheet.layout import Layout

Picture: TypeAlias = NDArray[np.uint8]
Points: TypeAlias = NDArray[np.float64]

FEWEST_MARKERS = 3
USUAL_MARKERS = 6
"""With fewer than these a page is read, but with a warning: corners are hidden or cut off."""
FEWEST_PX_PER_MM = 5.5
USUAL_PX_PER_MM = 8.0
"""With fewer than these a page is read, but with a warning: move closer."""

_LOOKS = ((1800, False), (1800, True), (3200, True))  # longest side in pixels, contrast evened out
_NEAR_MM = 2.0  # what a page that curls may lie off its plane at most markers
_FAR_MM = 6.0  # a marker farther from where the others put it is none of the page's
_WINDOW = 5  # half the side, in pixels, of the window in which a corner is refined


@dataclass(frozen=True)
class FoundPage:
    """A page in a picture. to_picture: the homography (3, 3) from mm on the page to pixels, x right, y down; seen: the
    numbers of the markers that it rests on; px_per_mm: the fewest anywhere on the page; off_mm: how far the markers'
    corners lie from the plane, root mean square.
    """

    layout: Layout
    to_picture: Points
    seen: tuple[int, ...]
    px_per_mm: float
    off_mm: float

    def places(self, points_mm: Points) -> Points:
        """Where points of the page, (n, 2) in mm, lie in the picture, (n, 2) in pixels."""
        return _through(self.to_picture, points_mm)


def markers_in(grey: Picture) -> dict[int, Points]:
    """The corners (4, 2) of every marker in a grey picture, by its number, in pixels."""
    return _markers(grey)


def page_among(seen: Mapping[int, Points], layouts: Sequence[Layout]) -> Layout:
    """Of the pages of a set, the one whose markers are seen; the first one where none are, to be told why.

    Raises WrongPageError where they are those of a page that the set does not have.
    """
    slots = Counter(number // MARKERS for number in seen)
    slot, count = slots.most_common(1)[0] if slots else (layouts[0].slot, 0)
    for layout in layouts:
        if layout.slot == slot:
            return layout
    if count >= FEWEST_MARKERS:
        raise WrongPageError(f"This is page {slot + 1} of another set; this one has {len(layouts)}. Choose its sheet.")
    return layouts[0]


def find_page(grey: Picture, layout: Layout, markers: dict[int, Points] | None = None) -> FoundPage:
    """Find a page of this layout in a grey picture (height, width). markers: as `markers_in` found them, if it did.

    Raises NoSheetError, MirroredError, TooSmallError; WrongPageError where the markers are those of another page.
    """
    seen = _markers(grey) if markers is None else markers
    wanted = {m.number for m in layout.markers}
    own = {number: corners for number, corners in seen.items() if number in wanted}
    if len(own) < FEWEST_MARKERS:
        raise _reason(grey, seen, layout)
    page, homography = _plane(own, layout)
    if len(page) < FEWEST_MARKERS:
        raise NoSheetError("The marks on it do not fit together. Lay the page flat and photograph the whole of it.")
    px_per_mm = _px_per_mm(homography, layout)
    if px_per_mm < FEWEST_PX_PER_MM:
        raise TooSmallError(f"A millimetre has {px_per_mm:.1f} pixels; it needs {FEWEST_PX_PER_MM}. Move closer.")
    true = np.concatenate([_corners_mm(layout, number) for number in page])
    measured = np.concatenate([own[number] for number in page])
    off = _through(np.linalg.inv(homography), measured) - true
    return FoundPage(layout, homography, tuple(page), px_per_mm, float(np.sqrt((off**2).sum(-1).mean())))


def _markers(grey: Picture) -> dict[int, Points]:
    """The corners (4, 2) of every marker, by its number, in pixels of the full picture."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    detector = cv2.aruco.ArucoDetector(dictionary, cv2.aruco.DetectorParameters())
    found: dict[int, Points] = {}
    for image, scale in _looks(grey):
        corners, numbers, _ = detector.detectMarkers(image)
        for number, quad in zip(np.ravel(numbers) if len(corners) else (), corners, strict=True):
            found.setdefault(int(number), (np.asarray(quad[0], dtype=np.float64) + 0.5) / scale - 0.5)
        if len(found) >= MARKERS:
            break
    return {number: _refined(grey, quad) for number, quad in found.items()}


def _looks(grey: Picture) -> Iterator[tuple[Picture, float]]:
    """The picture as it is looked at, each time with its scale."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    even = cv2.createCLAHE(clipLimit=3.0, tileGridSize=(8, 8))
    for longest, evened in _LOOKS:
        scale = min(1.0, longest / max(grey.shape))
        image = cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else grey
        yield np.asarray(even.apply(image) if evened else image, dtype=np.uint8), scale


def _refined(grey: Picture, quad: Points) -> Points:
    """Corners to a fraction of a pixel, at full size; as they were found where that leads away."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    start = quad.astype(np.float32).reshape(-1, 1, 2)
    until = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_COUNT, 30, 0.01)
    fine = np.asarray(cv2.cornerSubPix(grey, start.copy(), (_WINDOW, _WINDOW), (-1, -1), until), dtype=np.float64)
    fine = fine.reshape(-1, 2)
    near = np.linalg.norm(fine - quad, axis=-1) < _WINDOW
    return np.where(near[:, None], fine, quad)


def _reason(grey: Picture, seen: dict[int, Points], layout: Layout) -> NotReadableError:
    """Why a page of this layout is not there."""
    slots = Counter(number // MARKERS for number in seen)
    slot, count = slots.most_common(1)[0] if slots else (layout.slot, 0)
    if slot != layout.slot and count >= FEWEST_MARKERS:
        return WrongPageError(f"This is page {slot + 1} of that set, not page {layout.slot + 1}. Take the other one.")
    mirrored = _markers(np.ascontiguousarray(grey[:, ::-1]))
    if len(mirrored) >= FEWEST_MARKERS:
        return MirroredError("Some phones mirror what their front camera sees. Use the other camera.")
    return NoSheetError(
        f"{len(seen)} of its eight marks are seen. Fit the whole page in the frame, put nothing over its marks, and "
        "hold still."
    )


def _plane(own: dict[int, Points], layout: Layout) -> tuple[list[int], Points]:
    """The markers that lie on one plane as the layout has them, and its homography from mm to pixels."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    numbers = sorted(own)
    true = np.concatenate([_corners_mm(layout, n) for n in numbers])
    measured = np.concatenate([own[n] for n in numbers])
    # From pixels to mm, so that what counts as near is the same for every picture.
    back, _ = cv2.findHomography(measured, true, cv2.RANSAC, _NEAR_MM)
    plane = np.asarray(back if np.size(back) == 9 else np.eye(3), dtype=np.float64)
    off = np.linalg.norm(_through(plane, measured) - true, axis=-1).reshape(-1, 4)
    kept = [n for n, far in zip(numbers, off.max(-1), strict=True) if far < _FAR_MM]
    if len(kept) < FEWEST_MARKERS:
        return kept, np.eye(3)
    true = np.concatenate([_corners_mm(layout, n) for n in kept])
    measured = np.concatenate([own[n] for n in kept])
    forth, _ = cv2.findHomography(true, measured, 0)
    return kept, np.asarray(forth, dtype=np.float64)


def _corners_mm(layout: Layout, number: int) -> Points:
    """The corners of a marker as OpenCV orders them: clockwise from its own upper left one."""
    box = next(m.box for m in layout.markers if m.number == number)
    return np.array([(box.x, box.y), (box.right, box.y), (box.right, box.bottom), (box.x, box.bottom)])


def _px_per_mm(homography: Points, layout: Layout) -> float:
    """The fewest pixels a mm has, in the worse of two directions, at the middle and the corners of the page."""
    width, height = layout.page_mm
    at = np.array([(width / 2, height / 2), (0, 0), (width, 0), (width, height), (0, height)])
    here = _through(homography, at)
    across = np.linalg.norm(_through(homography, at + np.array([1.0, 0.0])) - here, axis=-1)
    down = np.linalg.norm(_through(homography, at + np.array([0.0, 1.0])) - here, axis=-1)
    return float(min(across.min(), down.min()))


def _through(homography: NDArray[np.floating], points: NDArray[np.floating]) -> Points:
    """Points (n, 2) taken through a homography."""
    lifted = np.concatenate([points, np.ones((len(points), 1))], axis=-1) @ homography.T
    return np.asarray(lifted[:, :2] / lifted[:, 2:], dtype=np.float64)
