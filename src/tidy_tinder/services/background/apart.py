"""Pencils fitted in a process of its own: in a thread of this one, long fitting takes the interpreter from whoever asks
for a page meanwhile.

Run as a module it is that process: it reads questions from its input and ends with it, so it outlives nobody.
"""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Sequence
from contextlib import suppress
from typing import BinaryIO

from tidy_tinder.core.layering.fitting.evidence import Evidence
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.vocabulary import PrintedOpacity

# Whoever waits for a page goes before it.
_NICER = 19


class ApartFits:
    """Fits pencils in another process, which is begun by the first question and ended by `close`."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None

    def fit(
        self, evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float
    ) -> Sequence[PencilFit]:
        """As `fit_pencils` answers. Where the other process ends before it has, this one does its work."""
        try:
            process = self._running()
            pickle.dump((evidence, opacities, hand), _pipe(process.stdin))
            _pipe(process.stdin).flush()
            # What is read was written by a program of ours, begun by us, through a pipe that nobody else has.
            fits: Sequence[PencilFit] = pickle.load(_pipe(process.stdout))
        except (OSError, EOFError, pickle.UnpicklingError):
            self.close()
            return fit_pencils(evidence, opacities, hand)
        return fits

    def close(self) -> None:
        """End the other process, if there is one."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()
            for pipe in (self._process.stdin, self._process.stdout):
                with suppress(OSError):  # what was still to be written has no reader any more
                    _pipe(pipe).close()
            self._process = None

    def _running(self) -> subprocess.Popen[bytes]:
        if self._process is None:
            # A session of its own: Ctrl+C is for the program, which then ends this one.
            self._process = subprocess.Popen(
                [sys.executable, "-m", __name__],
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True,
            )  # fmt: skip
        return self._process


def _pipe(end: object) -> BinaryIO:
    return end  # type: ignore[return-value]  # both ends are pipes, as they were asked for


def _answer(questions: BinaryIO, answers: BinaryIO) -> None:
    """Answer questions until there are no more."""
    os.nice(_NICER)
    while True:
        try:
            evidence, opacities, hand = pickle.load(questions)
        except EOFError:
            return
        pickle.dump(fit_pencils(evidence, opacities, hand), answers)
        answers.flush()


if __name__ == "__main__":
    _answer(sys.stdin.buffer, sys.stdout.buffer)
