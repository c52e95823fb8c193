"""Recipes through their services: kept, answered, settled, chosen for; and stand-ins like with like."""

from __future__ import annotations

from importlib import resources

import pytest
from sqlalchemy import select
from tests.services.at_home import BUFF, PRINT, VELLUM, call, calls

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.standins.singles import Basis, Unranked
from tidy_tinder.core.vocabulary import PencilState, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.recipes.choices import choose_standin, clear_choice
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.text import preview_recipe, remove_recipe, save_recipe
from tidy_tinder.services.recipes.view import Answer, open_recipe, recipe_cards
from tidy_tinder.services.standins.mark_beside_mark import standins_for_call, standins_for_text
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Choice, Colour, Pencil


def test_the_demos_recipes_are_read_without_anything_left_to_settle(demo: Collection) -> None:
    cards = recipe_cards(demo, VELLUM)
    assert len(cards) == 7
    assert all(card.unsettled == 0 for card in cards)
    assert all(card.open >= 1 for card in cards)
    assert all(card.owned + card.stand_ins + card.open == card.calls for card in cards)


def test_a_call_is_owned_or_open(demo: Collection) -> None:
    answers = {c.colour.code: c.answer for c in calls(demo, 1) if c.colour}
    assert answers["119"] is Answer.OWNED
    assert answers["126"] is Answer.OPEN
    assert [s.number for s in open_recipe(demo, 1, VELLUM, Closest.OVERALL).steps] == [
        None, None, 1, 2, 3, 4, 5, 6, None, 7, 8,
    ]  # fmt: skip


def test_a_lost_pencil_is_not_at_hand(demo: Collection) -> None:
    fly_cap = call(demo, "119")
    assert fly_cap.colour is not None
    with writing(demo, "Both are lost") as session:
        for pencil in session.scalars(select(Pencil).where(Pencil.colour_id == fly_cap.colour.id)):
            pencil.state = PencilState.LOST
    assert call(demo, "119").answer is Answer.OPEN
    assert call(demo, "119").owning.value == "lost"


def test_standins_are_compared_at_the_calls_pressure_on_the_paper(demo: Collection) -> None:
    ranked = standins_for_call(demo, call(demo, "126").id, VELLUM, Closest.OVERALL, limit=40)
    assert (ranked.pressure, ranked.layers, ranked.paper_name) == ("medium", 1, "Vellum board")
    figures = [offer.expected for offer in ranked.on_paper]
    assert figures == sorted(figures)
    # Most of hers are measured there at medium; what is predicted says how far it may be off.
    assert {offer.basis for offer in ranked.on_paper} == {Basis.PAPER, Basis.PREDICTED}
    assert all((o.plus_minus is None) == (o.basis is Basis.PAPER) for o in ranked.on_paper)
    assert not {o.colour.id for o in ranked.on_paper} & {o.colour.id for o in ranked.by_chart}


def test_a_paper_without_swatches_is_answered_by_predictions_with_their_bands_and_ties(demo: Collection) -> None:
    with demo() as session:
        effects = session.scalars(select(Colour.id).where(Colour.effect != "ordinary")).all()
    mark_owned(demo, effects, True)
    ranked = standins_for_call(demo, call(demo, "126").id, PRINT, Closest.OVERALL)
    assert ranked.by_chart == ()
    assert [offer.basis for offer in ranked.on_paper] == [Basis.PREDICTED] * 12
    assert all(offer.plus_minus is not None and offer.plus_minus > 1 for offer in ranked.on_paper)
    tied = [offer.tie for offer in ranked.on_paper]
    assert tied[:2] == [True, True]
    # Effects are not modelled, so they are not ranked anywhere.
    assert ranked.left_out[Unranked.EFFECT] == len(effects)
    everything = standins_for_call(demo, call(demo, "126").id, PRINT, Closest.OVERALL, 500).on_paper
    assert {offer.colour.effect for offer in everything} == {"ordinary"}


def test_a_collection_without_swatches_is_answered_by_chart(empty: Collection) -> None:
    import_catalogue(empty, (resources.files("tidy_tinder.demo") / "data/catalogue.csv").read_bytes())
    with empty() as session:
        own = session.scalars(select(Colour.id).where(Colour.code.in_(["119", "123", "M12"]))).all()
    mark_owned(empty, own, True)
    ranked = standins_for_text(empty, "Heron 126", "white", Pressure.HEAVY, Closest.OVERALL)
    assert ranked.on_paper == ()
    assert {offer.basis for offer in ranked.by_chart} == {Basis.CHART}


def test_another_meaning_of_closest_ranks_otherwise(demo: Collection) -> None:
    one = call(demo, "126").id
    orders = {c: [o.colour.id for o in standins_for_call(demo, one, VELLUM, c, limit=30).on_paper] for c in Closest}
    assert orders[Closest.OVERALL] != orders[Closest.VALUE] != orders[Closest.HUE]
    best = standins_for_call(demo, one, VELLUM, Closest.VALUE).best
    assert best is not None
    assert best.ranked_by != best.difference.delta_e


def test_only_pencils_at_hand_are_offered_and_never_the_colour_itself(demo: Collection) -> None:
    wanted = call(demo, "119")
    assert wanted.colour is not None
    ranked = standins_for_call(demo, wanted.id, VELLUM, Closest.OVERALL, limit=100)
    offered = {offer.colour.id for offer in ranked.on_paper + ranked.by_chart}
    with demo() as session:
        usable = set(session.scalars(select(Pencil.colour_id).where(Pencil.state.in_(("in_use", "spare")))))
    assert offered <= usable - {wanted.colour.id}


def test_a_choice_belongs_to_recipe_call_and_paper(demo: Collection) -> None:
    one = call(demo, "126")
    best = standins_for_call(demo, one.id, VELLUM, Closest.OVERALL).best
    assert best is not None
    done = choose_standin(demo, one.id, VELLUM, best.colour.id)
    chosen = call(demo, "126")
    assert chosen.answer is Answer.STAND_IN
    assert chosen.chosen is not None
    assert chosen.chosen.colour.id == best.colour.id
    assert call(demo, "126", paper=BUFF).answer is Answer.OPEN
    assert recipe_cards(demo, VELLUM)[0].stand_ins == 1
    undo(demo, done.change_id)
    assert call(demo, "126").answer is Answer.OPEN


def test_a_second_choice_replaces_the_first_and_can_be_cleared(demo: Collection) -> None:
    one = call(demo, "126")
    first, second = standins_for_call(demo, one.id, VELLUM, Closest.OVERALL).on_paper[:2]
    choose_standin(demo, one.id, VELLUM, first.colour.id)
    choose_standin(demo, one.id, VELLUM, second.colour.id)
    with demo() as session:
        assert [c.colour_id for c in session.scalars(select(Choice))] == [second.colour.id]
    clear_choice(demo, one.id, VELLUM)
    assert call(demo, "126").answer is Answer.OPEN
    with pytest.raises(NotFoundError):
        clear_choice(demo, one.id, VELLUM)


def test_a_colour_that_is_not_at_hand_cannot_stand_in(demo: Collection) -> None:
    one = call(demo, "126")
    assert one.colour is not None
    with pytest.raises(RefusedError, match="not at hand"):
        choose_standin(demo, one.id, VELLUM, one.colour.id)


def test_a_chosen_pencil_that_is_given_away_is_said_to_be_gone(demo: Collection) -> None:
    one = call(demo, "126")
    best = standins_for_call(demo, one.id, VELLUM, Closest.OVERALL).best
    assert best is not None
    choose_standin(demo, one.id, VELLUM, best.colour.id)
    mark_owned(demo, [best.colour.id], False)
    gone = call(demo, "126")
    assert (gone.answer, gone.chosen) == (Answer.STAND_IN, None)


def test_what_could_not_be_read_is_settled_by_the_artist(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "A leaf\nHeron\n119 Bracken, light\n107, Brambel, 101\n")
    conflict, slip = (c for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED)
    assert {c.code for c in conflict.candidates} == {"119", "169"}
    settle_call(demo, conflict.id, conflict.candidates[0].id)
    settle_call(demo, slip.id, None)
    answers = [c.answer for c in calls(demo, recipe)]
    assert answers == [Answer.OWNED, Answer.OWNED, Answer.DISMISSED, Answer.OWNED]
    assert next(c for c in recipe_cards(demo, VELLUM) if c.id == recipe).calls == 3


def test_what_says_the_same_is_settled_with_it(demo: Collection) -> None:
    lines = ["Burnt Umber", "119", "burnt umber, heavy", "same as above", "107", "raw sienna", "repeat step 1"]
    recipe, _ = save_recipe(demo, "\n- ".join(["A leaf\nHeron", *lines]))
    first = calls(demo, recipe)[0]
    fly_cap = call(demo, "119")
    assert fly_cap.colour is not None
    asked = [c.as_written for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED]
    assert asked == ["Burnt Umber", "burnt umber", "same as above", "raw sienna", "repeat step 1"]
    change = settle_call(demo, first.id, fly_cap.colour.id)
    assert change.label == "“Burnt Umber” means 119 Fly Cap, in 4 places"
    assert [c.as_written for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED] == ["raw sienna"]
    undo(demo, change.change_id)
    assert [c.as_written for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED] == asked


def test_a_letter_asks_in_the_words_that_it_stands_for(demo: Collection) -> None:
    """What is offered is near “Braken”, and not whatever begins with “B”; one answer settles it wherever B is laid."""
    recipe, _ = save_recipe(demo, "A leaf\nHeron\nA = 119, B = Braken\n1. B in the gaps\n2. A, then B again\n")
    asked = [c for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED]
    assert [c.as_written for c in asked] == ["Braken", "Braken"]
    meant = next(c for c in asked[0].candidates if c.name == "Bracken")
    settle_call(demo, asked[0].id, meant.id)
    assert [c.colour.name for c in calls(demo, recipe) if c.colour is not None] == ["Bracken", "Fly Cap", "Bracken"]


def test_a_code_with_another_name_offers_the_charted_colour_wherever_it_stands(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "A leaf\nHeron 119 (Brambel), heavy\nthen 119 over 107\n")
    asked = [c for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED]
    assert [[one.name for one in c.candidates] for c in asked] == [["Fly Cap"], ["Fly Cap"]]
    change = settle_call(demo, asked[0].id, asked[0].candidates[0].id)
    assert change.label.endswith("means 119 Fly Cap, in 2 places")
    assert Answer.UNSETTLED not in [c.answer for c in calls(demo, recipe)]


def test_what_repeats_a_colour_follows_it_unless_it_was_settled_otherwise(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "A leaf\nHeron\n- Burnt Umber\n- same as above\n- as before, lighter\n- 119")
    above, same, lighter, fly_cap = calls(demo, recipe)
    assert fly_cap.colour is not None
    oxlip = call(demo, "101").colour
    assert oxlip is not None
    settle_call(demo, same.id, oxlip.id)
    settle_call(demo, above.id, fly_cap.colour.id)
    # The last points at the one before it, which means something else.
    assert [c.colour.code for c in calls(demo, recipe) if c.colour is not None] == ["119", "101", "101", "119"]
    settle_call(demo, above.id, None)
    settle_call(demo, same.id, None)
    answers = [c.answer for c in calls(demo, recipe)]
    assert answers[:3] == [Answer.DISMISSED] * 3
    assert lighter.id == calls(demo, recipe)[2].id


def test_a_colour_that_is_named_again_is_no_repetition_of_the_one_before(demo: Collection) -> None:
    recipe, _ = save_recipe(
        demo, "A leaf\nHeron\n- Burnt Umber\n- raw sienna again\n- same as above\n- 119\n- 119 again"
    )
    umber, sienna, same, fly_cap, named = calls(demo, recipe)
    assert fly_cap.colour is not None
    settle_call(demo, umber.id, fly_cap.colour.id)
    answers = [c.answer for c in calls(demo, recipe)]
    assert answers[:3] == [Answer.OWNED, Answer.UNSETTLED, Answer.UNSETTLED]
    oxlip = call(demo, "101").colour
    assert oxlip is not None
    settle_call(demo, fly_cap.id, oxlip.id)
    assert [c.colour.code for c in calls(demo, recipe) if c.id in (fly_cap.id, named.id) and c.colour] == ["101", "119"]
    settle_call(demo, sienna.id, oxlip.id)
    assert [c.answer for c in calls(demo, recipe) if c.id == same.id] == [Answer.OWNED]


def test_settling_anew_forgets_a_choice_for_the_old_colour(demo: Collection) -> None:
    one = call(demo, "126")
    best = standins_for_call(demo, one.id, VELLUM, Closest.OVERALL).best
    assert best is not None
    assert one.colour is not None
    choose_standin(demo, one.id, VELLUM, best.colour.id)
    settle_call(demo, one.id, one.colour.id)
    assert call(demo, "126").answer is Answer.OPEN


def test_an_unsettled_call_has_no_standins_yet(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "A leaf\nHeron\n107, Brambel, 101\n")
    unsettled = next(c for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED)
    with pytest.raises(RefusedError, match="not settled"):
        standins_for_call(demo, unsettled.id, VELLUM, Closest.OVERALL)
    with pytest.raises(RefusedError, match="not settled"):
        choose_standin(demo, unsettled.id, VELLUM, 1)


def test_a_preview_keeps_nothing(demo: Collection) -> None:
    read = preview_recipe(demo, "A leaf\nHeron\n119, Brambel then 107\nLet it rest\n")
    assert read.title == "A leaf"
    assert read.ranges == ("Heron",)
    assert [step.ranges for step in read.steps] == [("Heron",), (), ()]
    assert [[c.colour.name if c.colour else None for c in step.calls] for step in read.steps] == [
        [], ["Fly Cap", None, "Beeswax"], [],
    ]  # fmt: skip
    assert len(recipe_cards(demo, VELLUM)) == 7


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no text yet"),
        ("  \n ", "no text yet"),
        ("x\n" * 8_001, "has 16002 characters; a recipe has at most 16000"),
        ("A leaf\n" + "x" * 2_001, "Line 2 has 2001 characters; a step has at most 2000"),
    ],
)
def test_no_text_or_too_much_is_refused_in_words(demo: Collection, text: str, says: str) -> None:
    with pytest.raises(RefusedError, match=says):
        save_recipe(demo, text)


@pytest.mark.parametrize("effect", ["metallic", "neon", "pearl"])
def test_what_is_not_modelled_is_not_ranked(demo: Collection, effect: str) -> None:
    with demo() as session:
        colour = session.scalars(select(Colour).where(Colour.effect == effect)).first()
        assert colour is not None
        name = colour.name
    ranked = standins_for_text(demo, name, "vellum", Pressure.HEAVY, Closest.OVERALL)
    assert ranked.best is None
    assert sum(ranked.left_out.values()) > 100


def test_standins_by_words_name_what_is_unclear(demo: Collection) -> None:
    assert (
        standins_for_text(demo, "heron 126", "buff", Pressure.HEAVY, Closest.OVERALL).paper_name == "Buff sanded card"
    )
    for text, paper, error, words in (
        ("119", "vellum", RefusedError, "Write the range too"),
        ("Bracken M12", "vellum", RefusedError, "do not belong together"),
        ("nothing such", "vellum", NotFoundError, "No colour"),
        ("heron 119", "velvet", NotFoundError, "No paper"),
        ("heron 119", "p", RefusedError, "can mean"),
    ):
        with pytest.raises(error, match=words):
            standins_for_text(demo, text, paper, Pressure.HEAVY, Closest.OVERALL)


def test_what_is_not_there_is_said_to_be_so(demo: Collection) -> None:
    for wish in (
        lambda: open_recipe(demo, 99, VELLUM, Closest.OVERALL),
        lambda: remove_recipe(demo, 99),
        lambda: settle_call(demo, 999, None),
        lambda: settle_call(demo, 1, 9999),
        lambda: choose_standin(demo, 1, VELLUM, 9999),
        lambda: standins_for_call(demo, 999, VELLUM, Closest.OVERALL),
    ):
        with pytest.raises(NotFoundError):
            wish()


def test_a_removed_recipe_comes_back_with_what_was_chosen_on_each_paper(demo: Collection) -> None:
    wanted = next(c for c in calls(demo, 1) if c.answer is Answer.OPEN)
    best = standins_for_call(demo, wanted.id, VELLUM, Closest.OVERALL).on_paper[0].colour.id
    for paper in (VELLUM, BUFF):
        choose_standin(demo, wanted.id, paper, best)
    before = [calls(demo, 1, paper) for paper in (VELLUM, BUFF, PRINT)]
    assert [next(c for c in each if c.id == wanted.id).answer for each in before] == ["stand-in", "stand-in", "open"]
    removed = remove_recipe(demo, 1)
    with demo() as session:
        assert session.scalars(select(Choice).where(Choice.recipe_id == 1)).all() == []
    undo(demo, removed.change_id)
    assert [calls(demo, 1, paper) for paper in (VELLUM, BUFF, PRINT)] == before


def test_the_list_shows_what_a_recipe_calls_for_from_light_to_dark(demo: Collection) -> None:
    first = recipe_cards(demo, VELLUM)[0]
    codes = [one.colour.code for one in first.called]
    assert len(codes) == len(set(codes))
    assert {"119", "126", "M39"} <= set(codes)
    # Milk glass before fly cap before cherry stone.
    assert codes.index("M39") < codes.index("119") < codes.index("126")
    assert {one.colour.code for one in first.called if not one.at_hand} == {"126", "M12", "188"}


def test_a_code_that_has_lost_its_letter_offers_the_one_that_the_recipe_has(demo: Collection) -> None:
    """As it is looked at before it is kept, and once it is; one answer settles all that ask so."""
    text = "Moth\nHeron and Tallow\nbody: M33\nedges 33 once more\nnap: 33 over 119\n"
    previewed = [[one.code for one in c.candidates] for step in preview_recipe(demo, text).steps for c in step.calls]
    recipe, _ = save_recipe(demo, text)
    asked = [c for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED]
    assert [c.as_written for c in asked] == ["33", "33"]
    assert [[row.code for row in c.candidates] for c in asked] == [["M33", "33"], ["M33", "33"]]
    assert [codes[0] for codes in previewed if codes] == ["M33", "M33"]
    settle_call(demo, asked[0].id, asked[0].candidates[0].id)
    assert [c.colour.code for c in calls(demo, recipe) if c.colour] == ["M33", "M33", "119", "M33"]
