"""The phone's own application: pair, send a photo of a page, of a drawing, or to draw from, work at the bench.

It knows no other address.
"""

from __future__ import annotations

import ipaddress
from collections.abc import Callable
from http import HTTPStatus
from urllib.parse import urlsplit

from flask import Flask, Response, redirect, render_template, request
from werkzeug.exceptions import HTTPException
from werkzeug.wrappers import Response as AnyResponse

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.formats.picture.decoding import MOST_BYTES
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.view import drawing_cards
from tidy_tinder.services.phones.pairing import OPEN_SECONDS, PairedPhone, Pairing
from tidy_tinder.services.photos.view import photos_called
from tidy_tinder.services.sheets.view import sheet_cards
from tidy_tinder.storage.models import DrawingState
from tidy_tinder.web.phone.bench import add_bench
from tidy_tinder.web.phone.sending import COOKIE, add_sending
from tidy_tinder.web.phone.shopping import add_shopping

# Only what a form needs round a photo.
_MOST_REQUEST_BYTES = MOST_BYTES + 100_000
_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; style-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    # With no referrer at all, a form of this page would come from nowhere and be refused as another's.
    "Referrer-Policy": "same-origin",
    "Cache-Control": "no-store",
}


def create_phone_app(
    collection: Collection, pairing: Pairing, wake: Callable[[], None], own_host: Callable[[], str]
) -> Flask:
    """The application. wake: called when something came; own_host: the address with its port that it is reached by."""
    app = Flask(__name__)
    app.config["MAX_CONTENT_LENGTH"] = _MOST_REQUEST_BYTES

    @app.before_request
    def _guard() -> AnyResponse | None:
        """Only from this network, by this address, and by the page itself."""
        origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site", "none")
        foreign = origin is not None and urlsplit(origin).netloc != request.host
        if not _is_near(request.remote_addr) or request.host != own_host() or foreign or site == "cross-site":
            return Response("Not here.", HTTPStatus.FORBIDDEN, mimetype="text/plain")
        if not pairing.state().is_open:
            return _page(None, "No phone may come in now. Let one in on the computer first.", HTTPStatus.FORBIDDEN)
        return None

    @app.after_request
    def _add(response: Response) -> Response:
        for name, value in _HEADERS.items():
            response.headers.setdefault(name, value)
        return response

    @app.get("/")
    def show() -> AnyResponse:
        return _page(_phone())

    @app.get("/sent")
    def show_sent() -> AnyResponse:
        return _page(_phone(), sent=True)

    @app.get("/kept")
    def show_kept() -> AnyResponse:
        return _page(_phone(), kept=True)

    @app.get("/waits")
    def show_waits() -> AnyResponse:
        return _page(_phone(), waits=True)

    @app.get("/phone.css")
    def style() -> AnyResponse:
        return Response(render_template("phone.css"), mimetype="text/css")

    @app.post("/pair")
    def pair() -> AnyResponse:
        try:
            secret = pairing.pair(request.form.get("code", ""), request.form.get("name", ""))
        except TidyTinderError as error:
            return _page(None, error.detail, HTTPStatus.FORBIDDEN)
        answer = redirect("/", HTTPStatus.SEE_OTHER)
        answer.set_cookie(COOKIE, secret, max_age=int(OPEN_SECONDS), httponly=True, samesite="Strict", path="/")
        return answer

    @app.errorhandler(HTTPException)
    def _wrong(error: HTTPException) -> AnyResponse:
        """Nothing else is here; a photo that is too long is said so."""
        too_long = error.code == HTTPStatus.REQUEST_ENTITY_TOO_LARGE
        words = f"A photo may have {MOST_BYTES / 1e6:.0f} MB." if too_long else "There is nothing at this address."
        return _page(_phone(), words, HTTPStatus(error.code or HTTPStatus.NOT_FOUND))

    def _phone() -> PairedPhone | None:
        return pairing.who(request.cookies.get(COOKIE, ""))

    def _page(
        phone: PairedPhone | None, problem: str = "", status: HTTPStatus = HTTPStatus.OK, sent: bool = False,
        kept: bool = False, waits: bool = False,
    ) -> AnyResponse:  # fmt: skip
        known = phone is not None
        shown = render_template(
            "phone.html", phone=phone, problem=problem, sent=sent and known, kept=kept and known, waits=waits and known,
            sheets=sheet_cards(collection) if known else (),
            photos=photos_called(collection, phone.photos) if phone is not None else (),
            drawings=[d for d in drawing_cards(collection) if d.state is DrawingState.AT_WORK] if known else (),
        )  # fmt: skip
        return Response(shown, status)

    add_sending(app, collection, pairing, wake, _page)
    add_bench(app, collection, _phone)
    add_shopping(app, collection, _phone)
    return app


def _is_near(address: str | None) -> bool:
    """Whether an address is of a network at home, not of the world."""
    try:
        near = ipaddress.ip_address(address or "")
    except ValueError:
        return False
    return near.is_private or near.is_loopback or near.is_link_local
