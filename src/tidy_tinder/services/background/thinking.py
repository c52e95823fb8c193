"""Questions that take a while: worked on in a thread of their own, each answer better than the one before.

One question is worked on at a time: a newer one stops it. The last few answers are kept, by all that they rest on.
"""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from dataclasses import dataclass, field
from typing import Generic, TypeAlias, TypeVar

T = TypeVar("T")

_log = logging.getLogger(__name__)

_MOST_KEPT = 8
_END_SECONDS = 10.0


@dataclass(frozen=True)
class SoFar(Generic[T]):
    """answer: the best there is yet; done of total: how far the work is (0 of 0 where it cannot be said), and on what;
    ended: nothing better comes; stopped: because it was told to stop; failed: because of a mistake of the program.
    """

    answer: T | None
    doing: str
    done: int
    total: int
    ended: bool
    stopped: bool
    failed: bool


@dataclass(frozen=True)
class Doing:
    """What is being done, and how far it is."""

    what: str
    done: int
    total: int


GoOn: TypeAlias = Callable[[], bool]
"""Asked now and then while working: whether to go on."""


@dataclass(eq=False)
class _Work(Generic[T]):
    answer: T | None = None
    doing: Doing = field(default_factory=lambda: Doing("", 0, 0))
    failed: bool = False
    news: threading.Event = field(default_factory=threading.Event)
    ended: threading.Event = field(default_factory=threading.Event)
    stop: threading.Event = field(default_factory=threading.Event)
    thread: threading.Thread | None = None


class Thinking(Generic[T]):
    """The questions of one collection."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._works: OrderedDict[Hashable, _Work[T]] = OrderedDict()
        self._lock = threading.Lock()
        self._closed = False

    def about(
        self, key: Hashable, think: Callable[[GoOn], Iterator[T | Doing]], wait: float = 0.0, again: bool = False
    ) -> SoFar[T]:
        """What is known of a question so far; it is begun where it is not there yet.

        think: gives answers, each better than the one before, and what is being done between them. wait: seconds to
        wait for the first answer, None being there. again: begin anew what was stopped or failed.
        """
        with self._lock:
            work = self._works.get(key)
            if work is None or (again and work.ended.is_set() and (work.failed or work.stop.is_set())):
                work = self._begin(key, think)
            self._works.move_to_end(key)
        if work.answer is None:
            work.news.wait(wait)
        return _so_far(work)

    def stop(self, key: Hashable) -> None:
        """Stop working on a question; what was found stands."""
        with self._lock:
            if key in self._works:
                self._works[key].stop.set()

    def forget(self) -> None:
        """Another collection stands in the place of this one."""
        with self._lock:
            for work in self._works.values():
                work.stop.set()
            self._works.clear()

    def close(self) -> None:
        """Stop, and wait until it has stopped; nothing is begun any more."""
        with self._lock:
            self._closed = True
            threads = [work.thread for work in self._works.values() if work.thread is not None]
        self.forget()
        for thread in threads:
            thread.join(timeout=_END_SECONDS)

    def _begin(self, key: Hashable, think: Callable[[GoOn], Iterator[T | Doing]]) -> _Work[T]:
        """Begin, and stop what is outdated; the caller holds the lock."""
        for other in [k for k, work in self._works.items() if k == key or not work.ended.is_set()]:
            self._works.pop(other).stop.set()
        work: _Work[T] = _Work()
        self._works[key] = work
        while len(self._works) > _MOST_KEPT:
            self._works.popitem(last=False)[1].stop.set()
        if self._closed:
            _end(work)
            return work
        work.thread = threading.Thread(target=self._work, args=(work, think), name=self._name, daemon=True)
        work.thread.start()
        return work

    def _work(self, work: _Work[T], think: Callable[[GoOn], Iterator[T | Doing]]) -> None:
        try:
            for news in think(lambda: not work.stop.is_set()):
                if isinstance(news, Doing):
                    work.doing = news
                else:
                    work.answer = news
                    work.news.set()
                if work.stop.is_set():
                    return
        except Exception:
            # A thread has nobody to raise to: that it failed is kept, and said to whoever asks.
            _log.exception("%s failed.", self._name)
            work.failed = True
        finally:
            _end(work)


def _end(work: _Work[T]) -> None:
    work.ended.set()
    work.news.set()


def _so_far(work: _Work[T]) -> SoFar[T]:
    ended = work.ended.is_set()
    doing = work.doing
    return SoFar(
        work.answer, doing.what, doing.done, doing.total, ended, ended and work.stop.is_set(), work.failed
    )  # fmt: skip
