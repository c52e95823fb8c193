"""Results kept until what they were computed from changes: by database, question and version."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from typing import TypeVar, cast

from sqlalchemy.orm import Session

from tidy_tinder.services.journal import tables_version

T = TypeVar("T")

_MOST_KEPT = 64
_kept: OrderedDict[Hashable, object] = OrderedDict()
_under_way: dict[Hashable, threading.Lock] = {}
_lock = threading.Lock()


# What marks and charts are computed from. Ticking a pencil leaves them valid.
CHART_TABLES = ("colour_range", "colour")
MARK_TABLES = (*CHART_TABLES, "paper", "swatch")


def forget_all() -> None:
    """Forget everything: another database stands in the place of the one it was computed from."""
    with _lock:
        _kept.clear()


def for_version(session: Session, question: Hashable, tables: Sequence[str], compute: Callable[[], T]) -> T:
    """What `compute` gives from `tables` as they are now; computed once for each version of them."""
    key = (str(session.get_bind().engine.url), question, tables_version(session, tables))
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return cast(T, _kept[key])
        under_way = _under_way.setdefault(key, threading.Lock())
    # Whoever asks for what another thread is computing waits for it: twice the work would take twice as long.
    # What is computed asks only for what lies below it (cards, marks, rows), so no two can wait for each other.
    with under_way:
        with _lock:
            if key in _kept:
                return cast(T, _kept[key])
        try:
            result = compute()
            with _lock:
                _kept[key] = result
                while len(_kept) > _MOST_KEPT:
                    _kept.popitem(last=False)
        finally:
            with _lock:
                _under_way.pop(key, None)
    return result
