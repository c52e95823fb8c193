"""The last few of something that takes a while to make and much memory to keep."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class Few(Generic[T]):
    """At most `most` results, those asked for last. Two who ask at once for the same may both make it."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, key: Hashable, make: Callable[[], T]) -> T:
        """What is kept by this key, made where it is not."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made

    def forget(self) -> None:
        """Keep none of them any longer."""
        with self._lock:
            self._kept.clear()
