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
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.values import (
    check_drawing,
    checks_of,
    forget_pictures,
    picture_of_check,
    remove_check,
)
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.services.reference.store import add_reference, step_on
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

CORNERS = [(0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)]


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


def shot(faults: int, seed: int) -> tuple[bytes, list[tuple[float, float]]]:
    rng = np.random.default_rng(seed)
    photo, corners = photographed(draw(reference_of("skimage/chelsea.png"), rng, faults), rng)
    return coded(photo), [(float(x / photo.shape[1]), float(y / photo.shape[0])) for x, y in corners]


def test_a_check_is_kept_compared_removed_and_brought_back(drawn: Collection, cat: int) -> None:
    photo, corners = shot(3, 4)
    number, _ = check_drawing(drawn, DRAWING, cat, "one.png", photo, corners)
    [first] = checks_of(drawn, DRAWING)
    assert (first.id, first.name, first.mended) == (number, "one.png", None)
    assert len(first.regions) >= 2
    again, _ = check_drawing(drawn, DRAWING, cat, "two.png", photo, corners)
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


def test_a_mirrored_reference_is_drawn_from_as_it_is_seen(drawn: Collection, cat: int) -> None:
    """What was turned on the screen was turned in the drawing: the picture as it came would not be found in it."""
    rng = np.random.default_rng(6)
    mirrored = np.ascontiguousarray(reference_of("skimage/chelsea.png")[:, ::-1])
    photo, places = photographed(draw(mirrored, rng, 2), rng)
    corners = [(float(x / photo.shape[1]), float(y / photo.shape[0])) for x, y in places]
    with pytest.raises(CannotCheckError):
        check_drawing(drawn, DRAWING, cat, "one.png", coded(photo), corners)
    plain, _ = check_drawing(drawn, DRAWING, cat, "plain.png", *shot(0, 7))
    step_on(drawn, cat, 1, Adjustments(mirrored=True))
    check_drawing(drawn, DRAWING, cat, "one.png", coded(photo), corners)
    newest, oldest = checks_of(drawn, DRAWING)
    assert oldest.id == plain
    assert newest.mended is None  # laid on another view of the picture: nothing to compare with


def test_what_cannot_be_checked_is_told_and_nothing_is_kept(drawn: Collection, cat: int) -> None:
    photo, corners = shot(0, 5)
    with pytest.raises(RefusedError):
        check_drawing(drawn, DRAWING, cat, "notes.txt", b"no picture", CORNERS)
    with pytest.raises(CannotCheckError):
        check_drawing(drawn, DRAWING, cat, "turned.png", photo, [corners[i] for i in (2, 3, 0, 1)])
    with pytest.raises(NotFoundError):
        check_drawing(drawn, DRAWING, 99, "one.png", photo, corners)
    with pytest.raises(NotFoundError):
        check_drawing(drawn, 99, cat, "one.png", photo, corners)
    assert checks_of(drawn, DRAWING) == ()


@pytest.mark.parametrize(
    "corners", ["", "0.1,0.1 0.9,0.1 0.9,0.9", "a,b c,d e,f g,h", "1e9,0 1,0 1,1 0,1", "nan,0 1,0 1,1 0,1"]
)
def test_corners_that_are_no_corners_are_refused_at_the_door(drawn: Collection, corners: str) -> None:
    app = create_app(drawn)
    body = {"file": (io.BytesIO(b"x"), "a.png"), "reference_id": "1", "corners": corners}
    answer = app.test_client().post(f"/api/drawings/{DRAWING}/checks", data=body)
    close_devices(app)
    assert answer.status_code == 422
    assert "corners" in answer.get_json()["detail"]
