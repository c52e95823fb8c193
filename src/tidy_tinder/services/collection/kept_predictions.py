"""Predicted marks kept in a file beside the collection, so that the next program need not predict them again.

The file holds for one content of the collection, as its fits rest on it, and for one program; another is passed over.
"""

from __future__ import annotations

import logging
import zipfile
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any, TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.storage.installed import changed_at

_log = logging.getLogger(__name__)

OnPaper: TypeAlias = tuple[int, int]
"""A paper, and layers of one pencil."""
Marks: TypeAlias = tuple[Lab, NDArray[np.float64]]
"""Lab (N, 3, 3) and bands (N, 3) of pencils by pressure."""


class KeptPredictions:
    """The file of one collection."""

    def __init__(self, folder: Path) -> None:
        self._file = folder / "predictions.npz"
        self._read: tuple[str, dict[OnPaper, Marks]] | None = None
        self._written: tuple[str, frozenset[OnPaper]] | None = None

    def of(self, content: str, on: OnPaper, pencils: Sequence[int]) -> Marks | None:
        """The marks of these pencils on a paper, for a content of the collection; None where they are not kept. Each is
        given once.
        """
        if self._read is None:
            self._read = (content, self._all(content, pencils))
        of, marks = self._read
        return marks.pop(on, None) if of == content else None

    def keep(self, content: str, pencils: Sequence[int], marks: Mapping[OnPaper, Marks]) -> None:
        """Write what was predicted; what cannot be written is predicted again by the next program."""
        all_of_it = (content, frozenset(marks))
        if not marks or self._written == all_of_it:
            return
        arriving = self._file.with_name("predictions.arriving.npz")
        arrays: dict[str, NDArray[Any]] = {"of": np.array(_of(content)), "pencils": np.array(pencils, dtype=np.int64)}
        for (paper, layers), (lab, band) in marks.items():
            arrays |= {f"lab {paper} {layers}": lab, f"band {paper} {layers}": band}
        try:
            self._file.parent.mkdir(exist_ok=True)
            np.savez(arriving, allow_pickle=False, **arrays)
            arriving.replace(self._file)
            self._written = all_of_it
        except OSError as problem:
            _log.warning("Predictions were not kept for the next start: %s", problem)
            with suppress(OSError):
                arriving.unlink(missing_ok=True)

    def _all(self, content: str, pencils: Sequence[int]) -> dict[OnPaper, Marks]:
        try:
            # NumPy itself leaves a file open that turns out to be none of its own.
            with self._file.open("rb") as opened, np.load(opened, allow_pickle=False) as arrays:
                if str(arrays["of"]) != _of(content) or arrays["pencils"].tolist() != list(pencils):
                    return {}
                kept = {
                    (int(paper), int(layers)): (arrays[name], arrays[f"band {paper} {layers}"])
                    for name in arrays.files
                    if name.startswith("lab ")
                    for _, paper, layers in (name.split(),)
                }
        except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
            return {}
        shape = (len(pencils), 3)
        return {on: (lab, band) for on, (lab, band) in kept.items() if (lab.shape, band.shape) == ((*shape, 3), shape)}


def _of(content: str) -> str:
    return f"{content} {changed_at()}"
