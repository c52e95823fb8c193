"""Rounds of eye practice on the demo's pencils: asked, answered, gone on with, ended; what they tell; the card."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import numpy as np
import pypdfium2
import pytest
from sqlalchemy import select
from tests.services.at_home import VELLUM

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import temperature
from tidy_tinder.core.practice.drills import Drill
from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.core.vocabulary import Tooth
from tidy_tinder.formats.drill_card_pdf import drill_card_pdf
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.predictions import WELL_WITHIN
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import now
from tidy_tinder.services.papers import PaperAs, add_paper, remove_paper
from tidy_tinder.services.practice.card import drill_card
from tidy_tinder.services.practice.progress import progress
from tidy_tinder.services.practice.rounds import QUESTIONS, QuestionView, answer, begin_round, current_round, end_round
from tidy_tinder.services.practice.stock import stock_on
from tidy_tinder.storage.models import PracticeAnswer, PracticeRound


def question(demo: Collection) -> QuestionView:
    found = current_round(demo).question
    assert found is not None
    return found


def kept(demo: Collection) -> dict[str, Any]:
    """The question with its answer, as it is kept."""
    with demo() as session:
        row = session.scalars(select(PracticeRound).where(PracticeRound.ended_at.is_(None))).one()
        assert row.question is not None
        return row.question


def lightness(asked: QuestionView) -> list[float]:
    return [one.patch.lab[0] for one in asked.choices if one.patch is not None]


def test_only_owned_colours_that_are_surely_known_and_on_the_screen_are_asked_about(demo: Collection) -> None:
    with demo() as session:
        scene = Scene.on(session, VELLUM)
        stock = stock_on(scene)
        assert len(stock.colours) > 40
        assert set(stock.colours) <= scene.at_hand
        assert all(one.patch.on_screen for one in stock.seen)
        assert stock.known.off.max() <= WELL_WITHIN


@pytest.mark.parametrize("drill", list(Drill))
def test_each_kind_is_asked_and_what_is_right_is_right(demo: Collection, drill: Drill) -> None:
    begin_round(demo, [drill])
    for _ in range(3):
        asked, whole = question(demo), kept(demo)
        assert asked.drill is drill
        assert all(item.colour is None for item in (*asked.choices, *asked.shown))
        if drill in RIGHT:
            assert RIGHT[drill](asked) == whole["right"]
        told = answer(demo, asked.number, whole["right"])
        assert told.was_right
        assert list(told.right) == whole["right"]
        assert told.words


def _closest(asked: QuestionView) -> list[int]:
    wanted = asked.shown[0].patch
    labs = np.array([one.patch.lab for one in asked.choices if one.patch])
    assert wanted is not None
    return [int(np.argmin(delta_e_2000(np.array(wanted.lab), labs)))]


RIGHT: dict[Drill, Callable[[QuestionView], list[int]]] = {
    Drill.LIGHTER: lambda asked: [int(np.argmax(lightness(asked)))],
    Drill.WARMER: lambda asked: [
        int(np.argmax([temperature(np.array(one.patch.lab)) for one in asked.choices if one.patch]))
    ],
    Drill.CLOSEST: _closest,
    Drill.ORDER: lambda asked: [int(i) for i in np.argsort(-np.array(lightness(asked)))],
}


def test_a_round_goes_on_where_it_was_and_ends_after_forty(demo: Collection) -> None:
    begin_round(demo, [Drill.LIGHTER])
    first = question(demo)
    assert question(demo) == first
    for number in range(1, QUESTIONS + 1):
        asked = question(demo)
        assert asked.number == number
        answer(demo, number, [int(np.argmax(lightness(asked)))])
    after = current_round(demo)
    assert after.question is None
    assert set(after.can_ask) == set(Drill)
    told = progress(demo)
    (lighter,) = told.drills
    assert (lighter.answers, lighter.right) == (QUESTIONS, QUESTIONS)
    assert lighter.threshold is not None
    assert lighter.threshold.level < 6.0
    assert len(lighter.weeks) == 1
    assert told.biases == ()


def test_right_answers_make_it_harder_and_wrong_ones_easier(demo: Collection) -> None:
    levels = {}
    for right in (True, False):
        begin_round(demo, [Drill.LIGHTER])
        for _ in range(8):
            asked = question(demo)
            best = int(np.argmax(lightness(asked)))
            answer(demo, asked.number, [best if right else 1 - best])
        levels[right] = kept(demo)["level"]
    assert levels[True] < 8.0 < levels[False]


def test_an_eye_that_takes_dark_colours_for_darker_is_told_so(demo: Collection) -> None:
    """An artist to whom every dark red looks eight L* darker than it is."""
    with demo() as session:
        session.add(PracticeRound(begun_at=now(), drills=[], paper_id=VELLUM, seed=1, ended_at=now()))
        session.flush()
        round_id = session.scalars(select(PracticeRound.id)).one()
        rng = np.random.default_rng(5)
        names = ("dark reds", "light greens", "dark blues", "light yellows")
        for _ in range(160):
            first, second = (str(one) for one in rng.choice(names, 2, replace=False))
            by = float(rng.choice([-1, 1]) * rng.uniform(2, 12))
            seen = by - 8.0 * ((first == names[0]) - (second == names[0])) + 2.0 * rng.standard_normal()
            session.add(
                PracticeAnswer(
                    round_id=round_id, made_at=now(), drill=Drill.LIGHTER, level=abs(by), right=(seen > 0) == (by > 0),
                    region=first, other=second, signed=by, first=bool(seen > 0),
                )
            )  # fmt: skip
        session.commit()
    told = progress(demo).biases
    assert told[0].region == "dark reds"
    assert told[0].words.startswith("dark reds look darker to you than they are, by ")
    assert told[0].by == pytest.approx(-8.0, abs=2.5)
    assert abs(told[0].by + 8.0) < 2 * told[0].within


def test_another_window_cannot_answer_twice_and_what_is_no_answer_is_refused(demo: Collection) -> None:
    with pytest.raises(RefusedError):
        answer(demo, 1, [0])
    begin_round(demo, [Drill.ORDER])
    asked = question(demo)
    for wrong in ([0], [0, 0, 1, 2, 3, 4], [0, 1, 2, 3, 4, 9]):
        with pytest.raises(RefusedError, match="Choose among"):
            answer(demo, asked.number, wrong)
    answer(demo, asked.number, list(range(6)))
    with pytest.raises(RefusedError, match="another window"):
        answer(demo, asked.number, list(range(6)))
    begin_round(demo, [Drill.LIGHTER])
    assert question(demo).number == 1
    end_round(demo)
    with pytest.raises(NotFoundError):
        end_round(demo)


def test_a_round_whose_paper_is_removed_is_over_and_another_can_begin(demo: Collection) -> None:
    said = PaperAs("Scrap pad", "", "", (90.0, 0.0, 2.0), Tooth.MEDIUM, 6, False, False, "")
    paper, _ = add_paper(demo, said)
    begin_round(demo, [Drill.LIGHTER])
    with demo() as session:
        row = session.scalars(select(PracticeRound).where(PracticeRound.ended_at.is_(None))).one()
        row.paper_id = paper
        session.commit()
    assert question(demo).number == 1
    remove_paper(demo, paper)
    assert current_round(demo).question is None
    with pytest.raises(RefusedError):
        answer(demo, 1, [0])
    begin_round(demo, [Drill.LIGHTER])
    assert question(demo).number == 1


def test_without_pencils_it_is_said_what_is_missing(empty: Collection) -> None:
    assert current_round(empty).can_ask == ()
    with pytest.raises(RefusedError, match="Swatch some first"):
        begin_round(empty, [])
    with pytest.raises(RefusedError, match="Swatch some first"):
        drill_card(empty, 1)
    assert progress(empty).drills == ()


@pytest.mark.parametrize("size", list(PageSize))
def test_the_card_has_its_answers_on_a_page_of_their_own(demo: Collection, size: PageSize) -> None:
    card = drill_card(demo, 7)
    assert len(card.questions) >= 7
    with pypdfium2.PdfDocument(io.BytesIO(drill_card_pdf(card, size))) as document:
        pages = [page.get_textpage().get_text_bounded() for page in document]
    asked, answers = "".join(pages[: len(pages) // 2]), "".join(pages[len(pages) // 2 :])
    for one in card.questions:
        assert all(part in asked for pencil in one.pencils for part in pencil.rsplit(" ", 1))
        assert one.answer in answers
        assert one.answer not in asked or one.answer.replace(".", "").isdigit()
    assert drill_card(demo, 7) == card
    assert drill_card(demo, 8) != card
