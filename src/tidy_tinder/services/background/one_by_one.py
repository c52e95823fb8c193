"""Pictures worked on one after another in the background; each can be stopped, and a program that ends is taken up."""

from __future__ import annotations

import logging
import threading
from abc import ABC, abstractmethod

from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection

_log = logging.getLogger(__name__)
_END_SECONDS = 10.0


class OneByOne(ABC):
    """Works on what waits in one collection, the first one first."""

    def __init__(self, collection: Collection, name: str) -> None:
        self._collection = collection
        self._name = name
        self._wanted = threading.Event()
        self._ended = threading.Event()
        self._lock = threading.Lock()
        self._at: tuple[int, OtherProcess] | None = None
        self._thread: threading.Thread | None = None

    def begin(self) -> None:
        """Go on where the last program was."""
        if self._take_up():
            self.wake()

    def wake(self) -> None:
        """There may be something that waits."""
        self._wanted.set()
        with self._lock:
            if self._thread is None and not self._ended.is_set():
                self._thread = threading.Thread(target=self._run, name=self._name, daemon=True)
                self._thread.start()

    def stop(self, number: int) -> None:
        """Stop working on this one, if it is the one that is worked on."""
        with self._lock:
            if self._at is not None and self._at[0] == number:
                self._at[1].stop()

    def exchanged(self) -> None:
        """Another collection stands in the place of this one: what was being worked on belongs to the old one."""
        self._stop_any()
        self.begin()

    def close(self) -> None:
        """End, in the middle of one if need be: the next program takes it up."""
        self._ended.set()
        self._wanted.set()
        self._stop_any()
        if self._thread is not None:
            self._thread.join(timeout=_END_SECONDS)

    @abstractmethod
    def _take_up(self) -> int:
        """Let what an ended program was working on wait again; how many wait."""

    @abstractmethod
    def _next(self) -> int | None:
        """The one that has waited longest; it is worked on from now on."""

    @abstractmethod
    def _work(self, number: int, process: OtherProcess) -> None:
        """Work on it and keep what came of it, unless the process was stopped."""

    @abstractmethod
    def _failed(self, number: int) -> None:
        """Keep that it failed for a reason that is a mistake of the program."""

    def _run(self) -> None:
        while True:
            self._wanted.wait()
            self._wanted.clear()
            while not self._ended.is_set() and (number := self._next()) is not None:
                self._one(number)
            if self._ended.is_set():
                return

    def _one(self, number: int) -> None:
        process = OtherProcess()
        with self._lock:
            if self._ended.is_set():
                return
            self._at = (number, process)
        try:
            self._work(number, process)
        except Exception:
            # The thread must outlive whatever goes wrong with one picture.
            _log.exception("Working on one of the %s failed.", self._name)
            self._failed(number)
        finally:
            with self._lock:
                self._at = None

    def _stop_any(self) -> None:
        with self._lock:
            if self._at is not None:
                self._at[1].stop()
