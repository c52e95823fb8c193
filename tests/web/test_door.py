"""The door: the page before the application is there, kept answers, and everything else passed on."""

from __future__ import annotations

import json
import os
import socket
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing, contextmanager
from dataclasses import dataclass
from http.client import HTTPConnection, HTTPException
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path

import pytest

from tidy_tinder.web.door import door
from tidy_tinder.web.kept_answers import KeptAnswers
from tidy_tinder.web.pages import DIST

KEPT = {"/api/collection": '{"kept": true}'}


@dataclass(frozen=True)
class Said:
    """An answer as it came."""

    status: int
    headers: dict[str, str]
    body: bytes


def ask(
    port: int, path: str, method: str = "GET", body: bytes | None = None, headers: dict[str, str] | None = None
) -> Said:
    with closing(HTTPConnection("127.0.0.1", port, timeout=20)) as connection:
        connection.request(method, path, body, headers or {})
        answer = connection.getresponse()
        return Said(answer.status, dict(answer.getheaders()), answer.read())


class _Application(BaseHTTPRequestHandler):
    """Says what it was asked."""

    def do_GET(self) -> None:
        length = int(self.headers.get("Content-Length", "0"))
        sent = self.rfile.read(length).decode()
        told = json.dumps([self.command, self.path, sent, self.headers.get("X-Own"), self.headers.get("Host")]).encode()
        self.send_response(418)
        self.send_header("X-From", "application")
        self.send_header("Content-Length", str(len(told)))
        self.end_headers()
        self.wfile.write(told)

    do_POST = do_DELETE = do_GET

    def log_message(self, *_: object) -> None:
        """Quiet."""


@pytest.fixture
def listener() -> Iterator[socket.socket]:
    with socket.create_server(("127.0.0.1", 0)) as listening:
        yield listening


@contextmanager
def application(listener: socket.socket) -> Iterator[None]:
    """Something else that answers on the socket."""
    server = HTTPServer(listener.getsockname(), _Application, bind_and_activate=False)
    server.socket.close()
    server.socket = listener
    thread = threading.Thread(target=server.serve_forever, args=(0.01,), daemon=True)
    thread.start()
    try:
        yield
    finally:
        server.shutdown()
        thread.join()


def port_of(listener: socket.socket) -> int:
    port: int = listener.getsockname()[1]
    return port


def test_the_page_is_there_before_the_application(listener: socket.socket) -> None:
    script = next(file for file in sorted((DIST / "assets").glob("index-*.js")))
    with door(listener, {}):
        page = ask(port_of(listener), "/tidy")
        packed = ask(port_of(listener), f"/assets/{script.name}", headers={"Accept-Encoding": "gzip, br"})
    assert page.status == packed.status == 200
    assert page.body == (DIST / "index.html").read_bytes()
    assert "default-src 'self'" in page.headers["Content-Security-Policy"]
    assert page.headers["Cache-Control"] == "no-cache"
    assert packed.headers["Content-Encoding"] == "br"
    assert packed.body == script.with_name(f"{script.name}.br").read_bytes()
    assert packed.headers["Content-Type"].endswith("javascript")


def test_a_kept_answer_is_given_to_this_programs_own_page_only(listener: socket.socket) -> None:
    port = port_of(listener)
    asked = [
        ("/api/collection", {"Host": "example.org"}),
        ("/api/collection", {"Origin": "http://example.org"}),
        ("/api/collection", {"Sec-Fetch-Site": "cross-site"}),
        ("/tidy", {"Host": "example.org"}),
    ]
    with ExitStack() as connections:
        others = [connections.enter_context(closing(HTTPConnection("127.0.0.1", port, timeout=20))) for _ in asked]
        with door(listener, KEPT):
            for connection, (path, headers) in zip(others, asked, strict=True):
                connection.request("GET", path, headers=headers)
            # Whoever came before is at the door by the time that this is answered.
            own = ask(port, "/api/collection")
            # As the page's own preload asks, which says where it comes from.
            ahead = ask(port, "/api/collection", headers={"Origin": f"http://127.0.0.1:{port}"})
        with application(listener):
            statuses = [connection.getresponse().status for connection in others]
    assert (own.status, own.body) == (ahead.status, ahead.body) == (200, KEPT["/api/collection"].encode())
    assert own.headers["Cache-Control"] == "no-store"
    assert statuses == [418, 418, 418, 418]


@pytest.mark.parametrize("path", ["/api/tidy?paper=1", "/assets/none.js", "/assets/%00", "/a\\b"])
def test_what_it_cannot_answer_waits_for_the_application(listener: socket.socket, path: str) -> None:
    with ThreadPoolExecutor(2) as askers:
        with door(listener, KEPT):
            port = port_of(listener)
            asked = askers.submit(ask, port, path, headers={"X-Own": "seen"})
            wished = askers.submit(ask, port, path, "POST", b"what I typed", {"X-Own": "kept"})
            assert ask(port, "/").status == 200
            assert not asked.done()
            assert not wished.done()
        with application(listener):
            answer, done = asked.result(20), wished.result(20)
    assert answer.status == done.status == 418
    assert answer.headers["X-From"] == "application"
    assert json.loads(answer.body) == ["GET", path, "", "seen", f"127.0.0.1:{port}"]
    assert json.loads(done.body) == ["POST", path, "what I typed", "kept", f"127.0.0.1:{port}"]


def test_what_the_first_page_waits_for_is_answered_as_soon_as_it_is_given(listener: socket.socket) -> None:
    port = port_of(listener)
    with ThreadPoolExecutor(2) as askers, door(listener, {}) as give:
        waits = askers.submit(ask, port, "/api/tidy?paper=1")
        assert ask(port, "/").status == 200
        give("/api/tidy?paper=2", b"another")
        assert not waits.done()
        give("/api/tidy?paper=1", b"what was waited for")
        answer = waits.result(20)
        again = ask(port, "/api/tidy?paper=1")
    assert (answer.status, answer.body) == (again.status, again.body) == (200, b"what was waited for")
    assert answer.headers["Content-Type"] == "application/json"
    assert answer.headers["Cache-Control"] == "no-store"


def test_whoever_waits_when_the_start_fails_is_let_go(listener: socket.socket) -> None:
    with ThreadPoolExecutor(1) as askers:
        with pytest.raises(ValueError, match="damaged"), door(listener, {}):
            asked = askers.submit(ask, port_of(listener), "/api/tidy?paper=1")
            assert ask(port_of(listener), "/").status == 200
            raise ValueError("damaged")
        listener.close()
        with pytest.raises((ConnectionError, HTTPException)):
            asked.result(20)


@pytest.fixture
def database(tmp_path: Path) -> Path:
    file = tmp_path / "collection.sqlite"
    file.write_bytes(b"a collection")
    KeptAnswers(file).keep(KEPT)
    return file


def test_kept_answers_come_back(database: Path) -> None:
    assert KeptAnswers(database).read() == KEPT


def test_kept_answers_hold_for_the_very_file_only(database: Path) -> None:
    whole = database.read_bytes()
    database.write_bytes(whole + b" with one more pencil")
    assert KeptAnswers(database).read() == {}


def test_kept_answers_of_the_demo_are_not_given_to_who_serves_it_as_her_own(database: Path) -> None:
    assert KeptAnswers(database, demo=True).read() == {}


def test_kept_answers_of_a_file_put_in_its_place_do_not_hold(database: Path) -> None:
    """A restored one of the same size and time."""
    seen = database.stat()
    other = database.with_name("other.sqlite")
    other.write_bytes(database.read_bytes())
    os.utime(other, ns=(seen.st_atime_ns, seen.st_mtime_ns))
    other.replace(database)
    assert KeptAnswers(database).read() == {}


def test_kept_answers_do_not_hold_beside_what_is_not_in_the_file_yet(database: Path) -> None:
    log = database.with_name("collection.sqlite-wal")
    log.write_bytes(b"")
    assert KeptAnswers(database).read() == KEPT
    log.write_bytes(b"one more pencil")
    assert KeptAnswers(database).read() == {}


@pytest.mark.parametrize("content", [b"", b"[]", b"{", b'{"of": 1}', b"\xff", b'{"answers": {}, "of": {}}'])
def test_kept_answers_that_are_damaged_are_none(database: Path, content: bytes) -> None:
    (database.parent / "worked-out" / "first-page.json").write_bytes(content)
    assert KeptAnswers(database).read() == {}


@pytest.mark.parametrize("in_the_way", ["worked-out", "collection.sqlite-wal"])
def test_answers_that_cannot_be_kept_stop_nothing(
    tmp_path: Path, caplog: pytest.LogCaptureFixture, in_the_way: str
) -> None:
    (tmp_path / "collection.sqlite").write_bytes(b"a collection")
    (tmp_path / in_the_way).write_bytes(b"a file")
    KeptAnswers(tmp_path / "collection.sqlite").keep(KEPT)
    assert "was not kept" in caplog.text
    assert KeptAnswers(tmp_path / "collection.sqlite").read() == {}
