"""The list of what to buy on a paired phone: taken along into the shop, where the computer is not.

Ticks are kept on the phone, and sent when the computer is near again: what is sent twice is ticked once.
"""

from __future__ import annotations

from collections.abc import Callable
from http import HTTPStatus
from typing import Annotated

from flask import Flask, Response, render_template, request
from pydantic import Field, ValidationError
from werkzeug.wrappers import Response as AnyResponse

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.phones.pairing import PairedPhone
from tidy_tinder.services.restock.listing import listed_for_paper, say_of_listed, shopping_list
from tidy_tinder.web.phone.bench import POLICY
from tidy_tinder.web.shared.base import Id, Schema

_MOST_TICKS = 400


class ShopTickIn(Schema):
    """A line of the list, and whether it lies in the basket."""

    id: Id
    ticked: bool


class ShopTicksIn(Schema):
    """What was ticked and unticked in the shop."""

    ticks: Annotated[list[ShopTickIn], Field(min_length=1, max_length=_MOST_TICKS)]


def add_shopping(app: Flask, collection: Collection, phone: Callable[[], PairedPhone | None]) -> None:
    """Give a phone's application its list. phone: who asks, None for one that is not paired."""

    @app.get("/list")
    def show_list() -> AnyResponse:
        if phone() is None:
            return Response("Pair this phone first.", HTTPStatus.FORBIDDEN, mimetype="text/plain")
        lines = shopping_list(collection).lines
        words = listed_for_paper(collection).lines if lines else ()
        page = Response(render_template("list.html", lines=list(zip(lines, words, strict=True))))
        page.headers["Content-Security-Policy"] = POLICY
        return page

    @app.get("/list.js")
    def list_script() -> AnyResponse:
        return Response(render_template("list.js"), mimetype="text/javascript")

    @app.post("/list/ticks")
    def tick() -> tuple[dict[str, str], HTTPStatus]:
        if phone() is None:
            return {"detail": "Pair this phone again: what you ticked is kept on it until then."}, HTTPStatus.FORBIDDEN
        try:
            for one in ShopTicksIn.model_validate(request.get_json(silent=True)).ticks:
                try:
                    say_of_listed(collection, one.id, None, one.ticked)
                except NotFoundError:
                    # Struck at home meanwhile, or bought already: there is nothing left to tick.
                    continue
        except ValidationError:
            return {"detail": "The phone sent something that is not understood. Reload its page."}, HTTPStatus(422)
        except TidyTinderError as error:
            return {"detail": error.detail}, HTTPStatus.CONFLICT
        return {}, HTTPStatus.OK
