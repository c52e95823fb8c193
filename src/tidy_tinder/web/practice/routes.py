"""Eye practice: rounds, answers, what they tell, and a card to practise on paper."""

from __future__ import annotations

from flask import Response

from tidy_tinder.formats.drill_card_pdf import drill_card_pdf
from tidy_tinder.services.practice.card import drill_card
from tidy_tinder.services.practice.progress import progress
from tidy_tinder.services.practice.rounds import answer, begin_round, current_round, end_round
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.practice.schemas import AnswerIn, BeginRoundIn, CardPageQuery, ProgressOut, RoundOut, ToldOut

api = blueprint("practice")


@api.get("/practice/round", responses={"200": RoundOut})
def get_round() -> RoundOut:
    """The round that is on, with its question."""
    return RoundOut.model_validate(current_round(collection_here()))


@api.post("/practice/round", responses={"200": RoundOut})
def post_round(body: BeginRoundIn) -> RoundOut:
    """Begin a round."""
    begin_round(collection_here(), body.drills)
    return RoundOut.model_validate(current_round(collection_here()))


@api.delete("/practice/round", responses={"200": RoundOut})
def delete_round() -> RoundOut:
    """End the round that is on; its answers are kept."""
    end_round(collection_here())
    return RoundOut.model_validate(current_round(collection_here()))


@api.post("/practice/answers", responses={"200": ToldOut})
def post_answer(body: AnswerIn) -> ToldOut:
    """Answer the question at hand; the next one is asked."""
    return ToldOut.model_validate(answer(collection_here(), body.number, body.choice))


@api.get("/practice/progress", responses={"200": ProgressOut})
def get_progress() -> ProgressOut:
    """What all answers tell."""
    return ProgressOut.model_validate(progress(collection_here()))


@api.get("/practice/card.pdf", responses={"200": file_response("application/pdf")})
def get_drill_card(query: CardPageQuery) -> Response:
    """A card to practise on paper."""
    content = drill_card_pdf(drill_card(collection_here(), query.card), query.size)
    return as_file(content, "application/pdf", "eye-practice.pdf")
