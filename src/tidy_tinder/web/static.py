"""The built front end, served by the application."""

from __future__ import annotations

from pathlib import Path

from flask import Flask, Response, abort, request

from tidy_tinder.core.errors import echoed
from tidy_tinder.web.pages import DIST, page_for


def setup_static(app: Flask, dist: Path = DIST) -> None:
    """Serve the page at every path of the interface, and its assets."""

    @app.route("/")
    @app.route("/<path:path>")
    def page(path: str = "") -> Response:
        """An asset where there is one, else the page; an unknown asset or API path is 404."""
        found = page_for(path, lambda encoding: request.accept_encodings.find(encoding) >= 0, dist)
        if found is None:
            abort(404, description=_missing(path, dist))
        return Response(found.content, headers=found.headers)


def _missing(path: str, dist: Path) -> str:
    if path.startswith("api/") or path == "api":
        return f"/{echoed(path)} is no address of this program."
    if "." in path.rsplit("/", 1)[-1]:
        return f"There is no file /{echoed(path)}."
    assert not (dist / "index.html").is_file()
    return "The interface is not built yet. Run: make build"
