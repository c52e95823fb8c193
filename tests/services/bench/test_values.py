"""The value check through its services: kept, compared, removed with undo, its picture; what is refused."""

from __future__ import annotations

import io

import numpy as np
import pytest
from benchmarks.value_check import draw, photographed, reference_of
from PIL import Image
from tests.services.bench.conftest import DRAWING
from tests.services.reference.pictures import until_settled

from tidy_tinder.core.reference.adjusting import Adjustments
from tidy_tinder.core.reference.value_check.refusal import CannotCheckError
from tidy_tinder.core.reflectance.colorimetry import encode_srgb
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.photos import (
    add_drawing_photo,
    corners_in,
    forget_photos,
    picture_of_photo,
    remove_drawing_photo,
    waiting_photos,
)
from tidy_tinder.services.bench.values import (
    check_drawing,
    checks_of,
    forget_pictures,
    picture_of_check,
    reach_of_check,
    remove_check,
)
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.services.reference.store import add_reference, step_on
from tidy_tinder.storage.models import CheckOfValues
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices


def coded(light: np.ndarray) -> bytes:
    out = io.BytesIO()
    pixels = np.rint(255 * np.clip(encode_srgb(np.clip(light, 0, 1)), 0, 1)).astype(np.uint8)
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def cat(drawn: Collection) -> int:
    opener = PictureOpener(drawn)
    number, _ = add_reference(drawn, DRAWING, "cat.png", coded(reference_of("skimage/chelsea.png")))
    opener.wake()
    until_settled(drawn, number)
    opener.close()
    return number


def checked(drawn: Collection, reference: int, name: str, photo: bytes, corners: list[tuple[float, float]]) -> int:
    """The number of the check of a photo that was taken in for it."""
    number, _ = add_drawing_photo(drawn, DRAWING, name, photo)
    return check_drawing(drawn, number, reference, corners)[0]


def shot(faults: int, seed: int) -> tuple[bytes, list[tuple[float, float]]]:
    rng = np.random.default_rng(seed)
    photo, corners = photographed(draw(reference_of("skimage/chelsea.png"), rng, faults), rng)
    return coded(photo), [(float(x / photo.shape[1]), float(y / photo.shape[0])) for x, y in corners]


def test_a_check_is_kept_compared_removed_and_brought_back(drawn: Collection, cat: int) -> None:
    photo, corners = shot(3, 4)
    number = checked(drawn, cat, "one.png", photo, corners)
    [first] = checks_of(drawn, DRAWING)
    assert (first.id, first.name, first.mended) == (number, "one.png", None)
    assert len(first.regions) >= 2
    again = checked(drawn, cat, "two.png", photo, corners)
    newest = checks_of(drawn, DRAWING)[0]
    assert (newest.id, newest.mended, newest.before) == (again, 0, len(first.regions))
    grey = np.asarray(Image.open(io.BytesIO(picture_of_check(drawn, again, grey=True, blur=0.01))))
    assert (grey.max(axis=2) == grey.min(axis=2)).all()
    plain = np.asarray(Image.open(io.BytesIO(picture_of_check(drawn, again, grey=False))))
    assert plain.shape == grey.shape
    change = remove_check(drawn, again)
    assert len(checks_of(drawn, DRAWING)) == 1
    undo(drawn, change.change_id)
    assert picture_of_check(drawn, again, grey=False)
    remove_check(drawn, again)
    forget_pictures(drawn)
    with pytest.raises(NotFoundError):
        picture_of_check(drawn, again, grey=False)
    assert picture_of_check(drawn, number, grey=False)


def test_a_check_of_before_its_steps_were_kept_is_shown_and_compared_with_none(drawn: Collection, cat: int) -> None:
    """As layout 0013 left it: without the picture's steps and without a ladder."""
    photo, corners = shot(3, 4)
    old = checked(drawn, cat, "old.png", photo, corners)
    with drawn() as session:
        row = session.get_one(CheckOfValues, old)
        row.told = {key: value for key, value in row.told.items() if key not in ("steps", "ladder", "lightest_asked")}
        session.commit()
    checked(drawn, cat, "new.png", photo, corners)
    newest, oldest = checks_of(drawn, DRAWING)
    assert newest.mended is None
    assert (oldest.id, oldest.ladder) == (old, ())
    assert oldest.regions
    reach = reach_of_check(drawn, old, 60.0)
    assert reach.ready
    assert reach.darkest is not None
    assert reach.darkest.picture == pytest.approx(oldest.darkest_asked)


def test_a_mirrored_reference_is_drawn_from_as_it_is_seen(drawn: Collection, cat: int) -> None:
    """What was turned on the screen was turned in the drawing: the picture as it came would not be found in it."""
    rng = np.random.default_rng(6)
    mirrored = np.ascontiguousarray(reference_of("skimage/chelsea.png")[:, ::-1])
    photo, places = photographed(draw(mirrored, rng, 2), rng)
    corners = [(float(x / photo.shape[1]), float(y / photo.shape[0])) for x, y in places]
    with pytest.raises(CannotCheckError):
        checked(drawn, cat, "one.png", coded(photo), corners)
    [waiting] = waiting_photos(drawn, DRAWING)
    plain = checked(drawn, cat, "plain.png", *shot(0, 7))
    step_on(drawn, cat, 1, Adjustments(mirrored=True))
    check_drawing(drawn, waiting.id, cat, corners)
    assert waiting_photos(drawn, DRAWING) == ()
    newest, oldest = checks_of(drawn, DRAWING)
    assert oldest.id == plain
    assert newest.mended is None  # laid on another view of the picture: nothing to compare with


def test_what_cannot_be_checked_is_told_and_nothing_is_kept(drawn: Collection, cat: int) -> None:
    photo, corners = shot(0, 5)
    with pytest.raises(UnreadableError):
        add_drawing_photo(drawn, DRAWING, "notes.txt", b"no picture")
    with pytest.raises(NotFoundError):
        add_drawing_photo(drawn, 99, "one.png", photo)
    with pytest.raises(CannotCheckError):
        checked(drawn, cat, "turned.png", photo, [corners[i] for i in (2, 3, 0, 1)])
    [waiting] = waiting_photos(drawn, DRAWING)
    with pytest.raises(NotFoundError):
        check_drawing(drawn, waiting.id, 99, corners)
    with pytest.raises(NotFoundError):
        check_drawing(drawn, 99, cat, corners)
    assert checks_of(drawn, DRAWING) == ()
    assert waiting_photos(drawn, DRAWING) == (waiting,)


def test_a_photo_waits_is_removed_and_brought_back_and_its_corners_are_offered(drawn: Collection, cat: int) -> None:
    photo, corners = shot(2, 8)
    number, _ = add_drawing_photo(drawn, DRAWING, "C:\\photos\\drawing.jpg", photo)
    assert [one.name for one in waiting_photos(drawn, DRAWING)] == ["drawing.jpg"]
    found = corners_in(drawn, number, cat)
    assert found is not None
    assert np.abs(np.array(found) - np.array(corners)).max() < 0.01
    assert Image.open(io.BytesIO(picture_of_photo(drawn, number))).width == 1600
    change = remove_drawing_photo(drawn, number)
    assert waiting_photos(drawn, DRAWING) == ()
    undo(drawn, change.change_id)
    assert picture_of_photo(drawn, number)
    kept, made = check_drawing(drawn, number, cat, found)
    assert waiting_photos(drawn, DRAWING) == ()
    undo(drawn, made.change_id)
    assert [one.id for one in waiting_photos(drawn, DRAWING)] == [number]
    assert kept not in [one.id for one in checks_of(drawn, DRAWING)]
    remove_drawing_photo(drawn, number)
    forget_photos(drawn)
    with pytest.raises(NotFoundError):
        picture_of_photo(drawn, number)


def test_a_drawing_keeps_a_dozen_photos_waiting_and_says_so(drawn: Collection) -> None:
    small = coded(np.full((40, 40, 3), 0.5, np.float32))
    for _ in range(12):
        add_drawing_photo(drawn, DRAWING, "one.png", small)
    with pytest.raises(RefusedError, match="12 photos of this drawing wait already"):
        add_drawing_photo(drawn, DRAWING, "one.png", small)


def test_a_picture_drawn_to_the_edge_is_told_by_one_bare_patch(drawn: Collection, cat: int) -> None:
    photo, corners = shot(3, 4)
    number, _ = add_drawing_photo(drawn, DRAWING, "one.png", photo)
    bare = (corners[0][0] - 0.03, corners[0][1] + 0.2)
    check_drawing(drawn, number, cat, corners, patch=bare)
    [told] = checks_of(drawn, DRAWING)
    assert any("One bare patch" in words for words in told.words)
    assert told.regions
    assert all(abs(region.off) >= 8.0 for region in told.regions)
    again, _ = add_drawing_photo(drawn, DRAWING, "two.png", photo)
    with pytest.raises(CannotCheckError, match="no bare paper"):
        check_drawing(drawn, again, cat, corners, patch=(0.52, 0.5))


@pytest.mark.parametrize(
    "corners",
    [[], [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9]], [["a", "b"]] * 4, [[1e9, 0], [1, 0], [1, 1], [0, 1]], "corners"],
)
def test_corners_that_are_no_corners_are_refused_at_the_door(drawn: Collection, corners: object) -> None:
    app = create_app(drawn)
    body = {"photo_id": 1, "reference_id": 1, "corners": corners}
    answer = app.test_client().post("/api/checks", json=body)
    close_devices(app)
    assert answer.status_code == 422
    assert "corners" in answer.get_json()["detail"]
