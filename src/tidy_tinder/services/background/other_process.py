"""One question to a process of its own, answered in lines of JSON; it can be stopped at once.

Whatever a file holds, the program that serves stays well, and nothing that comes from a file is ever unpickled.
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import threading
from collections.abc import Iterator, Sequence
from typing import Any, BinaryIO, cast

# What one picture may take.
_MOST_ADDRESSES = 4_000_000_000  # libraries reserve more than they use
_MOST_SECONDS = 120


class OtherProcess:
    """A module that is run as a process for one question."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._stopped = False
        self._lock = threading.Lock()

    @property
    def stopped(self) -> bool:
        """Whether it was told to stop."""
        return self._stopped

    def answers(self, module: str, question: Sequence[bytes]) -> Iterator[dict[str, Any]]:
        """Each line that the module answers to what is written to it; it ends where the process ends."""
        with self._lock:
            if self._stopped:
                return
            # A session of its own: Ctrl+C is for the program, which then ends this one.
            self._process = subprocess.Popen(
                [sys.executable, "-m", module],
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True,
            )  # fmt: skip
        process = self._process
        with process, cast(BinaryIO, process.stdin) as asks, cast(BinaryIO, process.stdout) as answers:
            try:
                for part in question:
                    asks.write(part)
                # Its end is the end of the question.
                asks.close()
                for line in answers:
                    yield json.loads(line)
            except (OSError, ValueError):
                return  # it ended in the middle, by itself or because it was stopped
            finally:
                process.kill()

    def stop(self) -> None:
        """End it at once."""
        with self._lock:
            self._stopped = True
            if self._process is not None:
                self._process.kill()


def keep_within_limits() -> None:
    """Called by such a process first: it may take so much memory and time, and is ended beyond."""
    resource.setrlimit(resource.RLIMIT_AS, (_MOST_ADDRESSES, _MOST_ADDRESSES))
    resource.setrlimit(resource.RLIMIT_CPU, (_MOST_SECONDS, _MOST_SECONDS))


def say(answers: BinaryIO, answer: dict[str, Any]) -> None:
    """One line of an answer."""
    answers.write(json.dumps(answer).encode() + b"\n")
    answers.flush()
