"""How long each kind of question took to answer since the program was started, for the diagnosis file."""

from __future__ import annotations

import threading
import time
from collections import defaultdict, deque
from dataclasses import dataclass, field
from http import HTTPStatus
from statistics import median

from flask import Flask, Response, g, request

from tidy_tinder.services.exchange.diagnosis import AnswerTimes

# Of each kind of question so many of the last answers are timed.
_LAST = 200


@dataclass(eq=False)
class _Kind:
    milliseconds: deque[float] = field(default_factory=lambda: deque(maxlen=_LAST))
    asked: int = 0
    refused: int = 0
    failed: int = 0

    def note(self, milliseconds: float, status: int) -> None:
        self.milliseconds.append(milliseconds)
        self.asked += 1
        self.refused += HTTPStatus.BAD_REQUEST <= status < HTTPStatus.INTERNAL_SERVER_ERROR
        self.failed += status >= HTTPStatus.INTERNAL_SERVER_ERROR


class Clock:
    """Times the answers of one application, by the rule of the address and never by the address itself."""

    def __init__(self, app: Flask) -> None:
        self._kinds: defaultdict[str, _Kind] = defaultdict(_Kind)
        self._lock = threading.Lock()
        app.before_request(self._begin)
        app.after_request(self._end)

    def times(self) -> tuple[AnswerTimes, ...]:
        """Of each kind that was asked, by name."""
        with self._lock:
            return tuple(
                AnswerTimes(
                    name, kind.asked, round(median(kind.milliseconds), 1), round(max(kind.milliseconds), 1),
                    kind.refused, kind.failed,
                )
                for name, kind in sorted(self._kinds.items())
            )  # fmt: skip

    def _begin(self) -> None:
        g.begun = time.perf_counter()

    def _end(self, response: Response) -> Response:
        # The rule of an address that is none, and so what somebody typed, is left out.
        if request.url_rule is not None and "begun" in g:
            with self._lock:
                kind = self._kinds[f"{request.method} {request.url_rule.rule}"]
                kind.note(1000 * (time.perf_counter() - g.begun), response.status_code)
        return response
