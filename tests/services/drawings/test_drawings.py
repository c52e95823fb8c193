"""Drawings: paper, closest and tray follow the one at hand; copied, put away, removed, and every step undone."""

from __future__ import annotations

from dataclasses import replace

import pytest
from sqlalchemy import select
from tests.services.at_home import BUFF, HOT_PRESSED, VELLUM

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import set_closest, set_paper
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.drawings.store import (
    DrawingAs,
    begin_drawing,
    choose_drawing,
    copy_drawing,
    edit_drawing,
    put_away,
    remove_drawing,
)
from tidy_tinder.services.drawings.view import DrawingCard, drawing_cards
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.papers import remove_paper
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.tray import empty_tray, put_in_tray, tray
from tidy_tinder.storage.models import DrawingState, Recipe

PLATE = DrawingAs(
    "Plate one", BUFF, 210, 297, Closest.VALUE, True, Blacks.SPARINGLY, False, WorkOrder.DARK_FIRST, "for the hall"
)  # fmt: skip


def pulled(collection: Collection) -> list[int]:
    return sorted(card.colour.id for card in tray(collection, VELLUM).cards)


def card(collection: Collection, name: str) -> DrawingCard:
    return next(c for c in drawing_cards(collection) if c.said.name == name)


def test_paper_closest_and_tray_follow_the_drawing_at_hand(demo: Collection) -> None:
    choose_drawing(demo, None)
    set_paper(demo, VELLUM)
    empty_tray(demo)
    put_in_tray(demo, [5], into=True)
    plate, _ = begin_drawing(demo, PLATE)
    now = context(demo)
    assert now.drawing is not None
    assert (now.drawing.id, now.drawing.name, now.paper_id, now.closest) == (plate, "Plate one", BUFF, Closest.VALUE)
    assert pulled(demo) == []
    put_in_tray(demo, [7, 9], into=True)
    set_paper(demo, HOT_PRESSED)
    set_closest(demo, "hue")
    assert pulled(demo) == [7, 9]
    choose_drawing(demo, None)
    # Without a drawing the paper and closest stay as they are; the tray is that of none.
    assert (context(demo).paper_id, context(demo).closest, context(demo).drawing) == (HOT_PRESSED, Closest.HUE, None)
    assert pulled(demo) == [5]
    set_paper(demo, VELLUM)
    choose_drawing(demo, plate)
    assert (context(demo).paper_id, context(demo).closest) == (HOT_PRESSED, Closest.HUE)
    assert pulled(demo) == [7, 9]


def test_a_drawing_is_described_anew_and_two_windows_are_told_apart(demo: Collection) -> None:
    plate, _ = begin_drawing(demo, PLATE)
    wanted = replace(PLATE, name="  Plate   two ", black=Blacks.NONE, solvent=True)
    assert edit_drawing(demo, plate, 1, wanted) is not None
    found = card(demo, "Plate two")
    assert found.said == replace(wanted, name="Plate two")
    assert edit_drawing(demo, plate, found.revision, found.said) is None
    with pytest.raises(ChangedMeanwhileError):
        edit_drawing(demo, plate, 1, replace(wanted, name="Plate three"))


def test_recipes_taken_in_belong_to_the_drawing_at_hand(demo: Collection) -> None:
    plate, _ = begin_drawing(demo, PLATE)
    recipe, _ = save_recipe(demo, "Cap\n- Heron 119")
    assert [r.id for r in card(demo, "Plate one").recipes] == [recipe]
    change = remove_drawing(demo, plate)
    with demo() as session:
        assert session.get_one(Recipe, recipe).drawing_id is None
    undo(demo, change.change_id)
    assert [r.id for r in card(demo, "Plate one").recipes] == [recipe]


def test_a_removed_drawing_comes_back_with_its_tray_and_is_at_hand_again(demo: Collection) -> None:
    plate, _ = begin_drawing(demo, PLATE)
    put_in_tray(demo, [7, 9], into=True)
    change = remove_drawing(demo, plate)
    assert context(demo).drawing is None
    assert context(demo).paper_id == BUFF
    undo(demo, change.change_id)
    assert context(demo).drawing is not None
    assert pulled(demo) == [7, 9]


def test_a_copy_has_what_is_said_and_the_tray(demo: Collection) -> None:
    plate, _ = begin_drawing(demo, PLATE)
    put_in_tray(demo, [7, 9], into=True)
    save_recipe(demo, "Cap\n- Heron 119")
    second, _ = copy_drawing(demo, plate)
    third, _ = copy_drawing(demo, plate)
    copy = card(demo, "Plate one, 2")
    assert (copy.id, copy.said.notes, copy.tray, copy.recipes, copy.at_hand) == (second, "for the hall", 2, (), False)
    assert card(demo, "Plate one, 3").id == third


def test_what_is_put_away_is_last_and_is_not_worked_on(demo: Collection) -> None:
    plate, _ = begin_drawing(demo, PLATE)
    begin_drawing(demo, replace(PLATE, name="Plate two"))
    choose_drawing(demo, plate)
    put_away(demo, plate, away=True)
    assert context(demo).drawing is None
    assert drawing_cards(demo)[-1].said.name == "Plate one"
    assert card(demo, "Plate one").state is DrawingState.ARCHIVED
    with pytest.raises(RefusedError, match="put away"):
        choose_drawing(demo, plate)
    put_away(demo, plate, away=False)
    assert choose_drawing(demo, plate) is not None


def test_a_paper_that_is_drawn_on_stays(demo: Collection) -> None:
    begin_drawing(demo, PLATE)
    with pytest.raises(RefusedError, match="1 drawing"):
        remove_paper(demo, BUFF)


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        (replace(PLATE, name="   "), "needs a name"),
        (replace(PLATE, name="x" * 81), "at most 80 letters"),
        (replace(PLATE, width_mm=20), "40 to 1500 mm wide"),
        (replace(PLATE, height_mm=2000), "40 to 1500 mm high"),
        (replace(PLATE, name="First"), "called First already"),
    ],
)
def test_what_cannot_be_a_drawing_is_refused(demo: Collection, wanted: DrawingAs, said: str) -> None:
    begin_drawing(demo, replace(PLATE, name="First"))
    with pytest.raises(RefusedError, match=said):
        begin_drawing(demo, wanted)
    with pytest.raises(NotFoundError, match="no paper number"):
        begin_drawing(demo, replace(PLATE, paper_id=999))
    with pytest.raises(NotFoundError, match="no drawing number"):
        choose_drawing(demo, 999)
    with demo() as session:
        assert session.scalars(select(Recipe.id).where(Recipe.drawing_id.is_(None))).first() is not None
