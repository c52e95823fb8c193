"""When nothing has been written for a moment, all that was written is brought into the one file of the collection.

What is left beside it for the next start is made then, so that a program that is killed at rest starts as quickly as
one that was stopped.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable

from sqlalchemy import Connection, Engine, event

from tidy_tinder.storage.engine import check_point

_log = logging.getLogger(__name__)

# A moment without a write: long enough that a session of swatches is not held up after each reading.
_REST_SECONDS = 2.0


class AtRest:
    """Watches the writes to one database from a thread of its own. then: called when all is in the one file."""

    def __init__(
        self, engine: Engine, rest_seconds: float = _REST_SECONDS, then: Callable[[], None] | None = None
    ) -> None:
        self._engine = engine
        self._then = then
        self._rest_seconds = rest_seconds
        self._written = threading.Event()
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._run, name="at rest", daemon=True)
        event.listen(engine, "commit", self._note)

    def start(self) -> None:
        """Begin to watch."""
        self._thread.start()

    def close(self) -> None:
        """End; what was written since the last rest is brought in by whoever closes the collection."""
        event.remove(self._engine, "commit", self._note)
        self._ended.set()
        self._written.set()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    def _note(self, _connection: Connection) -> None:
        self._written.set()

    def _run(self) -> None:
        while True:
            self._written.wait()
            while self._written.is_set() and not self._ended.is_set():
                self._written.clear()
                self._ended.wait(self._rest_seconds)
            if self._ended.is_set():
                return
            if check_point(self._engine, wait=False):
                self._call_then()
            else:
                self._written.set()  # somebody reads, such as a plan being made: again after another rest

    def _call_then(self) -> None:
        try:
            if self._then is not None:
                self._then()
        except Exception:
            # The thread must go on: without it the log grows until the program stops.
            _log.exception("What is kept for the next start was not made; the start takes a moment longer.")
