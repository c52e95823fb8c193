"""The bench on a paired phone: the step at hand, its layers to tick, the log, timers; nothing else of the program.

What is logged is kept on the phone until it was taken in, and is sent again under the same key until then: it is
written once, in the order in which it was done.
"""

from __future__ import annotations

from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from flask import Flask, Response, render_template, request
from pydantic import ValidationError
from werkzeug.wrappers import Response as AnyResponse

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import alive
from tidy_tinder.services.bench.drying import begin_drying, say_of_drying
from tidy_tinder.services.bench.log import pencil_called, untick, write_log
from tidy_tinder.services.bench.place import go_back, go_on
from tidy_tinder.services.bench.view import bench
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.phones.pairing import PairedPhone
from tidy_tinder.web.bench.log_schemas import EntriesIn, PencilCalledOut, PencilCalledQuery, UntickIn
from tidy_tinder.web.bench.schemas import BenchOut, DryIn, StepIn, WetIn
from tidy_tinder.web.shared.base import Schema
from tidy_tinder.web.shared.drawn import ColourOut

# Beyond what any log of a phone that was away can have.
_MOST_BYTES = 2_000_000
# The page's own script asks this program and nobody else.
POLICY = (
    "default-src 'none'; style-src 'self'; script-src 'self'; connect-src 'self'; form-action 'self'; "
    "base-uri 'none'; frame-ancestors 'none'"
)


def add_bench(app: Flask, collection: Collection, phone: Callable[[], PairedPhone | None]) -> None:
    """Give a phone's application its bench. phone: who asks, None for one that is not paired."""

    @app.get("/bench")
    def show_bench() -> AnyResponse:
        if phone() is None:
            return Response("Pair this phone first.", HTTPStatus.FORBIDDEN, mimetype="text/plain")
        page = Response(render_template("bench.html"))
        page.headers["Content-Security-Policy"] = POLICY
        return page

    @app.get("/bench.js")
    def bench_script() -> AnyResponse:
        return Response(render_template("bench.js"), mimetype="text/javascript")

    @app.get("/bench/state")
    def bench_state() -> AnyResponse:
        return _answered(lambda: BenchOut.model_validate(bench(collection, _drawing())))

    @app.get("/bench/called")
    def bench_called() -> AnyResponse:
        def called() -> Schema:
            query = PencilCalledQuery.model_validate({"q": request.args.get("q", "")})
            sure, found = pencil_called(collection, _drawing(), query.q)
            return PencilCalledOut(sure=sure, found=[ColourOut.model_validate(one) for one in found])

        return _answered(called)

    @app.post("/bench/<act>")
    def bench_act(act: str) -> AnyResponse:
        acts = {"log": _log, "untick": _untick, "on": _on, "back": _back, "wet": _wet, "dry": _dry}
        if act not in acts:
            return Response("There is nothing at this address.", HTTPStatus.NOT_FOUND, mimetype="text/plain")
        return _answered(lambda: acts[act](_body()))

    def _log(body: Any) -> None:
        write_log(collection, _drawing(), [one.said() for one in EntriesIn.model_validate(body).entries])
        alive(collection, _drawing())

    def _untick(body: Any) -> None:
        said = UntickIn.model_validate(body)
        untick(collection, _drawing(), said.call_id, said.section_id)

    def _on(body: Any) -> None:
        said = StepIn.model_validate(body)
        go_on(collection, _drawing(), said.step_id, said.state)

    def _back(_body: Any) -> None:
        go_back(collection, _drawing())

    def _wet(body: Any) -> None:
        said = WetIn.model_validate(body)
        begin_drying(collection, _drawing(), said.section_id, said.wetting, said.key)

    def _dry(body: Any) -> None:
        number = body.get("id") if isinstance(body, dict) else None
        if not isinstance(number, int) or isinstance(number, bool) or not 0 < number < 2**62:
            raise RefusedError("Say which timer it was.")
        say_of_drying(collection, number, DryIn.model_validate({"state": body.get("state")}).state)

    def _drawing() -> int:
        with collection() as session:
            at_hand = drawing_at_hand(session)
            if at_hand is None:
                raise RefusedError("No drawing is at hand. Choose one on the computer.")
            return at_hand.id

    def _answered(do: Callable[[], Schema | None]) -> AnyResponse:
        """What came of it as JSON; a refusal in words."""
        if phone() is None:
            return _said("Pair this phone first.", HTTPStatus.FORBIDDEN)
        try:
            made = do()
        except ValidationError:
            return _said("The phone sent something that is not understood. Reload its page.", HTTPStatus(422))
        except TidyTinderError as error:
            return _said(error.detail, HTTPStatus.CONFLICT)
        return Response(made.model_dump_json() if made else "{}", mimetype="application/json")


def _body() -> Any:
    """What was sent, as JSON; raises RefusedError for anything else and for too much of it."""
    if (request.content_length or 0) > _MOST_BYTES or request.content_length is None:
        raise RefusedError("That is more than a phone sends at once.")
    sent = request.get_json(silent=True)
    if not isinstance(sent, dict):
        raise RefusedError("The phone sent something that is not understood. Reload its page.")
    return sent


def _said(words: str, status: HTTPStatus) -> Response:
    response = Response(status=status, mimetype="application/json")
    response.set_data(_Said(detail=words).model_dump_json())
    return response


class _Said(Schema):
    detail: str
