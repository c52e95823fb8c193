"""Results kept until what they were computed from changes: by question and version of the tables."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from typing import TypeVar, cast

from sqlalchemy.orm import Session

from tidy_tinder.services.journal import tables_version

T = TypeVar("T")

_MOST_KEPT = 64

# What marks and charts are computed from. Ticking a pencil leaves them valid.
CHART_TABLES = ("colour_range", "colour")
MARK_TABLES = (*CHART_TABLES, "paper", "swatch")
# What is known of a colour beside its chart: what own fade tests have shown.
COLOUR_TABLES = (*CHART_TABLES, "fade_result")


class Cache:
    """What was computed from one collection."""

    def __init__(self) -> None:
        self._kept: OrderedDict[Hashable, object] = OrderedDict()
        self._under_way: dict[Hashable, threading.Lock] = {}
        self._lock = threading.Lock()

    def forget(self) -> None:
        """Forget everything: another database stands in the place of the one it was computed from."""
        with self._lock:
            self._kept.clear()

    def for_version(self, session: Session, question: Hashable, tables: Sequence[str], compute: Callable[[], T]) -> T:
        """What `compute` gives from `tables` as they are now; computed once for each version of them."""
        key = (question, tables_version(session, tables))
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return cast(T, self._kept[key])
            under_way = self._under_way.setdefault(key, threading.Lock())
        # Whoever asks for what another thread is computing waits for it: twice the work would take twice as long.
        # What is computed asks only for what lies below it (cards, marks, rows), so no two can wait for each other.
        with under_way:
            with self._lock:
                if key in self._kept:
                    return cast(T, self._kept[key])
            try:
                result = compute()
                self._keep(key, result)
            finally:
                with self._lock:
                    self._under_way.pop(key, None)
        return result

    def _keep(self, key: Hashable, result: object) -> None:
        with self._lock:
            self._kept[key] = result
            while len(self._kept) > _MOST_KEPT:
                self._kept.popitem(last=False)
