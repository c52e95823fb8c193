"""The value check on drawings and a camera that are not the demo's: what is found, what is left in peace, the gates."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from benchmarks.value_check import PAPER, Drawn, draw, photographed, reference_of, run
from skimage.segmentation import slic

from tidy_tinder.core.reference.value_check.check import ValueCheck, Verdict, check_values
from tidy_tinder.core.reference.value_check.corners import WIDTH, flatten
from tidy_tinder.core.reference.value_check.curve import common_curve
from tidy_tinder.core.reference.value_check.laying_on import lay_on
from tidy_tinder.core.reference.value_check.refusal import CannotCheckError, Gate
from tidy_tinder.core.reference.value_check.regions import regions_of
from tidy_tinder.core.reference.value_check.zones import COUNT, zones_in
from tidy_tinder.core.reference.working import Light, picture_lab

CAT = "skimage/chelsea.png"


@pytest.fixture(scope="module")
def cat() -> Light:
    return reference_of(CAT)


def shot(reference: Light, seed: int = 5, faults: int = 3, hard: bool = False) -> tuple[Light, np.ndarray, Drawn]:
    rng = np.random.default_rng(seed)
    drawn = draw(reference, rng, faults)
    return (*photographed(drawn, rng, hard), drawn)


def small(light: Light) -> Light:
    return np.asarray(cv2.resize(light, (WIDTH, 460), interpolation=cv2.INTER_AREA), dtype=np.float32)


def wrong(check: ValueCheck) -> float:
    return sum(z.share for z in check.zones if z.verdict in (Verdict.DARKER, Verdict.LIGHTER))


def refused(*args: object, **more: object) -> CannotCheckError:
    with pytest.raises(CannotCheckError) as error:
        check_values(*args, **more)  # type: ignore[arg-type] # handed through
    assert error.value.detail
    return error.value


def test_planted_errors_are_found_and_said_by_how_much() -> None:
    """The issue's goals: of errors of 8 L* and more .95 found, flags right in .82, ΔL* within 1.5 in the median."""
    tally = run((CAT, "skimage/coffee.png", "101"), range(31, 33), faults=4, loose=0.003)
    assert tally.planted >= 15
    assert tally.found >= 0.95 * tally.planted
    assert tally.right_flags >= 0.82 * tally.flagged
    assert tally.errors is not None
    assert np.median(tally.errors) <= 1.5
    assert tally.refused == 0


def test_a_correct_drawing_is_left_in_peace_by_hard_light_and_loose_taps(cat: Light) -> None:
    for seed, hard, loose in ((41, False, 0.0), (42, True, 0.0), (43, False, 0.008)):
        photo, corners, _ = shot(cat, seed, 0, hard)
        taps = corners + np.random.default_rng(seed).normal(size=(4, 2)) * loose * 1000
        assert wrong(check_values(photo, taps, cat, PAPER)) <= (0.05 if loose else 0.02)


def test_another_tone_curve_and_another_exposure_change_nothing_of_what_is_wrong(cat: Light) -> None:
    """What the camera makes of the tones is in the common curve: no absolute lightness is told."""
    photo, corners, drawn = shot(cat)
    plain, other = (check_values(p, corners, cat, PAPER) for p in (photo, (0.6 * photo**1.15).astype(np.float32)))
    at = {z.label: z for z in other.zones}
    flagged = [z for z in plain.zones if z.verdict in (Verdict.DARKER, Verdict.LIGHTER)]
    assert len(drawn.faults) >= 2
    agree = sum(z.share for z in flagged if at[z.label].verdict is z.verdict)
    assert agree >= 0.8 * sum(z.share for z in flagged)


def test_what_is_not_drawn_yet_is_told_and_not_called_too_light(cat: Light) -> None:
    rng = np.random.default_rng(8)
    photo, corners = photographed(draw(cat, rng, 0, unfinished=True), rng)
    check = check_values(photo, corners, cat, PAPER)
    left = [z for z in check.zones if z.x < 0.2 and z.reference_L < 75.0]
    assert sum(z.share for z in left if z.verdict is Verdict.NOT_DRAWN) > 0.8 * sum(z.share for z in left)
    assert wrong(check) < 0.03


def test_corners_that_cross_or_lie_together_are_refused_and_a_turned_picture_is_not_the_same(cat: Light) -> None:
    photo, corners, _ = shot(cat)
    assert refused(photo, corners[[0, 2, 1, 3]], cat, PAPER).gate is Gate.CORNERS
    assert refused(photo, corners[:3], cat, PAPER).gate is Gate.CORNERS
    assert refused(photo, 10.0 + corners * 0.01, cat, PAPER).gate is Gate.CORNERS
    assert refused(photo, corners[[1, 0, 3, 2]], cat, PAPER).gate in (Gate.LIKENESS, Gate.RESIDUAL)  # mirrored
    assert refused(photo, corners[[2, 3, 0, 1]], cat, PAPER).gate in (Gate.LIKENESS, Gate.RESIDUAL)


def test_another_picture_is_refused(cat: Light) -> None:
    photo, corners, _ = shot(reference_of("skimage/coffee.png"))
    assert refused(photo, corners, cat, PAPER).gate in (Gate.LIKENESS, Gate.RESIDUAL)


def test_corners_of_the_sheet_instead_of_the_picture_are_told(cat: Light) -> None:
    photo, corners, _ = shot(cat)
    sheet = corners.mean(axis=0) + 1.24 * (corners - corners.mean(axis=0))
    assert refused(photo, sheet, cat, PAPER).gate in (Gate.PAPER, Gate.RING)


def test_corners_a_little_outside_the_picture_still_lie_on_its_paper(cat: Light) -> None:
    """Just inside the gate: with all corners a hundredth of the width too far out the ring is bare paper still."""
    rng = np.random.default_rng(9)
    photo, corners = photographed(draw(cat, rng, 1), rng)
    middle = corners.mean(axis=0)
    check = check_values(photo, middle + 1.02 * (corners - middle), cat, PAPER)
    assert check.light.scatter < 0.06


def test_a_copy_that_is_drawn_freely_is_still_the_same_picture(cat: Light) -> None:
    """Just inside the likeness: outlines that wander by 1.2 % of the width and are drawn blurred can be laid on, and
    noise of the same values cannot.
    """
    rng = np.random.default_rng(10)
    high, wide = cat.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    off = [
        cv2.resize(rng.normal(size=(4, 4)).astype(np.float32), (wide, high), interpolation=cv2.INTER_CUBIC)
        for _ in "xy"
    ]
    free = cv2.remap(
        cv2.GaussianBlur(cat, (0, 0), 5.0),
        x + 0.006 * wide * off[0],
        y + 0.006 * wide * off[1],
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    photo, corners = photographed(draw(np.asarray(free, dtype=np.float32), rng, 0), rng)
    assert check_values(photo, corners, cat, PAPER).rank > 0.6
    shuffled = cat.reshape(-1, 3)[rng.permutation(high * wide)].reshape(cat.shape)
    photo, corners = photographed(draw(np.asarray(shuffled, dtype=np.float32), rng, 0), rng)
    with pytest.raises(CannotCheckError) as refused:
        check_values(photo, corners, cat, PAPER)
    assert refused.value.gate in (Gate.LIKENESS, Gate.RESIDUAL)


def test_a_copy_whose_shapes_wander_within_the_limit_is_laid_on_and_one_beyond_it_is_told(cat: Light) -> None:
    """Shapes that wander by .7 % of the width here and there, on the limit; by .8 % they are beyond what is laid on."""
    wanted = picture_lab(small(cat))[..., 0].astype(np.float32)
    high, wide = wanted.shape
    rng = np.random.default_rng(0)
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    off = [cv2.GaussianBlur(rng.normal(size=(high, wide)).astype(np.float32), (0, 0), 0.03 * wide) for _ in "xy"]

    def wandering(share: float) -> np.ndarray:
        moved = [share * wide * one / one.std() for one in off]
        return cv2.remap(wanted, x + moved[0], y + moved[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    assert 0.007 < lay_on(wandering(0.007), wanted).residual <= 0.008
    with pytest.raises(CannotCheckError) as told:
        lay_on(wandering(0.008), wanted)
    assert told.value.gate is Gate.RESIDUAL


def test_a_shadow_over_the_margin_is_told_and_a_faint_one_passes(cat: Light) -> None:
    photo, corners, _ = shot(cat)
    high, wide = photo.shape[:2]
    shade = np.ones((high, wide, 1), np.float32)
    shade[:, : wide // 3] = 0.55
    assert refused(photo * shade, corners, cat, PAPER).gate in (Gate.RING, Gate.PAPER)
    check_values(photo * np.where(shade < 1.0, np.float32(0.96), shade), corners, cat, PAPER)


def test_the_dark_is_told_and_dusk_passes(cat: Light) -> None:
    photo, corners, _ = shot(cat)
    assert refused(photo * np.float32(0.004), corners, cat, PAPER).gate is Gate.RING
    check_values(photo * np.float32(0.1), corners, cat, PAPER)


def test_a_picture_to_the_edge_of_the_photo_has_no_paper_to_tell_the_light_by(cat: Light) -> None:
    drawn = draw(cat, np.random.default_rng(2), 0).light
    high, wide = drawn.shape[:2]
    edges = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], dtype=np.float64)
    assert refused(drawn, edges, cat, PAPER).gate is Gate.PAPER


def test_an_order_of_values_that_is_unlike_may_be_overruled_and_nothing_else(cat: Light) -> None:
    """The same shapes under a veil over one side: found again, in another order of values. A thin one passes."""
    photo, corners, _ = shot(cat, faults=0)
    across = np.linspace(-0.5, 0.5, cat.shape[1])[None, :, None]
    thin, thick = ((cat * np.exp(steep * across)).astype(np.float32) for steep in (2.0, 3.0))
    assert 0.6 <= check_values(photo, corners, thin, PAPER).rank < 0.7
    found = refused(photo, corners, thick, PAPER)
    assert found.gate is Gate.RANK
    assert found.detail.endswith("go on all the same.")
    assert 0.5 < check_values(photo, corners, thick, PAPER, overrule_rank=True).rank < 0.6
    turned = np.maximum(cat.max() - cat, 0.0).astype(np.float32)
    assert refused(photo, corners, turned, PAPER, overrule_rank=True).gate in (Gate.LIKENESS, Gate.RESIDUAL)


def test_paper_that_is_clipped_to_white_is_told_by_its_share(cat: Light) -> None:
    photo, corners, _ = shot(cat)
    assert check_values(photo, corners, cat, PAPER).light.clipped < 0.02
    assert check_values(np.minimum(1.8 * photo, 1.0).astype(np.float32), corners, cat, PAPER).light.clipped > 0.1


def test_a_known_map_is_found_again() -> None:
    """A picture that was moved, turned and stretched by a known map is laid back within a fifth of a percent."""
    lightness = picture_lab(small(reference_of(CAT)))[..., 0]
    reference = lightness.astype(np.float32)
    true = np.array([[1.004, 0.006, 4.0], [-0.005, 0.997, -3.0]])
    moved = cv2.warpAffine(reference, true, (WIDTH, 460), borderMode=cv2.BORDER_REPLICATE)
    bent = (20.0 + 0.7 * moved).astype(np.float32)  # and pressed into another range
    on = lay_on(bent, reference)
    corners = np.array([[0, 0, 1], [WIDTH, 0, 1], [WIDTH, 460, 1], [0, 460, 1]], dtype=np.float64)
    assert np.abs(corners @ (on.map - true).T).max() < 0.002 * WIDTH
    assert on.blocks >= 20


def test_flattening_a_flat_photo_is_the_photo_itself() -> None:
    rng = np.random.default_rng(1)
    noise = rng.uniform(size=(700, 900, 3)).astype(np.float32)
    smooth = np.asarray(cv2.GaussianBlur(noise, (0, 0), 12), dtype=np.float32)
    flat = flatten(smooth, np.array([[100, 100], [800, 100], [800, 600], [100, 600]]), 500 / 700)
    assert flat.picture.shape == (500, WIDTH, 3)
    np.testing.assert_allclose(flat.picture[20:-20, 20:-20], smooth[120:580, 120:780], atol=0.01)
    assert flat.seen.all()


def test_a_curve_never_falls_and_does_not_follow_what_is_wrong() -> None:
    rng = np.random.default_rng(3)
    reference = rng.uniform(5, 95, 200)
    drawing = 22.0 + 0.7 * reference + rng.normal(size=200)
    drawing[:30] += 14.0
    curve = common_curve(reference, drawing, np.ones(200))
    at = np.linspace(5, 95, 50)
    assert (np.diff(curve(at)) > 0).all()
    np.testing.assert_allclose(curve(at), 22.0 + 0.7 * at, atol=2.0)
    falling = common_curve(reference, 100.0 - reference, np.ones(200))
    assert (np.diff(falling(at)) >= 0).all()


def test_zones_follow_borders_as_those_of_another_implementation_do(cat: Light) -> None:
    """Against scikit-image's SLIC (an implementation of the same method): as uniform inside, as many."""
    lab = picture_lab(small(cat))
    ours = zones_in(lab)
    theirs = slic(lab, n_segments=COUNT, compactness=10.0, convert2lab=False, start_label=0)

    def spread(labels: np.ndarray) -> float:
        flat, L = labels.ravel(), lab[..., 0].ravel()
        kept = flat >= 0
        counts = np.maximum(np.bincount(flat[kept]), 1)
        means = np.bincount(flat[kept], L[kept]) / counts
        return float(np.sqrt(((L[kept] - means[flat[kept]]) ** 2).mean()))

    drawn_in = np.where(ours.labels >= 0, theirs, -1)
    assert spread(ours.labels) <= 1.15 * spread(drawn_in)
    assert 0.5 * COUNT <= len(np.unique(ours.labels)) <= 1.5 * COUNT


def test_zones_that_lie_together_are_one_region_that_covers_the_planted_error(cat: Light) -> None:
    photo, corners, drawn = shot(cat, seed=9)
    regions = regions_of(check_values(photo, corners, cat, PAPER))
    aspect = cat.shape[0] / cat.shape[1]
    assert len(drawn.faults) >= 2
    assert len(regions) <= 2 * len(drawn.faults) + 2
    assert [abs(r.off) * r.share for r in regions] == sorted((abs(r.off) * r.share for r in regions), reverse=True)
    for x, y, radius, size in drawn.faults:
        mine = [r for r in regions if np.hypot(r.x - x, r.y * aspect - y) < radius and np.sign(r.off) == np.sign(size)]
        assert mine
        assert (mine[0].verdict is Verdict.DARKER) == (size > 0.0)
        assert all(0.0 <= v <= 1.0 for point in mine[0].outline for v in point)
