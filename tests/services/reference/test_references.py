"""References: opened apart and taken up, stepped on, picked from, answered on a paper, and told where that ends."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageCms
from tests.core.painted_scenes import coded, painted_scene
from tests.services.at_home import BUFF, VELLUM
from tests.services.reference.pictures import BLUE, RED, as_file, halves, until_settled

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reference.adjusting import Adjustments
from tidy_tinder.core.reference.views import View
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.reference.answering import PickWish
from tidy_tinder.services.reference.answers import answers_for_pick, picture_reach
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.services.reference.picks import (
    add_pick,
    drop_picks,
    find_main_colours,
    look,
    merge_picks,
    name_pick,
)
from tidy_tinder.services.reference.store import add_reference, remove_reference, step_on, take_up
from tidy_tinder.services.reference.view import (
    PickView,
    picture_in_view,
    reference_cards,
    reference_view,
    zones_of,
)
from tidy_tinder.storage.models import PictureState, ReferencePicture

BLACK_PAPER = 6


def picks(collection: Collection, reference: int) -> tuple[PickView, ...]:
    return reference_view(collection, reference).picks


def test_a_picture_is_opened_looked_at_and_kept_as_it_came(
    demo: Collection, drawing: int, opened: Callable[[bytes], int]
) -> None:
    content = as_file(halves())
    number = opened(content)
    (card,) = reference_cards(demo, drawing)
    assert (card.id, card.state, card.width, card.height, card.picks) == (number, PictureState.READY, 300, 200, 0)
    shown = np.asarray(Image.open(io.BytesIO(picture_in_view(demo, number, View(), 1400, None))))
    assert np.array_equal(shown, halves())
    grey = np.asarray(Image.open(io.BytesIO(picture_in_view(demo, number, View(grey=True), 64, None))))
    assert grey.shape == (43, 64, 3)
    assert (grey.max(axis=-1) == grey.min(axis=-1)).all()


def test_the_loupe_sees_a_colour_or_two_and_a_pick_keeps_it(demo: Collection, opened: Callable[[bytes], int]) -> None:
    number = opened(as_file(halves()))
    plain = look(demo, number, 0.25, 0.5, 20)
    assert delta_e_2000(np.array(plain.lab), np.array(RED)) < 0.5
    assert not plain.two_meet
    edge = look(demo, number, 0.5, 0.5, 20)
    assert edge.two_meet
    add_pick(demo, number, 0.25, 0.5, 20)
    pick_id, change = add_pick(demo, number, 0.75, 0.5, 20)
    first, second = picks(demo, number)
    assert (first.number, second.number) == (1, 2)
    assert delta_e_2000(np.array(second.colour.lab), np.array(BLUE)) < 0.5
    assert second.nearest is not None
    assert second.nearest.number == 1
    undo(demo, change.change_id)
    assert [p.number for p in picks(demo, number)] == [1]
    with pytest.raises(NotFoundError):
        name_pick(demo, pick_id, 1, "sky", "")


def test_steps_move_the_pins_and_colour_the_picks_and_come_off_again(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    number = opened(as_file(halves((80.0, 5.0, 18.0), BLUE)))
    add_pick(demo, number, 0.25, 0.5, 20)
    step_on(demo, number, 1, Adjustments(neutral=(80.0, 5.0, 18.0), mirrored=True))
    (pick,) = picks(demo, number)
    assert pick.x == pytest.approx(0.75, abs=0.01)
    assert np.allclose(pick.colour.lab, (80, 0, 0), atol=0.5)
    assert look(demo, number, 0.25, 0.5, 20).lab[2] == pytest.approx(BLUE[2], abs=0.5)
    step_on(demo, number, 2, Adjustments())
    (pick,) = picks(demo, number)
    assert np.allclose(pick.colour.lab, (80, 5, 18), atol=0.5)
    assert reference_view(demo, number).steps == Adjustments()


def test_main_colours_take_the_place_of_those_found_before_and_picks_stay(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    scene = painted_scene(2, 360, 480)
    number = opened(as_file(scene.pixels))
    add_pick(demo, number, 0.5, 0.5, 10)
    find_main_colours(demo, number, 12)
    change = find_main_colours(demo, number, 8)
    found = [p for p in picks(demo, number) if p.found]
    assert len(found) == 8
    assert sum(p.share or 0 for p in found) == pytest.approx(1.0)
    assert [p.value for p in picks(demo, number)] == sorted((p.value for p in picks(demo, number)), reverse=True)
    assert any(not p.found for p in picks(demo, number))
    undo(demo, change.change_id)
    assert sum(p.found for p in picks(demo, number)) == 12


def test_picks_are_named_merged_and_dropped(demo: Collection, opened: Callable[[bytes], int]) -> None:
    number = opened(as_file(halves()))
    one, _ = add_pick(demo, number, 0.25, 0.5, 20)
    other, _ = add_pick(demo, number, 0.75, 0.5, 20)
    name_pick(demo, one, 1, " Scarlet  cap ", "cap")
    assert {(p.name, p.area) for p in picks(demo, number)} == {("Scarlet cap", "cap"), ("", "")}
    change = merge_picks(demo, [one, other])
    (merged,) = picks(demo, number)
    assert np.allclose(merged.colour.lab, np.mean([RED, BLUE], axis=0), atol=0.6)
    assert merged.spread > 30
    undo(demo, change.change_id)
    drop_picks(demo, [one, other])
    assert picks(demo, number) == ()
    with pytest.raises(RefusedError, match="Two or more picks"):
        undo(demo, drop_picks(demo, [add_pick(demo, number, 0.2, 0.2, 9)[0]]).change_id)
        merge_picks(demo, [picks(demo, number)[0].id])


def test_zones_have_their_shares_from_dark_to_light(demo: Collection, opened: Callable[[bytes], int]) -> None:
    from tidy_tinder.core.reference.zones import Steps

    number = opened(as_file(halves((20.0, 0, 0), (80.0, 0, 0))))
    zones = zones_of(demo, number, 3, Steps.EVEN, [40.0, 60.0], VELLUM)
    assert [z.share for z in zones] == pytest.approx([0.5, 0.0, 0.5])
    assert zones[0].mean.lab[0] == pytest.approx(20, abs=0.5)
    assert (zones[0].high, zones[1].high) == (40.0, 60.0)
    # Each zone says what of hers is so dark or so light on this paper; what none is, is said too.
    assert all(zone.reached_by > 20 and len(zone.nearest) == 3 for zone in zones)
    darker, _, _ = zones_of(demo, number, 3, Steps.EVEN, [3.0, 60.0], VELLUM)
    assert (darker.reached_by, darker.nearest) == (0, ())


def test_a_pick_is_answered_by_what_is_owned_with_its_own_spread_in_the_doubt(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    rng = np.random.default_rng(0)
    lab = np.tile(np.array((55.0, 30.0, 40.0)), (200, 300, 1))
    lab[:, 150:] += rng.normal(0, 4, (200, 150, 3))
    number = opened(as_file(coded(lab)))
    plain, _ = add_pick(demo, number, 0.2, 0.5, 25)
    rough, _ = add_pick(demo, number, 0.8, 0.5, 25)
    answers = answers_for_pick(demo, plain, VELLUM, PickWish(), wait=None)
    assert answers.ready
    assert {len(o.laid) for o in answers.offers} == {1, 2}
    figures = [o.expected for o in answers.offers]
    assert figures == sorted(figures)
    best = answers.offers[0]
    assert best.difference.delta_e == pytest.approx(
        float(delta_e_2000(np.array(answers.wanted.lab), np.array(best.offered.lab)))
    )
    assert all(str(one.pencil.owning) != "not owned" for o in answers.offers for one in o.laid)
    textured = answers_for_pick(demo, rough, VELLUM, PickWish(), wait=None)
    assert min(o.plus_minus for o in textured.offers) > min(o.plus_minus for o in answers.offers) + 1


def test_what_is_too_pale_for_a_paper_names_the_papers_that_go_further(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    number = opened(as_file(halves((30.0, 0.0, 0.0), (90.0, 0.0, 4.0))))
    add_pick(demo, number, 0.2, 0.5, 20)
    add_pick(demo, number, 0.8, 0.5, 20)
    on_buff = picture_reach(demo, number, BUFF, wait=None)
    assert on_buff.darkest is not None
    assert on_buff.lightest is not None
    assert on_buff.darkest.reached
    assert not on_buff.lightest.reached
    assert on_buff.lightest.ways[0].startswith("Hot-pressed board, where the bare paper comes to value 9.")
    on_white = picture_reach(demo, number, VELLUM, wait=None)
    assert on_white.lightest is not None
    assert (on_white.lightest.reached, on_white.lightest.said) == (True, "the bare paper")


def test_what_is_too_dark_for_every_paper_is_told_and_laid_into_its_range(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    number = opened(as_file(halves((2.0, 0.0, 0.0), (88.0, 0.0, 4.0))))
    dark, _ = add_pick(demo, number, 0.2, 0.5, 20)
    add_pick(demo, number, 0.8, 0.5, 20)
    reach = picture_reach(demo, number, VELLUM, wait=None)
    assert reach.darkest is not None
    assert reach.lightest is not None
    assert not reach.darkest.reached
    assert reach.darkest.paper > reach.darkest.picture
    assert "over it" in reach.darkest.said
    assert reach.lightest.reached
    answers = answers_for_pick(demo, dark, VELLUM, PickWish(), wait=None)
    assert answers.beyond
    assert not answers.mapped
    mapped = answers_for_pick(demo, dark, VELLUM, PickWish(mapped=True), wait=None)
    assert mapped.mapped
    assert mapped.wanted.lab[0] > answers.wanted.lab[0] + 2
    assert mapped.offers[0].difference.delta_e < answers.offers[0].difference.delta_e


@pytest.mark.parametrize("kind", ["JPEG", "TIFF", "WEBP", "PNG"])
def test_kinds_that_are_taken(demo: Collection, opened: Callable[[bytes], int], kind: str) -> None:
    number = opened(as_file(halves(), kind, **({"quality": 95} if kind in ("JPEG", "WEBP") else {})))
    seen = look(demo, number, 0.25, 0.5, 30)
    assert delta_e_2000(np.array(seen.lab), np.array(RED)) < 2.5


def test_turned_transparent_grey_and_tiny_pictures_are_shown_right(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    exif = Image.Exif()
    exif[0x0112] = 3  # upside down
    upside_down = opened(as_file(halves(), "JPEG", exif=exif, quality=95))
    assert delta_e_2000(np.array(look(demo, upside_down, 0.25, 0.5, 20).lab), np.array(BLUE)) < 2.5
    clear = np.zeros((40, 40, 4), dtype=np.uint8)
    through = opened(as_file(clear))
    assert look(demo, through, 0.5, 0.5, 9).lab[0] == pytest.approx(100, abs=0.1)
    grey = opened(as_file(np.full((40, 40), 119, dtype=np.uint8)))
    assert look(demo, grey, 0.5, 0.5, 9).lab[0] == pytest.approx(50, abs=0.5)
    deep = opened(as_file(np.full((40, 40), 119 * 257, dtype=np.uint16)))
    assert look(demo, deep, 0.5, 0.5, 9).lab[0] == pytest.approx(50, abs=0.5)
    dot = opened(as_file(np.full((1, 1, 3), 255, dtype=np.uint8)))
    assert look(demo, dot, 0.5, 0.5, 6).lab[0] == pytest.approx(100, abs=0.1)
    long = opened(as_file(np.full((3, 40_000, 3), 119, dtype=np.uint8)))
    assert reference_view(demo, long).card.width == 40_000
    assert look(demo, long, 0.9, 0.5, 6).lab[0] == pytest.approx(50, abs=0.5)


def test_a_profile_is_honoured_as_littlecms_has_it(demo: Collection, opened: Callable[[bytes], int]) -> None:
    """A matrix profile with another curve, made by LittleCMS through Pillow: its own Lab transform is the oracle."""
    pixels = np.tile(np.array([[[180, 90, 60]]], dtype=np.uint8), (60, 60, 1))
    srgb = ImageCms.createProfile("sRGB")
    number = opened(as_file(pixels, icc_profile=ImageCms.ImageCmsProfile(srgb).tobytes()))
    lab = ImageCms.profileToProfile(
        Image.fromarray(pixels), srgb, ImageCms.createProfile("LAB", 6504), outputMode="LAB",
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
    )  # fmt: skip
    assert lab is not None
    L, a, b = (int(v) for v in np.asarray(lab)[30, 30].astype(np.int16))
    theirs = np.array([L / 255 * 100, a - 256 if a > 127 else a, b - 256 if b > 127 else b], dtype=float)
    # Their Lab is of D50 and in steps of a whole unit; ours of D65: the two are a few tenths apart for such a colour.
    assert delta_e_2000(np.array(look(demo, number, 0.5, 0.5, 9).lab), theirs) < 1.5


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"this is a text that was renamed to .jpg", "no picture that is known"),
        (b"GIF89a" + bytes(50), "a GIF"),
        (b"%PDF-1.4", "a PDF"),
        (bytes(61_000_000), "at most 60"),
    ],
)
def test_what_is_no_picture_is_refused_at_once(demo: Collection, drawing: int, content: bytes, said: str) -> None:
    with pytest.raises(UnreadableError, match=said):
        add_reference(demo, drawing, "x.jpg", content)
    assert reference_cards(demo, drawing) == ()


def bomb() -> bytes:
    """A PNG of a few kB that says it is 30,000 × 30,000."""
    small = bytearray(as_file(np.zeros((10, 10, 3), dtype=np.uint8)))
    small[16:24] = (30_000).to_bytes(4, "big") * 2
    import zlib

    small[29:33] = zlib.crc32(bytes(small[12:29])).to_bytes(4, "big")
    return bytes(small)


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (bomb(), "900|more than 60|million"),
        (as_file(halves(), "JPEG")[:-2000], "damaged or was cut off"),
        (as_file(halves(), "JPEG", icc_profile=b"no profile at all" * 20), "profile"),
    ],
    ids=["bomb", "cut off", "broken profile"],
)
def test_what_cannot_be_opened_says_why_and_the_next_one_is_opened(
    demo: Collection, drawing: int, opened: Callable[[bytes], int], content: bytes, said: str
) -> None:
    number = opened(content)
    card = reference_view(demo, number).card
    assert card.state is PictureState.REFUSED
    assert any(word in card.message for word in said.split("|"))
    with pytest.raises(RefusedError):
        picture_in_view(demo, number, View(), 200, None)
    opened(as_file(halves()))
    assert reference_cards(demo, drawing)[1].state is PictureState.READY


def test_cmyk_is_refused_in_words(demo: Collection, opened: Callable[[bytes], int]) -> None:
    kept = io.BytesIO()
    Image.new("CMYK", (40, 40)).save(kept, "JPEG")
    assert "CMYK" in reference_view(demo, opened(kept.getvalue())).card.message


def test_a_process_that_dies_is_a_refusal(
    demo: Collection, opened: Callable[[bytes], int], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(OtherProcess, "answers", lambda *_: iter(()))
    assert "time and memory" in reference_view(demo, opened(as_file(halves()))).card.message


def test_a_program_that_begins_again_goes_on_and_lets_go_of_what_was_removed(demo: Collection, drawing: int) -> None:
    number, _ = add_reference(demo, drawing, "a.png", as_file(halves()))
    gone, _ = add_reference(demo, drawing, "b.png", as_file(halves()))
    with demo() as session:
        session.get_one(ReferencePicture, number).state = PictureState.OPENING
        session.commit()
    change = remove_reference(demo, gone)
    assert take_up(demo) == 1
    again = PictureOpener(demo)
    again.wake()
    assert until_settled(demo, number) is PictureState.READY
    again.close()
    # The file is gone with the program that knew it; the reference comes back, says so, and keeps its picks.
    undo(demo, change.change_id)
    card = reference_view(demo, gone).card
    assert card.state is None
    assert "file of this picture is gone" in card.message


def test_a_reference_whose_file_is_gone_keeps_its_picks(demo: Collection, opened: Callable[[bytes], int]) -> None:
    number = opened(as_file(halves()))
    add_pick(demo, number, 0.25, 0.5, 20)
    change = remove_reference(demo, number)
    take_up(demo)
    undo(demo, change.change_id)
    (pick,) = picks(demo, number)
    assert delta_e_2000(np.array(pick.colour.lab), np.array(RED)) < 0.5
    assert answers_for_pick(demo, pick.id, BUFF, PickWish(), wait=None).offers
    with pytest.raises(NotFoundError, match="picks are kept"):
        look(demo, number, 0.5, 0.5, 20)
    assert Path(demo.database).exists()
