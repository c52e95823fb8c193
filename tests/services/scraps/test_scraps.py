"""Layers tried on a scrap: begun, read, judged, remembered, undone; what was read teaches the pencils."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import pytest
from tests.services.at_home import BUFF, HOT_PRESSED, VELLUM, colour_id

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layers import Layer, turned
from tidy_tinder.core.vocabulary import Finish, Pressure, Verdict
from tidy_tinder.devices.errors import NotConnectedError
from tidy_tinder.services.background.inputs import inputs_of
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.services.collection.patches import LabTriple, Trust
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.layering.table import lay_out
from tidy_tinder.services.papers import remove_paper
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.scraps.reading import read_strip, type_strip
from tidy_tinder.services.scraps.store import VERDICTS, NewScrap, begin_scrap, judge_scrap, remove_scrap
from tidy_tinder.services.scraps.view import open_scrap, scraps_on
from tidy_tinder.services.standins.in_passage import layered_for_colour
from tidy_tinder.services.swatches.one_by_one import history_of
from tidy_tinder.services.tidy.charts import remove_colour
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.queries.colours import pencils_by_colour


@pytest.fixture
def link() -> Iterator[ReaderLink]:
    link = ReaderLink()
    yield link
    link.close()


def layers(collection: Collection) -> tuple[Layer[int], ...]:
    """A pink under a blue: what they give differs by their order."""
    return (
        Layer(colour_id(collection, "Heron", "125"), Pressure.MEDIUM),
        Layer(colour_id(collection, "Tallow", "M35"), Pressure.HEAVY, 2),
    )


def begun(collection: Collection, paper: int = VELLUM, finish: Finish = Finish.DRY, wanted: str = "112") -> int:
    new = NewScrap(paper, layers(collection), finish, colour_id(collection, "Heron", wanted), Pressure.HEAVY, 1)
    return begin_scrap(collection, new)[0]


def seen(collection: Collection, scrap: int, kind: str) -> tuple[LabTriple, Trust, float | None]:
    found = next(field.seen for field in open_scrap(collection, scrap).fields if field.kind == kind)
    assert found is not None
    return found.patch.lab, found.trust, found.band


def test_a_strip_has_each_pencil_alone_and_both_orders(demo: Collection) -> None:
    scrap = open_scrap(demo, begun(demo))
    assert [field.kind for field in scrap.fields] == ["alone", "alone", "laid", "turned"]
    assert [field.said for field in scrap.fields] == [
        "one medium layer of Heron 125",
        "two heavy layers of Tallow M35",
        "one medium layer of Heron 125, then two heavy layers of Tallow M35 over it",
        "two heavy layers of Tallow M35, then one medium layer of Heron 125 over it",
    ]
    trusts = [field.seen.trust if field.seen else None for field in scrap.fields]
    assert trusts == [Trust.MEASURED, Trust.PREDICTED, Trust.PREDICTED, Trust.PREDICTED]
    assert scrap.wanted is not None
    assert scrap.wanted.colour.code == "112"
    assert scrap.apart is not None
    assert (scrap.verdict, scrap.note) == ((), "")
    single = begin_scrap(demo, NewScrap(VELLUM, layers(demo)[:1]))[0]
    assert [field.kind for field in open_scrap(demo, single).fields] == ["laid"]


def test_a_verdict_is_kept_and_shown_where_the_layers_are_offered_again(demo: Collection) -> None:
    number = begun(demo)
    change = judge_scrap(demo, number, 1, [Verdict.TOO_WARM, Verdict.TOO_LIGHT], " a hair ")
    assert change is not None
    assert (open_scrap(demo, number).verdict, open_scrap(demo, number).note) == (("too light", "too warm"), "a hair")
    assert judge_scrap(demo, number, 2, [Verdict.TOO_LIGHT, Verdict.TOO_WARM], "a hair") is None
    with pytest.raises(ChangedMeanwhileError):
        judge_scrap(demo, number, 1, [Verdict.GOOD], "")
    card = scraps_on(demo, VELLUM)[0]
    assert (card.id, card.verdict, card.measured) == (number, ("too light", "too warm"), None)
    assert scraps_on(demo, BUFF) == ()
    undo(demo, change.change_id)
    assert open_scrap(demo, number).verdict == ()


@pytest.mark.parametrize(
    ("verdict", "says"),
    [
        (["good", "too warm"], "either good or too warm"),
        (["too light", "too dark"], "either too light or too dark"),
        (["splendid"], "no verdict"),
    ],
)
def test_a_verdict_that_contradicts_itself_is_refused(demo: Collection, verdict: list[Verdict], says: str) -> None:
    number = begun(demo)
    with pytest.raises(RefusedError, match=says):
        judge_scrap(demo, number, 1, verdict, "")
    assert open_scrap(demo, number).verdict == ()
    assert all(judge_scrap(demo, number, i + 1, [group[0]], "") for i, group in enumerate(VERDICTS))


def test_the_reader_reads_both_orders_and_the_pencils_learn(demo: Collection, link: ReaderLink) -> None:
    number = begun(demo)
    with pytest.raises(NotConnectedError):
        read_strip(demo, link, number, False)
    link.start_simulated()
    link.calibrate()
    expected = {kind: seen(demo, number, kind) for kind in ("laid", "turned")}
    before = Surveys().now(demo)
    for is_turned in (False, True):
        assert read_strip(demo, link, number, is_turned).doubt == ""
    after = Surveys().now(demo)
    laid = {kind: seen(demo, number, kind) for kind in ("laid", "turned")}
    assert all(trust is Trust.MEASURED and band is None for _, trust, band in laid.values())
    # The truth of both orders differs, and each is near what was expected of it rather than of the other.
    for kind, other in (("laid", "turned"), ("turned", "laid")):
        own = delta_e_2000(np.array(laid[kind][0]), np.array(expected[kind][0]))
        assert own < delta_e_2000(np.array(laid[kind][0]), np.array(expected[other][0]))
    changed = {
        key
        for key, fit in after.survey.pencils.items()
        if not np.array_equal(fit.unknowns, before.survey.pencils[key].unknowns)
    }
    assert changed == {one.pencil for one in layers(demo)}
    # The layering table shows what was measured, too.
    orders = lay_out(demo, VELLUM, turned(layers(demo))).orders
    assert [order.result.patch.lab for order in orders] == [laid["turned"][0], laid["laid"][0]]
    assert lay_out(demo, VELLUM, layers(demo)).plus_minus is None
    # A second reading takes the place of the first.
    read_strip(demo, link, number, False)
    assert len(scraps_on(demo, VELLUM)) == 1
    assert scraps_on(demo, VELLUM)[0].measured is not None


def test_a_value_far_from_what_is_expected_is_asked_about_first(demo: Collection) -> None:
    number = begun(demo)
    read = type_strip(demo, number, False, (95.0, 0.0, 60.0))
    assert "is expected here" in read.doubt
    assert read.change is None
    assert seen(demo, number, "laid")[1] is Trust.PREDICTED
    kept = type_strip(demo, number, False, (95.0, 0.0, 60.0), keep=True)
    assert kept.doubt == ""
    assert seen(demo, number, "laid")[0] == (95.0, 0.0, 60.0)
    with pytest.raises(OutOfRangeError):
        type_strip(demo, number, False, (120.0, 0.0, 0.0))
    # The same value again is no less strange for having been kept once.
    assert type_strip(demo, number, False, (95.0, 0.0, 60.0)).doubt != ""


def test_one_pencil_by_itself_is_read_as_a_swatch_of_it(demo: Collection) -> None:
    one = Layer(colour_id(demo, "Heron", "125"), Pressure.LIGHT, 3)
    number = begin_scrap(demo, NewScrap(VELLUM, (one,)))[0]
    told, trust, _ = seen(demo, number, "laid")
    assert trust is Trust.PREDICTED
    type_strip(demo, number, False, told)
    assert seen(demo, number, "laid")[1] is Trust.MEASURED
    with demo() as session:
        past = history_of(session, one.pencil)
    assert [(p.row.pressure, p.row.layers, p.row.note) for p in past if p.row.layers == 3] == [
        ("light", 3, f"from scrap {number}")
    ]
    # A swatch is the pencil's: it stays when the scrap goes.
    remove_scrap(demo, number)
    assert lay_out(demo, VELLUM, [one]).orders[0].result.trust is Trust.MEASURED


def test_solvent_and_other_papers_are_kept_apart(demo: Collection) -> None:
    wet, dry = begun(demo, finish=Finish.SOLVENT), begun(demo)
    type_strip(demo, wet, False, (40.0, 10.0, -10.0), keep=True)
    assert seen(demo, wet, "laid")[1] is Trust.MEASURED
    assert seen(demo, dry, "laid")[1] is Trust.PREDICTED
    assert lay_out(demo, VELLUM, layers(demo), solvent=True).orders[0].result.trust is Trust.MEASURED
    assert lay_out(demo, HOT_PRESSED, layers(demo), solvent=True).orders[0].result.trust is Trust.PREDICTED


def test_what_was_tried_stays_in_sight_for_its_colour_on_its_paper(demo: Collection) -> None:
    with demo() as session:
        owned = sorted(pencils_by_colour(session))
    keep = {one.pencil for one in layers(demo)}
    mark_owned(demo, [i for at, i in enumerate(owned) if at % 12 and i not in keep], False)
    wanted = colour_id(demo, "Heron", "112")
    number = begun(demo)
    judge_scrap(demo, number, 1, [Verdict.TOO_DARK], "over a wide field")
    type_strip(demo, number, False, seen(demo, number, "laid")[0])
    found = layered_for_colour(demo, Layer(wanted, Pressure.HEAVY), VELLUM, Closest.OVERALL)
    mine = next(o for o in found.offers if o.tried is not None)
    assert tuple(Layer(one.pencil.colour.id, one.pressure, one.layers) for one in mine.laid) == layers(demo)
    assert mine.tried is not None
    assert (mine.tried.scrap_id, mine.tried.verdict, mine.tried.note) == (number, ("too dark",), "over a wide field")
    assert mine.measured is not None
    apart = open_scrap(demo, number).apart
    assert apart is not None
    assert mine.measured.difference.delta_e == pytest.approx(apart.delta_e)
    other = layered_for_colour(demo, Layer(wanted, Pressure.HEAVY), BUFF, Closest.OVERALL)
    assert all(o.tried is None for o in other.offers)


def test_a_scrap_is_removed_whole_and_comes_back(demo: Collection) -> None:
    number = begun(demo)
    type_strip(demo, number, True, seen(demo, number, "turned")[0])
    judge_scrap(demo, number, 1, [Verdict.GOOD], "")
    before = open_scrap(demo, number)
    change = remove_scrap(demo, number)
    with pytest.raises(NotFoundError):
        open_scrap(demo, number)
    undo(demo, change.change_id)
    after = open_scrap(demo, number)
    assert (after.verdict, after.fields) == (before.verdict, before.fields)


def test_what_a_scrap_rests_on_stays(empty: Collection, demo: Collection) -> None:
    number = begun(demo, paper=BUFF)
    with pytest.raises(RefusedError, match="1 scrap"):
        remove_paper(demo, BUFF)
    with pytest.raises(RefusedError):
        remove_colour(demo, layers(demo)[0].pencil)
    assert open_scrap(demo, number).paper_id == BUFF
    with pytest.raises(NotFoundError):
        open_scrap(empty, 1)
    with pytest.raises(NotFoundError):
        begin_scrap(empty, NewScrap(1, (Layer(77, Pressure.LIGHT),)))


@pytest.mark.parametrize(
    ("bad", "says"),
    [
        ([], "One to 3 pencils"),
        ([("light", 1)] * 4, "One to 3 pencils"),
        ([("brutal", 1)], "no pressure"),
        ([("light", 13)], "1 to 12 layers"),
        ([("burnish", 1), ("light", 1)], "comes last"),
    ],
)
def test_layers_that_cannot_be_laid_are_refused(demo: Collection, bad: list[tuple[Pressure, int]], says: str) -> None:
    one = layers(demo)[0].pencil
    laid = tuple(Layer(one + i, pressure, count) for i, (pressure, count) in enumerate(bad))
    with pytest.raises(RefusedError, match=says):
        begin_scrap(demo, NewScrap(VELLUM, laid))
    with pytest.raises(RefusedError, match=says):
        lay_out(demo, VELLUM, laid)
    assert scraps_on(demo, VELLUM) == ()


def test_a_strip_dissolved_by_solvent_is_learned_from_as_dissolved(demo: Collection) -> None:
    numbers = {finish: begun(demo, finish=finish) for finish in (Finish.DRY, Finish.SOLVENT)}
    for finish, number in numbers.items():
        expected = seen(demo, number, "laid")[0]
        assert type_strip(demo, number, False, expected).doubt == "", finish
    with demo() as session:
        strips = inputs_of(session).strips
    assert sorted(strip.solvent for strip in strips) == [False, True]
    dissolved = next(strip for strip in strips if strip.solvent)
    assert dissolved.lab == pytest.approx(seen(demo, numbers[Finish.SOLVENT], "laid")[0])
    assert dissolved.layers == layers(demo)
