"""The application is put together here, in small steps; no work is done."""

from __future__ import annotations

import socket

from flask import Flask, Response, request

from tidy_tinder.core.errors import echoed
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.web.bench.routes import api as bench_api
from tidy_tinder.web.bench.sharing_routes import api as drawing_files_api
from tidy_tinder.web.bench.values_routes import api as values_api
from tidy_tinder.web.collection.routes import api as collection_api
from tidy_tinder.web.drawings.routes import api as drawings_api
from tidy_tinder.web.endpoint import Application, committed_document, new_application
from tidy_tinder.web.errors import ForbiddenOriginError, setup_errors
from tidy_tinder.web.exchange.routes import api as exchange_api
from tidy_tinder.web.exchange.swatches_routes import api as swatch_files_api
from tidy_tinder.web.fading.routes import api as fading_api
from tidy_tinder.web.guard import HEADERS, foreign_page, is_own
from tidy_tinder.web.json_in import setup_json
from tidy_tinder.web.layering.routes import api as layering_api
from tidy_tinder.web.papers.routes import api as papers_api
from tidy_tinder.web.phones.routes import api as phones_api
from tidy_tinder.web.photos.routes import api as photos_api
from tidy_tinder.web.practice.routes import api as practice_api
from tidy_tinder.web.predicting.routes import api as predicting_api
from tidy_tinder.web.reader.routes import api as reader_api
from tidy_tinder.web.recipes.checking_routes import api as checking_api
from tidy_tinder.web.recipes.editing_routes import api as editing_api
from tidy_tinder.web.recipes.plan_routes import api as plans_api
from tidy_tinder.web.recipes.routes import api as recipes_api
from tidy_tinder.web.recipes.sharing_routes import api as sharing_api
from tidy_tinder.web.reference.palette_routes import api as palette_api
from tidy_tinder.web.reference.routes import api as reference_api
from tidy_tinder.web.reference.sections_routes import api as sections_api
from tidy_tinder.web.restock.routes import api as restock_api
from tidy_tinder.web.scraps.routes import api as scraps_api
from tidy_tinder.web.sheets.routes import api as sheets_api
from tidy_tinder.web.standins.routes import api as standins_api
from tidy_tinder.web.static import setup_static
from tidy_tinder.web.swatches.routes import api as swatches_api
from tidy_tinder.web.tidy.routes import api as tidy_api
from tidy_tinder.web.tray.routes import api as tray_api

_MOST_REQUEST_BYTES = 256_000_000
# Connections that say nothing must not keep a browser out: there is room for many, and none is kept for long.
_MOST_CONNECTIONS, _IDLE_SECONDS = 1000, 60

_APIS = (
    collection_api, tidy_api, swatches_api, papers_api, reader_api, tray_api, exchange_api, recipes_api, standins_api,
    predicting_api, layering_api, scraps_api, sheets_api, photos_api, phones_api, drawings_api, reference_api,
    palette_api, sections_api, plans_api, sharing_api, checking_api, editing_api, bench_api, values_api,
    restock_api, fading_api, practice_api, swatch_files_api, drawing_files_api,
)  # fmt: skip


def create_app(collection: Collection, demo: bool = False, phones_on: str | None = None) -> Application:
    """The whole application for one collection. phones_on: the address that phones reach, where it must be given."""
    app = new_application(collection, phones_on)
    app.config["DEMO"] = demo
    app.config["MAX_CONTENT_LENGTH"] = _MOST_REQUEST_BYTES
    setup_errors(app)
    _setup_own_pages_only(app)
    setup_json(app)
    _setup_api(app)
    _setup_headers(app)
    _setup_files(app)
    setup_static(app)
    return app


def run(app: Application, listener: socket.socket, threads: int) -> None:
    """Serve until stopped."""
    from waitress.server import create_server  # noqa: PLC0415 -- tests drive the application without a server

    create_server(
        app, sockets=[listener], threads=threads, ident="tidy-tinder", connection_limit=_MOST_CONNECTIONS,
        channel_timeout=_IDLE_SECONDS, asyncore_use_poll=True,
    ).run()  # fmt: skip


def _setup_own_pages_only(app: Flask) -> None:
    @app.before_request
    def _check_origin() -> None:
        if not is_own(request.host):
            raise ForbiddenOriginError(f"“{echoed(request.host)}” is not an address of this program; use 127.0.0.1.")
        said = request.headers.get
        foreign = foreign_page(request.host, said("Origin"), said("Sec-Fetch-Site"), request.path)
        if foreign:
            raise ForbiddenOriginError(f"{foreign} may not use this program.")


def _setup_api(app: Application) -> None:
    for api in _APIS:
        app.register_api(api)

    @app.route("/api/openapi.json")
    def openapi() -> Response:
        return Response(committed_document(), mimetype="application/json")


def _setup_files(app: Flask) -> None:
    @app.teardown_request
    def _close(_error: BaseException | None) -> None:
        # What was uploaded lies in a file of the system's when it is large, and is let go of at once.
        request.close()


def _setup_headers(app: Flask) -> None:
    @app.after_request
    def _add(response: Response) -> Response:
        response.headers.update(HEADERS)
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response
