"""Pairs of layered pencils: mixed as the full model mixes them, searched as comparing all of them would."""

from __future__ import annotations

import warnings
from collections.abc import Mapping

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tidy_tinder.core.difference.components import chroma
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.stack import stack
from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel, mark, pencil_from_swatch
from tidy_tinder.core.layers import Coat, Layer
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.standins.nearest_pairs import nearest_pairs
from tidy_tinder.core.standins.neutralisers import neutralisers
from tidy_tinder.core.standins.pairs import Kept, Pair, PairTable, mix_pairs
from tidy_tinder.core.standins.reach import Beyond, reach_at, shortfalls
from tidy_tinder.core.vocabulary import Opacity, Pressure

PAPER = PaperModel(strip_surface(recover_reflectance([94.5, -0.3, 1.5])), 0.5, 1.9, ((Pressure.LIGHT, 1.1),), hold=0.3)
COATS = (Coat(Pressure.LIGHT), Coat(Pressure.LIGHT, 2), Coat(Pressure.MEDIUM), Coat(Pressure.HEAVY))


def published_pencils() -> dict[int, PencilModel]:
    """Pencils whose heavy mark is a patch of the 24-patch chart, its spectra as colour-science carries them."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

        shape = colour.SpectralShape(400, 700, 10)
        chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"].values()
        patches = [[sd.copy().align(shape)[w] for w in BANDS] for sd in chart]
    classes = tuple(Opacity)
    return {100 + i: pencil_from_swatch(strip_surface(patch), PAPER, classes[i % 3]) for i, patch in enumerate(patches)}


@pytest.fixture(scope="module")
def pencils() -> dict[int, PencilModel]:
    return published_pencils()


@pytest.fixture(scope="module")
def table(pencils: Mapping[int, PencilModel]) -> PairTable:
    return mix_pairs(pencils, PAPER, COATS)


def plainly(pair: Pair, pencils: Mapping[int, PencilModel]) -> np.ndarray:
    below = [pair.below.of(pencils[pair.below.pencil])]
    above = [pair.above.of(pencils[pair.above.pencil])]
    return reflectance_to_lab(add_surface(stack([*below, *above], PAPER).body))


def test_every_ordered_pair_is_there_once_and_is_what_the_full_model_mixes(
    table: PairTable, pencils: dict[int, PencilModel]
) -> None:
    assert len(table) == 24 * 23 * 16
    pairs = [table.pair(row) for row in range(len(table))]
    assert len({(p.below.pencil, p.below, p.above.pencil, p.above) for p in pairs}) == len(table)
    assert all(p.below.pencil != p.above.pencil for p in pairs)
    assert np.all(np.diff(table.L) >= 0)
    for pair in pairs[::97]:
        assert pair.lab == pytest.approx(plainly(pair, pencils), abs=5e-4)  # films of seven digits, here of sixteen


@pytest.mark.parametrize("closest", list(Closest))
def test_the_same_nearest_as_brute_force_by_another_library(table: PairTable, closest: Closest) -> None:
    """Against scikit-image's CIEDE2000 over all pairs, mixed one by one; wanted colours in and far out of gamut."""
    from skimage.color import deltaE_ciede2000

    labs = np.stack([table.L, table.a, table.b], axis=-1)
    kL, kC, kH = closest.factors
    rng = np.random.default_rng(4)
    wanted = np.concatenate(
        [
            labs[rng.integers(0, len(table), 12)] + rng.normal(0, 1.0, (12, 3)),
            rng.uniform((0, -110, -110), (100, 110, 110), (12, 3)),
            [[0, 0, 0], [100, 0, 0], [32, 79, -108], [50, 0, 0]],
        ]
    )
    for target in wanted:
        theirs = deltaE_ciede2000(np.broadcast_to(target, labs.shape), labs, kL, kC, kH)
        for limit in (20, 360):
            found = tuple(nearest_pairs(table, target, closest, limit))
            assert [n.ranked_by for n in found] == pytest.approx(np.sort(theirs)[:limit], abs=1e-8)
            assert len(found) == limit


@settings(max_examples=25)
@given(st.integers(0, 2**32 - 1))
def test_a_filter_leaves_exactly_the_nearest_of_those_allowed(pencils_seed: int) -> None:
    table = _small()
    rng = np.random.default_rng(pencils_seed)
    below, above = rng.random(8) < 0.6, rng.random(8) < 0.6
    wanted = rng.uniform((0, -90, -90), (100, 90, 90))
    found = tuple(nearest_pairs(table, wanted, Closest.OVERALL, 10, below, above))
    all_of_them = nearest_pairs(table, wanted, Closest.OVERALL, len(table))
    places = {key: i for i, key in enumerate(table.keys)}
    allowed = [n for n in all_of_them if below[places[n.pair.below.pencil]] and above[places[n.pair.above.pencil]]]
    assert [n.ranked_by for n in found] == [n.ranked_by for n in allowed[:10]]


_made: list[PairTable] = []


def _small() -> PairTable:
    if not _made:
        _made.append(mix_pairs(dict(list(published_pencils().items())[:8]), PAPER))
    return _made[0]


def test_few_pencils_and_nonsense(pencils: dict[int, PencilModel]) -> None:
    assert len(mix_pairs({}, PAPER)) == 0
    assert tuple(nearest_pairs(mix_pairs({}, PAPER), np.array([50.0, 0.0, 0.0]))) == ()
    assert len(mix_pairs({1: pencils[100]}, PAPER)) == 0
    with pytest.raises(OutOfRangeError, match="pressure"):
        mix_pairs(dict(list(pencils.items())[:2]), PAPER, [Coat("hard")])  # type: ignore[arg-type] # a word that is none
    told: list[tuple[int, int]] = []
    mix_pairs(dict(list(pencils.items())[:3]), PAPER, COATS, lambda done, of: told.append((done, of)))
    assert told == [(i, 12) for i in range(1, 13)]


def swatch(L: float, a: float, b: float, opacity: Opacity) -> PencilModel:
    return pencil_from_swatch(strip_surface(recover_reflectance([L, a, b])), PAPER, opacity)


def alone(pencil: PencilModel, pressure: Pressure) -> np.ndarray:
    return reflectance_to_lab(add_surface(mark(pencil, PAPER, pressure)))


def test_a_colour_is_quieted_by_its_opposite_and_not_by_black() -> None:
    """Red over green greys it; black is what a neutraliser saves one from (common practice, no source)."""
    made = {
        1: swatch(48, -45, 25, Opacity.TRANSPARENT), 2: swatch(45, 58, 32, Opacity.TRANSPARENT),
        3: swatch(22, 0, 0, Opacity.TRANSPARENT), 4: swatch(50, -50, 10, Opacity.TRANSPARENT),
    }  # fmt: skip
    table = mix_pairs(made, PAPER, COATS)
    masstones = {key: alone(pencil, Pressure.HEAVY) for key, pencil in made.items()}
    green = alone(made[1], Pressure.MEDIUM)
    found = neutralisers(table, Layer(1, Pressure.MEDIUM), green, masstones)
    assert [n.over.pencil for n in found] == [2]
    assert float(chroma(found[0].lab)) == pytest.approx(found[0].chroma_left * float(chroma(green)))
    assert found[0].chroma_left < 0.6
    assert found[0].difference.delta_L < 1.0
    # A grey has no chroma to lose.
    assert neutralisers(table, Layer(3, Pressure.HEAVY), masstones[3], masstones) == ()


def test_what_is_out_of_reach_is_told_by_how_much_and_what_comes_nearest() -> None:
    blues = np.array([[60.0, 0, -30], [40, 5, -45], [30, 8, -40], [80, -2, -15], [45, 60, 30]])
    reach = reach_at(np.array([35.0, 5, -40]), blues)
    assert (reach.darkest, reach.lightest, reach.most_vivid) == (2, 0, 1)
    dark = shortfalls(np.array([15.0, 10, -40]), blues)
    assert [(s.beyond, s.nearest) for s in dark] == [(Beyond.DARKER, 2)]
    assert dark[0].by == pytest.approx(15.0)
    vivid = shortfalls(np.array([40.0, 8, -70]), blues)
    assert [(s.beyond, s.nearest) for s in vivid] == [(Beyond.MORE_VIVID, 1)]
    assert [s.beyond for s in shortfalls(np.array([95.0, 0, -20]), blues)] == [Beyond.LIGHTER]
    assert shortfalls(np.array([38.0, 5, -43]), blues) == ()
    # Nothing yellow is there: the nearest hue is said, and by how far it is turned.
    yellow = shortfalls(np.array([85.0, 0, 80]), blues)
    assert [(s.beyond, s.nearest) for s in yellow] == [(Beyond.OF_ANOTHER_HUE, 4)]
    assert yellow[0].by == pytest.approx(63.4, abs=0.1)
    # A dull green is of the hue, and less than half as vivid as what is asked for.
    greens = np.vstack([blues, [50.0, -20, 10]])
    assert [(s.beyond, s.nearest) for s in shortfalls(np.array([50.0, -60, 30]), greens)] == [(Beyond.MORE_VIVID, 5)]
    assert shortfalls(np.array([50.0, -60, 30]), np.zeros((0, 3))) == ()


def test_what_was_mixed_before_is_taken_over_and_gives_the_very_same_table(
    table: PairTable, pencils: dict[int, PencilModel]
) -> None:
    keys = list(pencils)
    now = {key: model for key, model in pencils.items() if key != keys[2]}
    now[keys[5]] = pencils[keys[11]]
    now[7] = pencils[keys[2]]
    done: list[int] = []
    kept = Kept(table, frozenset(keys) - {keys[5]})
    partly = mix_pairs(now, PAPER, COATS, lambda i, _: done.append(i), kept)
    anew = mix_pairs(now, PAPER, COATS)
    assert partly.keys == anew.keys
    for part in ("L", "a", "b", "lower", "upper", "coat"):
        np.testing.assert_array_equal(getattr(partly, part), getattr(anew, part))
    assert done == list(range(1, len(now) * len(COATS) + 1))
    # What is said to be the same is believed: nothing of it is mixed again.
    believed = mix_pairs(now, PAPER, COATS, kept=Kept(table, frozenset(keys)))
    assert not np.array_equal(believed.L, anew.L)
    with pytest.raises(OutOfRangeError):
        mix_pairs(now, PAPER, COATS[:2], kept=kept)
