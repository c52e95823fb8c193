"""The built front end: hashed assets for ever, the page itself never from a cache."""

from __future__ import annotations

import mimetypes
from pathlib import Path

from flask import Flask, Response, abort, make_response, request

DIST = Path(__file__).parent / "dist"
_ENCODINGS = (("br", ".br"), ("gzip", ".gz"))
_FOR_EVER = "public, max-age=31536000, immutable"


def setup_static(app: Flask, dist: Path = DIST) -> None:
    """Serve the page at every path of the interface, and its assets."""

    @app.route("/")
    @app.route("/<path:path>")
    def page(path: str = "") -> Response:
        """An asset where there is one, else the page; an unknown asset or API path is 404."""
        if path.startswith("api/") or path == "api":
            abort(404, description=f"/{path} is no address of this program.")
        file = (dist / path).resolve()
        if path and file.is_file() and file.is_relative_to(dist.resolve()):
            hashed = path.startswith("assets/")
            return _send(file, _FOR_EVER if hashed else "public, max-age=3600")
        if "." in path.rsplit("/", 1)[-1]:
            abort(404, description=f"There is no file /{path}.")
        if not (dist / "index.html").is_file():
            abort(404, description="The interface is not built yet. Run: make build")
        return _send(dist / "index.html", "no-cache")


def _send(file: Path, caching: str) -> Response:
    """A file, in the best encoding that was made at build time and that the browser takes."""
    accepted = request.accept_encodings
    packed = next(
        ((name, file.with_name(file.name + end)) for name, end in _ENCODINGS
         if accepted.find(name) >= 0 and file.with_name(file.name + end).is_file()),
        None,
    )  # fmt: skip
    response = make_response((packed[1] if packed else file).read_bytes())
    response.content_type = mimetypes.guess_type(file.name)[0] or "application/octet-stream"
    if packed:
        response.headers["Content-Encoding"] = packed[0]
    response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = caching
    return response
