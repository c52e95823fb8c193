"""The application of a collection that is open, until it is stopped."""

from __future__ import annotations

import logging
import socket
from http import HTTPStatus

from flask import Response, request

from tidy_tinder.commands.fitted import leave
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.photos import forget_photos
from tidy_tinder.services.bench.values import forget_pictures
from tidy_tinder.settings import Settings
from tidy_tinder.web.app import create_app, run
from tidy_tinder.web.endpoint import Application, close_devices, photo_reader_of, picture_opener_of
from tidy_tinder.web.first_page import FirstPage
from tidy_tinder.web.kept_answers import KeptAnswers

_MOST_THREADS = 6


class Serving:
    """A collection and its application, ready to be run."""

    def __init__(self, collection: Collection, app: Application, first_page: FirstPage, kept: KeptAnswers) -> None:
        self._collection = collection
        self._app = app
        self._first_page = first_page
        self._kept = kept
        app.before_request(self._as_left)
        app.after_request(self._note)

    def run(self, listener: socket.socket) -> None:
        """Answer on the listening socket until stopped."""
        logging.getLogger("waitress").setLevel(logging.ERROR)
        run(self._app, listener, threads=_MOST_THREADS)

    def close(self) -> None:
        """Leave the file whole, and the answers of the first page beside it for the next start."""
        try:
            close_devices(self._app)
        finally:
            leave(self._collection, self._first_page, self._kept)

    def _as_left(self) -> Response | None:
        """What the last run left, as the door gave it."""
        left = self._first_page.left(_address()) if request.method == "GET" else None
        if left is None:
            return None
        return Response(left, mimetype="application/json", headers={"Cache-Control": "no-store"})

    def _note(self, response: Response) -> Response:
        """Remember with which address the parts of the first page were asked for last."""
        if response.status_code == HTTPStatus.OK:
            self._first_page.note(_address())
        return response


def ready(collection: Collection, settings: Settings, first_page: FirstPage, kept: KeptAnswers) -> Serving:
    """Put the application of a collection together."""
    app = create_app(collection, demo=settings.demo, phones_on=settings.phones_on)
    photo_reader_of(app).begin()
    picture_opener_of(app).begin()
    forget_pictures(collection)
    forget_photos(collection)
    return Serving(collection, app, first_page, kept)


def _address() -> str:
    """The path and query that are asked for."""
    return request.full_path.rstrip("?")
