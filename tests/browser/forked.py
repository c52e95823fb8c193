"""`tidy-tinder serve` as a process of its own, forked from one that has loaded all its modules.

Loading them is most of what a start costs (some three seconds of a core), and a test of a page is not about that. What
runs is the command's own `main`, with its arguments, its streams, its signals; `tests/test_cli.py`, `tests/storage` and
`tests/soak` start it by its name, as a shell does.
"""

from __future__ import annotations

import io
import os
import signal
import sys
import threading
from collections.abc import Mapping, Sequence
from multiprocessing import get_context
from multiprocessing.reduction import DupFd
from typing import IO, TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from multiprocessing.context import ForkServerProcess

_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload(["tidy_tinder.cli", "tidy_tinder.commands.serve", "tidy_tinder.commands.serving"])


class _Passed(Protocol):
    """A descriptor on its way to another process."""

    def detach(self) -> int: ...


class Forked:
    """The command, running; what of `subprocess.Popen` the tests use."""

    def __init__(self, arguments: Sequence[str], env: Mapping[str, str]) -> None:
        self.stdout, out = _pipe()
        self.stderr, err = _pipe()
        self._process: ForkServerProcess = _CONTEXT.Process(target=_Run(list(arguments), dict(env), out, err))
        self._process.start()
        os.close(out)
        os.close(err)
        self._said = ["", ""]

    @property
    def pid(self) -> int:
        """Its number."""
        assert self._process.pid is not None
        return self._process.pid

    @property
    def returncode(self) -> int | None:
        """What it ended with, minus the signal that ended it; None while it runs."""
        return self._process.exitcode

    def poll(self) -> int | None:
        """What it ended with; None while it runs."""
        return self.returncode

    def send_signal(self, number: int) -> None:
        """Send it a signal, unless it has ended."""
        if self.returncode is None:
            os.kill(self.pid, number)

    def terminate(self) -> None:
        """Ask it to end."""
        self.send_signal(signal.SIGTERM)

    def kill(self) -> None:
        """End it."""
        self.send_signal(signal.SIGKILL)

    def communicate(self, timeout: float | None = None) -> tuple[str, str]:
        """Wait until it has ended; what it wrote to its streams, which are closed."""
        readers = [threading.Thread(target=self._read, args=(n,), daemon=True) for n in (0, 1)]
        for reader in readers:
            reader.start()
        self._process.join(timeout)
        if self.returncode is None:
            raise TimeoutError(f"process {self.pid} did not end within {timeout} s")
        for reader in readers:
            reader.join()
        return self._said[0], self._said[1]

    def _read(self, number: int) -> None:
        stream = (self.stdout, self.stderr)[number]
        if not stream.closed:
            with stream:
                self._said[number] += stream.read()


class _Run:
    """What the forked process does."""

    def __init__(self, arguments: list[str], env: dict[str, str], out: int, err: int) -> None:
        self._arguments, self._env, self._streams = arguments, env, (out, err)

    def __getstate__(self) -> tuple[list[str], dict[str, str], tuple[_Passed, _Passed]]:
        out, err = self._streams
        return self._arguments, self._env, (DupFd(out), DupFd(err))

    def __setstate__(self, state: tuple[list[str], dict[str, str], tuple[_Passed, _Passed]]) -> None:
        self._arguments, self._env, (out, err) = state
        self._streams = (out.detach(), err.detach())

    def __call__(self) -> None:
        from tidy_tinder.cli import main  # loaded by the process that was forked, not by each test's

        for target, descriptor in zip((1, 2), self._streams, strict=True):
            os.dup2(descriptor, target)
            os.close(descriptor)
        sys.stdout, sys.stderr = (io.TextIOWrapper(io.FileIO(n, "w"), line_buffering=True) for n in (1, 2))
        os.environ.clear()
        os.environ.update(self._env)
        sys.argv = ["tidy-tinder", *self._arguments]
        main()


def _pipe() -> tuple[IO[str], int]:
    reading, writing = os.pipe()
    return os.fdopen(reading, encoding="utf-8"), writing
