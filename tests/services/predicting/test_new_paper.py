"""A new paper: what to swatch first, how sure the rest is, when it is enough; and why a mark is thought to be so."""

from __future__ import annotations

import pytest
from tests.services.at_home import BUFF, PRINT, VELLUM, card, colour_id

from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.predictions import WELL_WITHIN
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.predicting.first_swatches import ENOUGH_SHARE, first_swatches, sureness_of
from tidy_tinder.services.predicting.why import why
from tidy_tinder.services.swatches.board import board
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.services.tidy.shelves import shelves

BLACK = 6


def true_lab(key: str, paper: str, pressure: Pressure) -> tuple[float, float, float]:
    L, a, b = reflectance_to_lab(demo_world().reflectance(paper, ((key, pressure),)))
    return float(L), float(a), float(b)


def swatch_first(collection: Collection, count: int) -> None:
    """Swatch the advised pencils on the print paper, as a reader would see them."""
    for one in first_swatches(collection, PRINT).advised[:count]:
        key = f"{one.colour.range_name} {one.colour.code}"
        for pressure in MARK_PRESSURES:
            seen = true_lab(key, "Cotton print paper", pressure)
            type_swatch(collection, NewTyped(one.colour.id, PRINT, pressure, seen))


def test_the_advice_spreads_over_colour_and_cover_and_says_why(demo: Collection) -> None:
    first = first_swatches(demo, PRINT)
    assert len(first.advised) == 8
    assert {one.colour.opacity for one in first.advised[:4]} == {"transparent", "semi", "opaque"}
    assert all(one.why and not one.done for one in first.advised)
    assert all(one.colour.effect == "ordinary" for one in first.advised)
    cards = shelves(demo, PRINT)[0].by_id
    swatched = {i for i, of in cards.items() if of.mark.rests_on.value == "its swatches"}
    assert {one.colour.id for one in first.advised} <= swatched
    assert len(first_swatches(demo, PRINT, 12).advised) == 12
    with pytest.raises(RefusedError, match="4 to 12"):
        first_swatches(demo, PRINT, 3)
    with pytest.raises(NotFoundError):
        first_swatches(demo, 99)


def test_four_swatched_pencils_narrow_the_bands_of_all_others_and_are_enough(demo: Collection) -> None:
    guess = sureness_of(demo, PRINT)
    assert (guess.measured, guess.unknown, guess.anchors, guess.enough) == (0, 0, 0, False)
    assert sum(guess.within) == guess.marks
    swatch_first(demo, 4)
    now = sureness_of(demo, PRINT)
    assert (now.measured, now.anchors) == (12, 12)
    assert guess.median_band is not None
    assert now.median_band is not None
    assert now.median_band < 0.6 * guess.median_band
    assert now.good_share >= ENOUGH_SHARE
    assert now.enough
    first = first_swatches(demo, PRINT)
    # The list stays the same while it is worked off.
    assert [one.done for one in first.advised] == [True] * 4 + [False] * 4


def test_predictions_after_four_are_near_what_is_really_there(demo: Collection) -> None:
    swatch_first(demo, 4)
    within = []
    for code in ("105", "117", "125", "132", "151", "161", "186", "204"):
        of = card(demo, colour_id(demo, "Heron", code), PRINT).mark
        for zone in of.zones:
            true = true_lab(f"Heron {code}", "Cotton print paper", zone.pressure)
            if zone.trust.value == "predicted":
                apart = sum((x - y) ** 2 for x, y in zip(zone.lab, true, strict=True)) ** 0.5
                within.append(apart < 8)
    assert len(within) >= 15
    assert sum(within) >= 0.9 * len(within)


def test_a_dark_ground_is_told_by_swatches_over_black(demo: Collection) -> None:
    bar = first_swatches(demo, BLACK).over_black
    assert bar is not None
    assert bar.home_name == "Vellum board"
    assert bar.band_then < 0.8 * bar.band_now
    assert first_swatches(demo, PRINT).over_black is None


def test_on_black_those_are_advised_that_show_there(demo: Collection) -> None:
    """Dark and transparent pencils all look like the paper: swatches of them tell nothing of it."""
    dark, light = first_swatches(demo, BLACK).advised, first_swatches(demo, PRINT).advised
    cards = shelves(demo, BLACK)[0].by_id

    def shows(colour_id: int) -> float:
        return max(zone.lab[0] for zone in cards[colour_id].mark.zones)

    usual = sorted(shows(i) for i, of in cards.items() if of.mark.zones and of.mark.rests_on.value == "its swatches")
    median = usual[len(usual) // 2]
    on_black, on_white = (sum(shows(one.colour.id) > median for one in advised) for advised in (dark, light))
    assert on_black >= 5
    assert on_black > on_white
    before = [one.colour.id for one in dark]
    for one in dark[:3]:
        key = f"{one.colour.range_name} {one.colour.code}"
        for pressure in MARK_PRESSURES:
            type_swatch(demo, NewTyped(one.colour.id, BLACK, pressure, true_lab(key, "Black paper", pressure)))
    now = first_swatches(demo, BLACK).advised
    assert set(before[:3]) <= {one.colour.id for one in now if one.done}
    assert len({one.colour.id for one in now} & set(before)) >= 6


def test_an_empty_collection_has_no_advice_and_is_unknown(empty: Collection) -> None:
    first = first_swatches(empty, 1)
    assert (first.advised, first.over_black, first.sureness.marks, first.sureness.enough) == ((), None, 0, False)


def test_the_board_counts_what_is_predicted_well_and_poorly(demo: Collection) -> None:
    found = {row.name: row for row in board(demo).rows}
    for row in found.values():
        for cell in row.cells:
            for measured, well, poorly in zip(cell.measured, cell.well, cell.poorly, strict=True):
                assert measured + well + poorly <= cell.owned
    print_paper, buff = found["Cotton print paper"].cells[0], found["Buff sanded card"].cells[0]
    assert sum(print_paper.measured) == 0
    assert sum(print_paper.well) + sum(print_paper.poorly) > 190
    assert sum(buff.poorly) < sum(print_paper.poorly)
    assert WELL_WITHIN == 3.5


def test_why_tells_from_what_and_what_would_make_it_surer(demo: Collection) -> None:
    oxlip = colour_id(demo, "Heron", "101")
    told = why(demo, oxlip, BLACK, Pressure.HEAVY)
    assert [one.words.split(",")[0] for one in told.rests_on] == [
        "heavy on Vellum board", "medium on Vellum board", "light on Vellum board",
    ]  # fmt: skip
    assert (told.by_chart, told.guess, told.home_name, told.anchors) == (False, True, "Vellum board", 0)
    shown = card(demo, oxlip, BLACK).mark.zones[0]
    assert told.explanation.band == pytest.approx(shown.band, abs=0.02)
    assert told.looks.lab == pytest.approx(shown.lab)
    words = [way.words for way in told.surer]
    assert words[0] == "swatch it heavy over a black bar on Vellum board"
    assert [way.band for way in told.surer] == sorted(way.band for way in told.surer)
    assert all(way.band < told.explanation.band for way in told.surer)
    on_buff = why(demo, oxlip, BUFF, Pressure.MEDIUM)
    assert (on_buff.guess, on_buff.anchors > 100) == (False, True)


def test_why_of_a_chart_value_names_how_charts_are_read(demo: Collection) -> None:
    cards = shelves(demo, BUFF)[0].by_id
    charted = next(i for i, of in cards.items() if of.mark.rests_on.value == "its chart value")
    told = why(demo, charted, BUFF, Pressure.HEAVY)
    assert told.by_chart
    assert told.charts_from > 100
    assert told.rests_on == ()
    assert any("swatch it heavy on Vellum board" in way.words for way in told.surer)


def test_only_what_is_predicted_has_a_why(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    with pytest.raises(RefusedError, match="is measured"):
        why(demo, fly_cap, VELLUM, Pressure.HEAVY)
    with pytest.raises(RefusedError, match="is not predicted"):
        why(demo, colour_id(demo, "Tallow", "M94"), BUFF, Pressure.HEAVY)
    with pytest.raises(RefusedError, match="A pressure is"):
        why(demo, fly_cap, PRINT, "hard")  # type: ignore[arg-type] # a word that is none
    with pytest.raises(NotFoundError):
        why(demo, 99999, PRINT, Pressure.HEAVY)
