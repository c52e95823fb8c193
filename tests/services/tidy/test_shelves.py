"""The shelves through their services: order, ticking, sets, a colour's page."""

from __future__ import annotations

import contextlib
import threading
from dataclasses import replace

import pytest
from sqlalchemy import select
from tests.services.at_home import PRINT, VELLUM, card, colour_id, owned, pencils, shelf, stick

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import AtHand, Owning
from tidy_tinder.services.collection.cards import deal_cards
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.journal import undo
from tidy_tinder.services.tidy.colour_page import colour_page
from tidy_tinder.services.tidy.ownership import mark_owned, own_set, read_pasted, tick
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.storage.models import BoxedSet, Colour, ColourRange
from tidy_tinder.storage.queries.colours import PencilRow


@pytest.mark.parametrize(
    ("pencils", "expected"),
    [
        ([], Owning.NOT_OWNED),
        ([stick()], Owning.OWNED),
        ([stick(None)], Owning.OWNED),
        ([stick(49)], Owning.STUB),
        ([stick(50)], Owning.OWNED),
        ([stick(), stick(state=PencilState.SPARE)], Owning.SPARE),
        ([stick(30), stick(state=PencilState.SPARE)], Owning.STUB),
        ([stick(30), stick(150)], Owning.SPARE),
        ([stick(state=PencilState.LOST)], Owning.LOST),
        ([stick(state=PencilState.LOST), stick()], Owning.OWNED),
        ([stick(state=PencilState.USED_UP)], Owning.NOT_OWNED),
    ],
)
def test_the_barrel_shows_the_first_state_that_holds(pencils: list[PencilRow], expected: Owning) -> None:
    assert AtHand().owning(pencils) is expected
    assert AtHand().has(pencils) == any(p.state in ("in_use", "spare") for p in pencils)


def test_shelves_stand_in_chart_order(demo: Collection) -> None:
    heron = shelf(demo, "Heron")
    assert [card(demo, c.colour_id).colour.code for c in heron.colours[:5]] == ["101", "102", "103", "215", "104"]
    assert (heron.owned, len(heron.colours)) == (69, 120)
    assert [s.name for s in shelves(demo, VELLUM)[1]] == ["Heron", "Wader", "Tallow", "Steadfast", "Scholar"]


def test_a_mark_is_measured_on_its_paper_and_predicted_elsewhere(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    by_paper = {paper: card(demo, fly_cap, paper).mark for paper in (VELLUM, PRINT)}
    assert by_paper[VELLUM].trust is Trust.MEASURED
    assert [z.pressure for z in by_paper[VELLUM].zones] == ["heavy", "medium", "light"]
    assert by_paper[VELLUM].zones[0].lab[0] < by_paper[VELLUM].zones[2].lab[0]
    assert by_paper[PRINT].trust is Trust.PREDICTED
    assert [z.pressure for z in by_paper[PRINT].zones] == ["heavy", "medium", "light"]
    assert all(zone.band is not None and 0.5 < zone.band < 12 for zone in by_paper[PRINT].zones)
    assert all(zone.band is None for zone in by_paper[VELLUM].zones)


def test_an_effect_is_not_modelled_and_stays_a_chart_value(demo: Collection) -> None:
    tuba = card(demo, colour_id(demo, "Scholar", "47"), PRINT)
    assert tuba.colour.effect == "metallic"
    assert tuba.mark.trust is Trust.CHART
    assert [z.pressure for z in tuba.mark.zones] == ["heavy"]
    assert tuba.mark.ground == "#ffffff"


def test_a_colour_without_any_value_has_no_mark(empty: Collection) -> None:
    import_catalogue(empty, b"range,code,name\nL,1,One\n")
    cards, shelved = shelves(empty, 1)
    colour = cards.by_id[shelved[0].colours[0].colour_id]
    assert (colour.mark.trust, colour.mark.zones, colour.order) == (Trust.NONE, (), None)
    page = colour_page(empty, colour.colour.id, 1, Closest.OVERALL)
    assert page.patch is None
    assert page.value is None


def test_ticking_follows_the_charts_order_and_names_what_is_not_there(demo: Collection) -> None:
    range_id = shelf(demo, "Wader").range_id
    done = tick(demo, range_id, "101-104, 119, 999")
    assert owned(demo, "Wader") == {"101", "102", "104", "119"}
    assert (done.newly, done.already, done.unknown) == (4, 0, ("999",))
    again = tick(demo, range_id, "101, 107")
    assert (again.newly, again.already) == (1, 1)


def test_ticking_is_one_undo_and_reads_its_own_words(demo: Collection) -> None:
    done = tick(demo, shelf(demo, "Wader").range_id, "101-118")
    assert done.changed is not None
    assert "Wader 101-118 owned" in done.changed.label
    undo(demo, done.changed.change_id)
    assert owned(demo, "Wader") == set()


def test_ticking_nothing_that_is_there_changes_nothing(demo: Collection) -> None:
    done = tick(demo, shelf(demo, "Wader").range_id, "999, nonsense")
    assert done.changed is None
    assert done.unknown == ("999", "nonsense")


def test_unticking_takes_the_pencils_away_and_undo_brings_back_their_places(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    before = colour_page(demo, fly_cap, VELLUM, Closest.OVERALL).pencils
    done = mark_owned(demo, [fly_cap], False)
    assert done is not None
    assert done.label == "Fly Cap not owned"
    assert "119" not in owned(demo, "Heron")
    undo(demo, done.change_id)
    after = colour_page(demo, fly_cap, VELLUM, Closest.OVERALL).pencils
    assert [replace(p, revision=0) for p, _ in after] == [replace(p, revision=0) for p, _ in before]
    assert before[0][0].tin == "tin 2"


def test_owning_what_is_owned_changes_nothing(demo: Collection) -> None:
    assert mark_owned(demo, [colour_id(demo, "Heron", "119")], True) is None


def test_a_pasted_list_is_read_and_owned_as_often_as_it_says(demo: Collection) -> None:
    lines = read_pasted(demo, "Wader\n101-102\n2x 104\nBraken")
    assert [(line.text, len(line.keys), line.count) for line in lines[:2]] == [("101-102", 2, 1), ("2x 104", 1, 2)]
    assert {card(demo, i).colour.name for i in lines[2].keys} == {"Bracken"}
    ids = [i for line in lines[:2] for i in line.keys * line.count]
    done = mark_owned(demo, ids, True)
    assert done is not None
    assert owned(demo, "Wader") == {"101", "102", "104"}
    assert [p.state for p in pencils(demo, colour_id(demo, "Wader", "104"))] == ["in_use", "spare"]
    assert mark_owned(demo, ids, True) is None
    undo(demo, done.change_id)
    assert owned(demo, "Wader") == set()


def test_a_whole_set_is_owned_at_once(demo: Collection) -> None:
    with demo() as session:
        wader = session.scalars(select(BoxedSet).where(BoxedSet.name == "Wader 36")).one().id
    done = own_set(demo, wader)
    assert done is not None
    assert len(owned(demo, "Wader")) == 36
    assert own_set(demo, wader) is None
    sets = {s.name: (s.owned, s.colours) for s in shelf(demo, "Wader").sets}
    assert sets["Wader 36"] == (36, 36)


def test_a_colours_page_knows_its_papers_nearest_and_recipes(demo: Collection) -> None:
    page = colour_page(demo, colour_id(demo, "Heron", "119"), VELLUM, Closest.OVERALL)
    measured = [p.paper_name for p in page.papers if p.mark.trust is Trust.MEASURED]
    assert "Vellum board" in measured
    assert page.nearest.best is not None
    assert page.nearest.best.colour.id != page.colour.id
    assert [(c.title, c.steps) for c in page.called_by] == [("Scarlet cap with pale warts", (3,))]
    assert page.value == pytest.approx(4.0, abs=1.5)


def test_the_sister_range_is_kept_apart_but_named(demo: Collection) -> None:
    page = colour_page(demo, colour_id(demo, "Heron", "119"), VELLUM, Closest.OVERALL)
    assert page.sister_ids == (colour_id(demo, "Wader", "119"),)


def test_what_is_not_there_is_said_to_be_so(demo: Collection) -> None:
    for call in (
        lambda: colour_page(demo, 9999, VELLUM, Closest.OVERALL),
        lambda: shelves(demo, 99),
        lambda: tick(demo, 99, "101"),
        lambda: own_set(demo, 99),
        lambda: mark_owned(demo, [1, 9999], True),
    ):
        with pytest.raises(NotFoundError):
            call()


def test_a_range_and_a_code_are_the_key_of_a_colour(demo: Collection) -> None:
    with demo() as session:
        query = select(ColourRange.name, Colour.name).join(Colour, Colour.range_id == ColourRange.id)
        same = session.execute(query.where(Colour.code == "119")).all()
    assert {tuple(row) for row in same} == {("Heron", "Fly Cap"), ("Wader", "Fly Cap")}


def test_what_two_ask_for_at_once_is_computed_once(demo: Collection) -> None:
    from tidy_tinder.services.background.runtime import for_version

    asked: list[int] = []
    both_ask, both_compute = threading.Barrier(2), threading.Barrier(2)

    def compute() -> str:
        asked.append(1)
        # If the other computed too, they would meet here.
        with contextlib.suppress(threading.BrokenBarrierError):
            both_compute.wait(0.4)
        return "done"

    def ask() -> None:
        with demo() as session:
            both_ask.wait(5)
            found.append(for_version(session, "two at once", ("colour",), compute))

    found: list[str] = []
    threads = [threading.Thread(target=ask) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(10)
    assert (found, len(asked)) == (["done", "done"], 1)


def test_laid_out_shelves_are_those_that_are_shown(demo: Collection) -> None:
    deal_cards(demo)
    assert len(shelves(demo, VELLUM)[0].by_id) == 400
