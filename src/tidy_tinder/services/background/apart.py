"""Work done in a process of its own: in a thread of this one, long work takes the interpreter from whoever asks for a
page meanwhile.

Run as a module it is that process: it reads questions from its input and ends with it, so it outlives nobody.
"""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any, BinaryIO, Concatenate, ParamSpec, TypeVar

P = ParamSpec("P")
T = TypeVar("T")

Say = Callable[[Any], None]

# Whoever waits for a page goes before it. Beside sessions that want a whole core it keeps a tenth (weights 110 and
# 1024, sched(7)); at 19 it had a hundredth, and on a machine that is busy with something else it came to no end.
_NICER, _SESSION_NICER = 19, 10
_AUTOGROUP = Path("/proc/self/autogroup")


class OutdatedError(Exception):
    """The marks changed, or the program ends, while the fitter works."""


class _GoneError(Exception):
    """The other process is not there, or not any more."""


class Apart:
    """Another process of this program, which is begun by the first question and ended by `close`."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._over = False

    def ask(self, heard: Say, work: Callable[Concatenate[Say, P], T], *given: P.args, **named: P.kwargs) -> T:
        """What a function of a module of ours answers there; `heard` is given here what it says there meanwhile.

        Where the other process ends before it has answered, this one does its work, from the beginning. Raises
        OutdatedError after `close`, and whatever `heard` raises, which ends the other process.
        """
        try:
            process = self._sent((work, given, named))
            while True:
                answered, what = _read(process)
                if answered:
                    return what  # type: ignore[no-any-return] # what `work` returned
                self._hear(heard, what)
        except _GoneError:
            if self._over:
                raise OutdatedError from None
            self._end()
            return work(heard, *given, **named)

    def close(self) -> None:
        """End the other process, if there is one, and answer nothing more; from any thread."""
        self._over = True
        self._end()

    def _hear(self, heard: Say, what: Any) -> None:
        try:
            heard(what)
        except BaseException:
            self._end()  # it would go on with what nobody waits for
            raise

    def _end(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            process.kill()
            process.wait()
            for pipe in (process.stdin, process.stdout):
                with suppress(OSError):  # what was still to be written has no reader any more
                    _pipe(pipe).close()

    def _sent(self, question: object) -> subprocess.Popen[bytes]:
        """The process, begun if need be, with a question on its way to it."""
        if self._over:
            raise OutdatedError
        try:
            if self._process is None:
                # A session of its own: Ctrl+C is for the program, which then ends this one.
                self._process = subprocess.Popen(
                    [sys.executable, "-m", __name__],
                    stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True,
                )  # fmt: skip
            process = self._process
            pickle.dump(question, _pipe(process.stdin))
            _pipe(process.stdin).flush()
        except (OSError, ValueError) as gone:
            raise _GoneError from gone
        return process


def _read(process: subprocess.Popen[bytes]) -> tuple[bool, Any]:
    """What it says next, and whether that is its answer."""
    try:
        # What is read was written by a program of ours, begun by us, through a pipe that nobody else has.
        answered, what = pickle.load(_pipe(process.stdout))
    except (OSError, EOFError, ValueError, pickle.UnpicklingError) as gone:
        raise _GoneError from gone
    return bool(answered), what


def _pipe(end: object) -> BinaryIO:
    return end  # type: ignore[return-value]  # both ends are pipes, as they were asked for


def _let_others_go_first() -> None:
    """Take little of the machine where others want it.

    Linux may share it out among sessions first, and within one by niceness: then this one, which is of its own, has a
    niceness as a whole (sched(7), “The autogroup feature”).
    """
    os.nice(_NICER)
    with suppress(OSError):
        _AUTOGROUP.write_text(str(_SESSION_NICER), encoding="ascii")


def _answer(questions: BinaryIO, answers: BinaryIO) -> None:
    """Answer questions until there are no more."""
    _let_others_go_first()

    def write(answered: bool, what: object) -> None:
        pickle.dump((answered, what), answers)
        answers.flush()

    while True:
        try:
            work, given, named = pickle.load(questions)
        except EOFError:
            return
        write(True, work(lambda said: write(False, said), *given, **named))


if __name__ == "__main__":
    _answer(sys.stdin.buffer, sys.stdout.buffer)
