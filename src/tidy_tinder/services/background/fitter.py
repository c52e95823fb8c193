"""Fitting in the background: a collection is fitted whenever its marks have changed, in a thread of its own.

A change of the marks while it works makes the work outdated: it is cancelled and begun anew, and what was fitted
already is kept by its fingerprint. A program that ends is taken up by the next one.
"""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy.orm import Session

from tidy_tinder.services.background.apart import Apart, OutdatedError
from tidy_tinder.services.background.inputs import FITTED_TABLES
from tidy_tinder.services.background.stored_fits import Fitted, Surveys
from tidy_tinder.services.background.surveyed_apart import Begun, surveyed
from tidy_tinder.services.journal import tables_version
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import JobState
from tidy_tinder.storage.queries.fits import advance_job, begin_job, drop_other_fits, end_job, keep_fits

_log = logging.getLogger(__name__)

LONG_AGO = 1e6
_FIRST_PAGE_SECONDS = 0.7
_REST_SECONDS = 0.4


@dataclass(frozen=True)
class Progress:
    """How far the fitting is. version: of what predictions rest on now, 0 before the first; age_seconds: since
    when they are there.
    """

    working: bool
    done: int
    total: int
    version: int
    age_seconds: float = 0.0


class Fitter:
    """Keeps one collection fitted."""

    def __init__(
        self, open_session: Callable[[], Session], surveys: Surveys, then: Callable[[], None] | None = None,
        first: Callable[[], None] | None = None,
    ) -> None:  # fmt: skip
        self._open_session = open_session
        self._surveys = surveys
        self._wanted = threading.Event()
        self._ended = threading.Event()
        self._exchanged = threading.Event()
        self._newest: Fitted | None = None
        self._progress = Progress(False, 0, 0, 0)
        self._failed_at: int | None = None
        self._at, self._job, self._total = -1, 0, 0
        self._since = time.monotonic()
        self._then, self._first = then, first
        self._apart: Apart | None = None
        self._thread = threading.Thread(target=self._run, name="fitting", daemon=True)

    @property
    def newest(self) -> Fitted | None:
        """The collection as it was fitted last; None before the first time."""
        return self._newest

    def progress(self, version: int) -> Progress:
        """How far it is on the way to this version of the marks; what failed for it is not waited for."""
        # Where there are none, none came in a moment ago, and no page need ask for its marks once more.
        age = time.monotonic() - self._since if self._newest is not None else LONG_AGO
        if self._has(version):
            return Progress(False, 0, 0, self._version, age)
        now = self._progress
        return replace(now, age_seconds=age) if now.working else Progress(True, 0, 0, self._version, age)

    def start(self) -> None:
        """Begin; it works once somebody asks for what it makes."""
        self._thread.start()

    def run_once(self) -> None:
        """Do the work now, in the caller's thread: for a program that has no time later."""
        self._fit()

    def want(self, version: int) -> None:
        """See to it that the collection is fitted for this version of its marks."""
        if not self._has(version):
            self._wanted.set()

    def _has(self, version: int) -> bool:
        return version in (self._failed_at, self._newest.version if self._newest else None)

    def forget(self) -> None:
        """Another collection stands in the place of this one."""
        self._newest = None
        self._failed_at = None
        self._exchanged.set()
        self._wanted.set()

    def close(self) -> None:
        """End, in the middle of a job if need be: the next program takes it up."""
        self._ended.set()
        self._wanted.set()
        if (apart := self._apart) is not None:
            apart.close()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    def _run(self) -> None:
        if self._first is not None:
            try:
                self._first()
            except Exception:
                # Whoever asks for it meets the same fault, and is told.
                _log.exception("What the first page shows was not made ready.")
        while True:
            self._wanted.wait()
            # The first page is drawn first: two who count at once would both be slow.
            if self._newest is None:
                self._ended.wait(_FIRST_PAGE_SECONDS)
            self._wanted.clear()
            if self._ended.is_set():
                return
            try:
                self._fit()
            except OutdatedError:
                # Swatches come one after another in a session; a moment's rest lets the next one in first.
                self._wanted.set()
                self._ended.wait(_REST_SECONDS)
            except Exception:
                # The thread must outlive whatever goes wrong with one version; the screen then keeps what it had.
                _log.exception("Fitting the collection failed; the next change of a swatch begins it again.")
                self._progress = Progress(False, 0, 0, self._version)
                self._failed_at = self._at

    @property
    def _version(self) -> int:
        return self._newest.version if self._newest else 0

    def _fit(self) -> None:
        self._exchanged.clear()
        with self._open_session() as session:
            if self._newest is not None and self._newest.version == tables_version(session, FITTED_TABLES):
                return
        self._apart = apart = Apart()
        try:
            fitted, needed = surveyed(apart, self._open_session, self._surveys, self._begin, self._advance)
        except OutdatedError:
            if not self._ended.is_set():
                self._write(lambda session: end_job(session, self._job, JobState.CANCELLED))
            raise
        finally:
            apart.close()
        self._write(lambda session: _finish(session, self._job, needed))
        self._newest, self._since = fitted, time.monotonic()
        self._progress = Progress(False, self._total, self._total, fitted.version)
        if self._then is not None:
            self._then()

    def _begin(self, begun: Begun) -> None:
        """Write down what is being fitted, for a program that takes it up."""
        if self._ended.is_set():
            raise OutdatedError
        self._at, self._total = begun.version, begun.total
        self._progress = Progress(True, 0, begun.total, self._version)
        self._job, _taken_up = self._write(lambda session: begin_job(session, begun.version, begun.total))

    def _advance(self, done: int, reused: int, made: Mapping[str, Mapping[str, Any]]) -> None:
        """Keep what was fitted, note how far it is, and stop if it is outdated."""

        def keep(session: Session) -> int:
            keep_fits(session, made)
            advance_job(session, self._job, done, reused)
            return tables_version(session, FITTED_TABLES)

        now = self._write(keep)
        self._progress = Progress(True, min(done, self._total), self._total, self._version)
        if self._ended.is_set() or self._exchanged.is_set() or now != self._at:
            raise OutdatedError

    def _write(self, work: Any) -> Any:
        """Do a short piece of writing in a transaction of its own."""
        with self._open_session() as session:
            session.connection(execution_options=WRITER)
            result = work(session)
            session.commit()
            return result


def _finish(session: Session, job: int, needed: set[str]) -> None:
    """A job is done: no other fits are needed any more (none were asked for where the whole was known already)."""
    if needed:
        drop_other_fits(session, needed)
    end_job(session, job, JobState.DONE)
