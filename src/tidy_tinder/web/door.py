"""The page is handed out while the application behind it is still being loaded.

Loading takes two seconds, in which the browser can take the page, its scripts and the answers that were kept for it,
and draw it. Where none were kept, what the first page asks for is answered as soon as that much is loaded. Whatever
only the application can answer waits here until it is there, and is then passed on.
"""

from __future__ import annotations

import re
import socket
import threading
from collections.abc import Callable, Iterator, Mapping
from contextlib import closing, contextmanager
from http import HTTPStatus
from http.client import HTTPConnection
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any, TypeAlias
from urllib.parse import urlsplit

from tidy_tinder.web.guard import HEADERS, foreign_page, is_own
from tidy_tinder.web.kept_answers import FIRST_ASKED
from tidy_tinder.web.pages import Page, page_for

# Paths of the interface are of these letters; any other one is for the application to judge.
_PLAIN = re.compile(r"/[A-Za-z0-9_./-]*")
_LOOK_EVERY = 0.02  # seconds between looks at whether the door is to be left
_PATIENCE = 20.0  # seconds for a browser that says nothing
# Headers that hold for one connection, not for what is sent over it; the door writes its own.
_OF_ONE_CONNECTION = frozenset({"Connection", "Content-Length", "Transfer-Encoding", "Server", "Date"})

Give: TypeAlias = Callable[[str, bytes], None]
"""Takes an address, path and query, and its answer in JSON."""


@contextmanager
def door(listener: socket.socket, kept: Mapping[str, str]) -> Iterator[Give]:
    """Answer on a listening socket until the block ends; whoever waits then is passed on to who listens on it next.

    kept: answers that hold already, each under the address with which it is asked for. What it yields takes others as
    soon as there are any. The socket stays open.
    """
    answering = _Door(listener, kept)
    thread = threading.Thread(target=answering.serve_forever, args=(_LOOK_EVERY,), name="door", daemon=True)
    thread.start()
    try:
        yield answering.give
    finally:
        answering.shutdown()
        thread.join()
        answering.open()


class _Door(ThreadingHTTPServer):
    def __init__(self, listener: socket.socket, kept: Mapping[str, str]) -> None:
        super().__init__(listener.getsockname(), _AtTheDoor, bind_and_activate=False)
        self.socket.close()
        self.socket = listener
        self.address: tuple[str, int] = listener.getsockname()
        self._given = {address: answer.encode() for address, answer in kept.items()}
        self._opened = False
        self._changed = threading.Condition()

    def give(self, address: str, answer: bytes) -> None:
        """From now on this is the answer to an address, also for whoever waits for it."""
        with self._changed:
            self._given[address] = answer
            self._changed.notify_all()

    def open(self) -> None:
        """From now on the application answers, also whoever waits."""
        with self._changed:
            self._opened = True
            self._changed.notify_all()

    def given(self, address: str) -> bytes | None:
        """The answer that is given to an address, as soon as there is one; None where the application answers it."""
        with self._changed:
            self._changed.wait_for(lambda: self._opened or address in self._given)
            return self._given.get(address)

    def wait(self) -> None:
        """Wait until the application answers."""
        with self._changed:
            self._changed.wait_for(lambda: self._opened)

    def handle_error(self, request: Any, client_address: Any) -> None:
        """A browser that leaves is nothing to be told of."""


class _AtTheDoor(BaseHTTPRequestHandler):
    """One question. Each connection answers one, so that the next is taken by whoever answers then."""

    timeout = _PATIENCE
    server: _Door

    def do_GET(self) -> None:
        """A file of the interface or a kept answer at once; anything else once the application is there."""
        page = self._at_once() if is_own(self.headers.get("Host", "")) else None
        if page is not None:
            self._send(page)
            return
        self._pass_on()

    def _pass_on(self) -> None:
        """Ask the application, once it is there, what was asked here, and say what it says."""
        said = self.headers.get("Content-Length", "")
        body = self.rfile.read(int(said)) if said.isascii() and said.isdigit() else None
        self.server.wait()
        with closing(HTTPConnection(*self.server.address)) as application:
            sent = {name: value for name, value in self.headers.items() if name.title() not in _OF_ONE_CONNECTION}
            application.request(self.command, self.path, body, sent)
            answer = application.getresponse()
            content = answer.read()
        self.send_response(answer.status)
        for name, value in answer.getheaders():
            if name not in _OF_ONE_CONNECTION:
                self.send_header(name, value)
        self._end(content)

    do_POST = do_PUT = do_PATCH = do_DELETE = do_HEAD = do_OPTIONS = _pass_on

    def _at_once(self) -> Page | None:
        path = urlsplit(self.path).path
        if path in FIRST_ASKED and not self._foreign():
            answer = self.server.given(self.path)
            headers = {"Content-Type": "application/json", "Cache-Control": "no-store"}
            return None if answer is None else Page(answer, headers)
        return page_for(path[1:], self._takes) if _PLAIN.fullmatch(path) else None

    def _foreign(self) -> str:
        """Whose page asks, where it is not one of this program's own. Its own may say so: a preload does."""
        said = self.headers.get
        return foreign_page(said("Host", ""), said("Origin"), said("Sec-Fetch-Site"), self.path)

    def _takes(self, encoding: str) -> bool:
        """Whether the browser names an encoding, with no condition."""
        return encoding in {part.strip() for part in self.headers.get("Accept-Encoding", "").split(",")}

    def _send(self, page: Page) -> None:
        self.send_response(HTTPStatus.OK)
        for name, value in (HEADERS | page.headers).items():
            self.send_header(name, value)
        self._end(page.content)

    def _end(self, content: bytes) -> None:
        self.send_header("Content-Length", str(len(content)))
        self.send_header("Connection", "close")
        self.end_headers()
        self.wfile.write(content)

    def log_message(self, *_args: Any) -> None:
        """Nothing is written down of who came."""

    def version_string(self) -> str:
        """The name, without the versions of what it is made of."""
        return "tidy-tinder"
