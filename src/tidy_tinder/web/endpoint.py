"""Where flask-openapi is kept: the application class, blueprints and what a view may return."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from flask import Flask, Response, current_app
from flask_openapi.blueprint import APIBlueprint
from flask_openapi.models.file import FileStorage
from flask_openapi.models.info import Info
from flask_openapi.openapi import OpenAPI
from flask_openapi.types import ResponseDict
from pydantic import BaseModel
from werkzeug.datastructures import FileStorage as SentFile

from tidy_tinder import __version__
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.exchange.backup import CollectionFiles
from tidy_tinder.services.photos.reading import PhotoReader
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.web.answer_times import Clock
from tidy_tinder.web.errors import Problem, invalid_request
from tidy_tinder.web.json_out import json_of
from tidy_tinder.web.phone.let_in import Phones

_COLLECTION = "tidy_tinder_collection"
_READER = "tidy_tinder_reader"
_PHOTOS = "tidy_tinder_photos"
_PICTURES = "tidy_tinder_pictures"
_PHONES = "tidy_tinder_phones"
_CLOCK = "tidy_tinder_clock"

# Working out the OpenAPI document takes a second at every start, and its result is committed: only the tool that
# writes it asks for it (tools/write_openapi.py); the program serves the committed file.
DOCUMENTING = "TIDY_TINDER_WRITES_ITS_DOCUMENT"
_COMMITTED = Path(__file__).with_name("openapi.json")


class UploadedFile(FileStorage):
    """How a view says that it takes a file."""

    @classmethod
    def validate(cls, value: Any, *_args: Any, **_kwargs: Any) -> Any:
        """What was sent in its place is refused, such as a field of a form with words in it."""
        if not isinstance(value, SentFile):
            raise ValueError("This must be sent as a file.")
        return value


class Application(OpenAPI):
    """A Flask application whose views return Pydantic models."""

    def make_response(self, rv: Any) -> Response:
        """Models become JSON; all else is Flask's."""
        if isinstance(rv, BaseModel):
            return Response(json_of(rv), mimetype="application/json")
        if isinstance(rv, tuple) and rv and isinstance(rv[0], BaseModel):
            return super().make_response((self.make_response(rv[0]), *rv[1:]))
        return super().make_response(rv)


def new_application(collection: Collection, phones_on: str | None = None) -> Application:
    """An empty application for one collection. phones_on: the address that phones reach, where it must be given."""
    app = Application(
        __name__.split(".", maxsplit=1)[0],
        info=Info(title="Tidy Tinder", version=__version__),
        validation_error_status=422,
        validation_error_model=Problem,
        validation_error_callback=invalid_request,
        operation_id_callback=lambda name, **_: name,
        doc_ui=False,
        static_folder=None,
    )
    app.openapi_version = "3.1.0"
    app.extensions[_COLLECTION] = collection
    app.extensions[_READER] = ReaderLink()
    app.extensions[_CLOCK] = Clock(app)
    photos = app.extensions[_PHOTOS] = PhotoReader(collection)
    pictures = app.extensions[_PICTURES] = PictureOpener(collection)

    def wake() -> None:
        photos.wake()
        pictures.wake()

    app.extensions[_PHONES] = Phones(collection, wake, phones_on)
    return app


def blueprint(name: str) -> APIBlueprint:
    """The routes of one feature, under /api."""
    responses: ResponseDict = dict.fromkeys(("403", "404", "409", "422", "424", "503"), Problem)
    documented = DOCUMENTING in os.environ
    return APIBlueprint(name, __name__, url_prefix="/api", abp_responses=responses, doc_ui=documented)


def collection_here() -> Collection:
    """The collection that this application serves."""
    collection: Collection = current_app.extensions[_COLLECTION]
    return collection


def reader_here() -> ReaderLink:
    """The colour reader of this program."""
    link: ReaderLink = current_app.extensions[_READER]
    return link


def photo_reader_here() -> PhotoReader:
    """What reads the photos of this collection."""
    return photo_reader_of(current_app)


def photo_reader_of(app: Flask) -> PhotoReader:
    """The same, outside a request."""
    reader: PhotoReader = app.extensions[_PHOTOS]
    return reader


def picture_opener_here() -> PictureOpener:
    """What opens the references of this collection."""
    return picture_opener_of(current_app)


def picture_opener_of(app: Flask) -> PictureOpener:
    """The same, outside a request."""
    opener: PictureOpener = app.extensions[_PICTURES]
    return opener


def phones_here() -> Phones:
    """The phones that may come in."""
    phones: Phones = current_app.extensions[_PHONES]
    return phones


def clock_here() -> Clock:
    """What times the answers of this application."""
    clock: Clock = current_app.extensions[_CLOCK]
    return clock


def demo_here() -> None:
    """Raises RefusedError where this is not the demo: simulated things are for trying the program out."""
    if not current_app.config.get("DEMO"):
        raise RefusedError("The simulated camera belongs to the demo. Photograph the page, or scan it.")


def close_devices(app: Application) -> None:
    """Let go of the reader, of phones, and of photos that are being read, when a program ends."""
    link: ReaderLink = app.extensions[_READER]
    link.close()
    phones: Phones = app.extensions[_PHONES]
    phones.close()
    photo_reader_of(app).close()
    picture_opener_of(app).close()


def files_here() -> CollectionFiles:
    """Where the collection that this application serves lies."""
    return CollectionFiles(collection_here().database)


def openapi_document(app: Application) -> dict[str, Any]:
    """The OpenAPI document as the routes give it; empty but where DOCUMENTING is set."""
    document: dict[str, Any] = app.api_doc
    return document


def committed_document() -> bytes:
    """The OpenAPI document as it is committed (a test holds it to the routes)."""
    return _COMMITTED.read_bytes()


def file_response(mimetype: str) -> dict[str, Any]:
    """How the document speaks of an answer that is a file; one of JSON is an object to whoever reads the answer."""
    schema = {"type": "object"} if mimetype == "application/json" else {"type": "string", "format": "binary"}
    return {"description": "A file", "content": {mimetype: {"schema": schema}}}


def as_file(content: bytes, mimetype: str, name: str) -> Response:
    """An answer that the browser keeps as a file of this name; letters that a header cannot hold become _."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "._- ") else "_" for c in name)
    response = Response(content, mimetype=mimetype)
    response.headers["Content-Disposition"] = f'attachment; filename="{plain}"'
    return response
