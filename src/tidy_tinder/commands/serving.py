"""The application behind the page: the collection opened, drawn and kept fitted, until it is stopped."""

from __future__ import annotations

import logging
import socket
from collections.abc import Mapping
from http import HTTPStatus
from importlib import import_module

from flask import Response, request

from tidy_tinder.commands.opening import open_for
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.photos import forget_photos
from tidy_tinder.services.bench.values import forget_pictures
from tidy_tinder.services.collection.cards import deal_cards, deal_cards_on_all
from tidy_tinder.services.collection.predictions import keep_predictions
from tidy_tinder.settings import Settings
from tidy_tinder.web.app import create_app, run
from tidy_tinder.web.endpoint import Application, close_devices, photo_reader_of, picture_opener_of
from tidy_tinder.web.kept_answers import FIRST_ASKED, KeptAnswers

_MOST_THREADS = 6
# What the first stand-ins and the first plan need takes most of a second to load: done when all else is.
_ASKED_LATER = ("scipy.special", "scipy.sparse", "scipy.optimize", "scipy.spatial")


class Serving:
    """A collection and its application, ready to be run. left: what the last run left of its first page."""

    def __init__(self, collection: Collection, app: Application, kept: KeptAnswers, left: Mapping[str, str]) -> None:
        self._collection = collection
        self._app = app
        self._kept = kept
        self._left = left
        self._asked: dict[str, str] = {}
        app.before_request(self._as_left)
        app.after_request(self._note)

    def run(self, listener: socket.socket) -> None:
        """Answer on the listening socket until stopped."""
        logging.getLogger("waitress").setLevel(logging.ERROR)
        run(self._app, listener, threads=_MOST_THREADS)

    def close(self) -> None:
        """Leave the file whole, and the answers of the first page beside it for the next start."""
        try:
            answers = self._first_page()
            keep_predictions(self._collection)
        finally:
            close_devices(self._app)
            self._collection.close()
        self._kept.keep(answers)

    def keep_for_the_next_start(self) -> None:
        """Keep what is predicted and the answers of the first page, as they are now."""
        keep_predictions(self._collection)
        if self._asked:
            self._kept.keep_of(self._first_page)

    def all_is_drawn(self) -> None:
        """From now on every answer is worked out: at once, and as things stand."""
        self._left = {}

    def _as_left(self) -> Response | None:
        """What the door gave holds on until the marks are drawn, or anything is written."""
        left = self._left.get(request.full_path.rstrip("?")) if request.method == "GET" else None
        if left is None or not self._kept.still_hold():
            return None
        return Response(left, mimetype="application/json", headers={"Cache-Control": "no-store"})

    def _note(self, response: Response) -> Response:
        """Remember with which address the parts of the first page were asked for last."""
        if request.path in FIRST_ASKED and response.status_code == HTTPStatus.OK:
            self._asked[request.path] = request.full_path.rstrip("?")
        return response

    def _first_page(self) -> dict[str, str]:
        client = self._app.test_client()
        answers = {address: client.get(address) for address in tuple(self._asked.values())}
        return {
            a: answer.get_data(as_text=True) for a, answer in answers.items() if answer.status_code == HTTPStatus.OK
        }


def ready(settings: Settings, kept: KeptAnswers, left: Mapping[str, str]) -> Serving:
    """Open the collection, begin to draw and to fit it, and put the application together."""
    collection = open_for(settings)
    app = create_app(collection, demo=settings.demo, phones_on=settings.phones_on)
    serving = Serving(collection, app, kept, left)

    def before_the_first_fit() -> None:
        try:
            deal_cards(collection)
        finally:
            serving.all_is_drawn()

    def after_a_fit() -> None:
        deal_cards_on_all(collection)
        for name in _ASKED_LATER:
            import_module(name)

    collection.keep_fitted(
        # While the browser loads the page, its marks are drawn, and only then is anything fitted.
        first=before_the_first_fit,
        then=after_a_fit,
        at_rest=serving.keep_for_the_next_start,
    )
    photo_reader_of(app).begin()
    picture_opener_of(app).begin()
    forget_pictures(collection)
    forget_photos(collection)
    return serving
