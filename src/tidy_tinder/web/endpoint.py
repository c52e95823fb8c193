"""Where flask-openapi is kept: the application class, blueprints and what a view may return."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import orjson
from flask import Response, current_app
from flask_openapi.blueprint import APIBlueprint
from flask_openapi.models.file import FileStorage
from flask_openapi.models.info import Info
from flask_openapi.openapi import OpenAPI
from flask_openapi.types import ResponseDict
from pydantic import BaseModel

from tidy_tinder import __version__
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.exchange.backup import CollectionFiles
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.web.errors import Problem, invalid_request

# How a view says that it takes a file.
UploadedFile = FileStorage

_COLLECTION = "tidy_tinder_collection"
_READER = "tidy_tinder_reader"

# Working out the OpenAPI document takes a second at every start, and its result is committed: only the tool that
# writes it asks for it (tools/write_openapi.py); the program serves the committed file.
DOCUMENTING = "TIDY_TINDER_WRITES_ITS_DOCUMENT"
_COMMITTED = Path(__file__).with_name("openapi.json")


class Application(OpenAPI):
    """A Flask application whose views return Pydantic models."""

    def make_response(self, rv: Any) -> Response:
        """Models become JSON; all else is Flask's."""
        if isinstance(rv, BaseModel):
            return Response(orjson.dumps(rv.model_dump(mode="json")), mimetype="application/json")
        if isinstance(rv, tuple) and rv and isinstance(rv[0], BaseModel):
            return super().make_response((self.make_response(rv[0]), *rv[1:]))
        return super().make_response(rv)


def new_application(collection: Collection) -> Application:
    """An empty application for one collection."""
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


def close_devices(app: Application) -> None:
    """Let go of the reader, when a program ends that did not end its process."""
    link: ReaderLink = app.extensions[_READER]
    link.close()


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
    """How the document speaks of an answer that is a file."""
    return {"description": "A file", "content": {mimetype: {"schema": {"type": "string", "format": "binary"}}}}


def as_file(content: bytes, mimetype: str, name: str) -> Response:
    """An answer that the browser keeps as a file of this name."""
    response = Response(content, mimetype=mimetype)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
