"""Rounds of questions: begun, answered one by one, gone on with after a reload, ended. They are not undone."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.practice.drills import SCALES, Drill
from tidy_tinder.core.practice.threshold import LAST
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Patch, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import now, unjournaled
from tidy_tinder.services.practice.asking import Asker, Question
from tidy_tinder.storage.models import Paper, PracticeAnswer, PracticeRound
from tidy_tinder.storage.queries.colours import ColourRow

QUESTIONS = 40
"""Questions of a round: about ten minutes."""

_TWO = (Drill.LIGHTER, Drill.WARMER)


@dataclass(frozen=True)
class ItemView:
    """A colour, or words, of a question. colour: which it is, None where that is not told yet."""

    patch: Patch | None
    trust: Trust
    band: float | None
    words: str
    colour: ColourRow | None


@dataclass(frozen=True)
class QuestionView:
    """A question without its answer. number: of the round's, from 1."""

    drill: Drill
    number: int
    words: str
    shown: tuple[ItemView, ...]
    choices: tuple[ItemView, ...]


@dataclass(frozen=True)
class RoundView:
    """A round. can_ask: the kinds that can be asked of what is owned; right: answers so far that were right; question:
    None where no round is on.
    """

    paper: str
    can_ask: tuple[Drill, ...]
    number: int
    of: int
    right: int
    question: QuestionView | None


@dataclass(frozen=True)
class Told:
    """What is told of an answer. choices: with their names now; right: the places of the right ones, in order."""

    was_right: bool
    right: tuple[int, ...]
    words: str
    shown: tuple[ItemView, ...]
    choices: tuple[ItemView, ...]


def begin_round(collection: Collection, drills: Sequence[Drill]) -> None:
    """Begin a round of these kinds, all of them where none is said; one that is on ends.

    Raises RefusedError where nothing can be asked of what is owned.
    """
    with unjournaled(collection) as session:
        paper = paper_at_hand(session)
        assert paper is not None, "a collection always has a paper"
        for old in session.scalars(select(PracticeRound).where(PracticeRound.ended_at.is_(None))):
            old.ended_at, old.question = now(), None
        kinds = list(dict.fromkeys(drills)) or list(Drill)
        new = PracticeRound(
            begun_at=now(), drills=[kind.value for kind in kinds], paper_id=paper.id, seed=secrets.randbits(31), asked=0
        )
        session.add(new)
        session.flush()
        _ask_next(session, new)
        if new.question is None:
            raise RefusedError(
                "There is nothing to practise on yet: it takes owned pencils whose marks on this paper were measured, "
                "or are surely predicted, and differ by more than their doubt. Swatch some first."
            )


def current_round(collection: Collection) -> RoundView:
    """The round that is on, with its question."""
    with collection() as session:
        row = _open(session)
        paper = paper_at_hand(session) if row is None else find_paper(session, row.paper_id)
        assert paper is not None, "a collection always has a paper"
        if row is None or row.question is None:
            can_ask = Asker(Scene(session, paper), ()).can_ask()
            return RoundView(paper.name, can_ask, 0, QUESTIONS, 0, None)
        answers = session.scalars(select(PracticeAnswer.right).where(PracticeAnswer.round_id == row.id)).all()
        return RoundView(paper.name, (), row.asked, QUESTIONS, sum(answers), _question(row.question, row.asked))


def answer(collection: Collection, number: int, choice: Sequence[int]) -> Told:
    """Answer the question at hand; the next one is asked. choice: places among the choices, in order.

    Raises RefusedError where no round is on, another question is at hand, or the choice is none.
    """
    with unjournaled(collection) as session:
        row = _open(session)
        if row is None or row.question is None or row.asked != number:
            raise RefusedError("This question was answered already, perhaps in another window.")
        question = row.question
        drill, right = Drill(question["drill"]), list(question["right"])
        if len(choice) != len(right) or len(set(choice)) != len(choice) or not set(choice) <= set(_places(question)):
            raise RefusedError("Choose among what is offered.")
        session.add(
            PracticeAnswer(
                round_id=row.id, made_at=now(), drill=drill, level=question["level"], right=list(choice) == right,
                region=question["region"], other=question["other"], signed=_signed(drill, question, choice),
                first=choice[0] == 0 if drill in _TWO else None,
            )
        )  # fmt: skip
        session.flush()
        if row.asked >= QUESTIONS:
            row.ended_at, row.question = now(), None
        else:
            _ask_next(session, row)
        colours = chart_by_id(session)
        return Told(
            list(choice) == right, tuple(right), _words(drill, question, colours),
            tuple(_shown(one, colours) for one in question["shown"]),
            tuple(_shown(one, colours) for one in question["choices"]),
        )  # fmt: skip


def end_round(collection: Collection) -> None:
    """End the round that is on. Raises NotFoundError where there is none."""
    with unjournaled(collection) as session:
        row = _open(session)
        if row is None:
            raise NotFoundError("No round is on.")
        row.ended_at, row.question = now(), None


def _open(session: Session) -> PracticeRound | None:
    """The round that is on; one whose paper was removed meanwhile is not."""
    going = select(PracticeRound).where(PracticeRound.ended_at.is_(None), PracticeRound.paper_id.in_(select(Paper.id)))
    return session.scalars(going).one_or_none()


def _ask_next(session: Session, row: PracticeRound) -> None:
    answers = session.scalars(select(PracticeAnswer).order_by(PracticeAnswer.id.desc()).limit(len(Drill) * LAST)).all()
    asker = Asker(Scene.on(session, row.paper_id), answers[::-1])
    row.asked += 1
    row.question = asker.ask([Drill(kind) for kind in row.drills], np.random.default_rng([row.seed, row.asked]))
    if row.question is None:
        row.ended_at = now()


def _places(question: Question) -> range:
    return range(len(question["choices"]))


def _signed(drill: Drill, question: Question, choice: Sequence[int]) -> float | None:
    """First less second of two; named less true of a value."""
    if drill is Drill.VALUE_STEP:
        return float(int(question["choices"][choice[0]]["words"]) - question["signed"])
    return None if question["signed"] is None else float(question["signed"])


def _question(question: Question, number: int) -> QuestionView:
    return QuestionView(
        Drill(question["drill"]), number, question["words"],
        tuple(_shown(one, {}) for one in question["shown"]), tuple(_shown(one, {}) for one in question["choices"]),
    )  # fmt: skip


def _shown(item: Question, colours: Mapping[int, ColourRow]) -> ItemView:
    return ItemView(
        None if item["lab"] is None else patch(item["lab"]), Trust(item["trust"]), item["band"], item["words"],
        colours.get(item["colour"] or 0),
    )  # fmt: skip


def _words(drill: Drill, question: Question, colours: Mapping[int, ColourRow]) -> str:
    """By how much it was so."""
    if drill in _TWO:
        first, second = (colours.get(one["colour"] or 0) for one in question["choices"])
        more, less = (first, second) if question["signed"] > 0.0 else (second, first)
        named = [f"{one.range_name} {one.code}" if one is not None else "the other" for one in (more, less)]
        kind = "lighter" if drill is Drill.LIGHTER else "warmer"
        return f"{named[0]} is {kind} than {named[1]}, by {question['level']:.1f} {SCALES[drill].unit}."
    if drill is Drill.VALUE_STEP:
        return f"It is {question['signed']:.1f}."
    if drill is Drill.TIN:
        return f"It is in {question['choices'][question['right'][0]]['words']}."
    if drill is Drill.ORDER:
        return f"The least step between neighbours was {question['level']:.1f} L*."
    if drill is Drill.LAYER:
        return f"The nearest other is {question['level']:.1f} ΔE off."
    return f"The next one is {question['level']:.1f} ΔE further off."
