"""What a paired phone sends: photos of sheets, photos of a drawing for its values, pictures to draw from."""

from __future__ import annotations

from collections.abc import Callable
from http import HTTPStatus

from flask import Flask, redirect, request
from werkzeug.datastructures import FileStorage
from werkzeug.wrappers import Response as AnyResponse

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.photos import add_drawing_photo
from tidy_tinder.services.phones.pairing import PairedPhone, Pairing
from tidy_tinder.services.photos.store import add_photo
from tidy_tinder.services.reference.store import add_reference

COOKIE = "tidy-tinder-phone"
"""By which a phone that was let in is known again."""


def add_sending(
    app: Flask, collection: Collection, pairing: Pairing, wake: Callable[[], None], page: Callable[..., AnyResponse]
) -> None:
    """Give a phone's application what it sends. wake: called when something came; page: shows the phone's page, with a
    problem in words and its status.
    """

    def taken(field: str, then: str, take: Callable[[int, FileStorage], object], belongs: str) -> AnyResponse:
        """Take every file of a field; belongs: the field that says where it belongs; then: the page after it."""
        phone = _phone(pairing)
        if phone is None:
            return page(None, "Pair this phone first.", HTTPStatus.FORBIDDEN)
        files = [file for file in request.files.getlist(field) if file.filename]
        if not files:
            return page(phone, "No picture was chosen.", HTTPStatus.UNPROCESSABLE_ENTITY)
        try:
            for file in files:
                take(request.form.get(belongs, 0, int), file)
        except TidyTinderError as error:
            return page(phone, f"{error.title}: {error.detail}", HTTPStatus.UNPROCESSABLE_ENTITY)
        finally:
            wake()
        return redirect(then, HTTPStatus.SEE_OTHER)

    @app.post("/photos")
    def send() -> AnyResponse:
        def take(sheet: int, file: FileStorage) -> None:
            number, _ = add_photo(collection, sheet, file.filename or "", file.read())
            pairing.sent(request.cookies.get(COOKIE, ""), number)

        return taken("photo", "/sent", take, "sheet")

    @app.post("/drawn")
    def send_drawing() -> AnyResponse:
        def take(drawing: int, file: FileStorage) -> None:
            add_drawing_photo(collection, drawing, file.filename or "", file.read())

        return taken("drawn", "/waits", take, "drawing")

    @app.post("/pictures")
    def send_picture() -> AnyResponse:
        def take(drawing: int, file: FileStorage) -> None:
            add_reference(collection, drawing, file.filename or "", file.read())

        return taken("picture", "/kept", take, "drawing")


def _phone(pairing: Pairing) -> PairedPhone | None:
    return pairing.who(request.cookies.get(COOKIE, ""))
