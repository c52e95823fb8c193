"""Mixed tables kept in files beside the collection, so that the next program need not mix them again.

A file is named by all that its table is worked out from; whatever is missing, cut or of another make is mixed anew.
"""

from __future__ import annotations

import hashlib
import logging
import zipfile
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path

import numpy as np

from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layers import Coat
from tidy_tinder.core.standins.pairs import PairTable

_log = logging.getLogger(__name__)

# Raised when pairs are mixed in another way, so that tables of an earlier program are not taken for its own.
_METHOD = "5"
# Files kept, the newest: each paper has one, and 160 pencils take some 12 MB.
_MOST_FILES = 6
_ARRAYS = ("L", "a", "b", "lower", "upper", "coat")


def fingerprint(models: Mapping[int, PencilModel], paper: PaperModel, coats: Sequence[Coat]) -> str:
    """Of all that a table is mixed from."""
    digest = hashlib.sha256(
        f"{_METHOD} {paper.grain!r} {paper.exponent!r} {paper.load_factors!r} {paper.by_chance!r} ".encode()
        + f"{paper.hold!r} {coats!r}".encode()
    )
    digest.update(np.ascontiguousarray(paper.body).tobytes())
    for key, model in models.items():
        digest.update(f"{key} {model.softness!r} {model.load_factors!r}".encode())
        digest.update(
            np.ascontiguousarray(model.absorption).tobytes() + np.ascontiguousarray(model.scattering).tobytes()
        )
    return digest.hexdigest()[:32]


class KeptTables:
    """The folder of the tables of one collection."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def read(self, name: str, keys: Sequence[int], coats: Sequence[Coat]) -> PairTable | None:
        """The table of this fingerprint; None where there is none that is whole."""
        file = self._file(name)
        try:
            # NumPy itself leaves a file open that turns out to be none of its own.
            with file.open("rb") as opened, np.load(opened, allow_pickle=False) as arrays:
                table = PairTable(tuple(keys), tuple(coats), *(arrays[part] for part in _ARRAYS))
        except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
            return None
        pairs = len(keys) * max(len(keys) - 1, 0) * len(coats) ** 2
        whole = all(getattr(table, part).shape == (pairs,) for part in _ARRAYS)
        return table if whole else None

    def keep(self, name: str, table: PairTable) -> None:
        """Write a table; one that cannot be written is mixed again by the next program."""
        file = self._file(name)
        arriving = file.with_suffix(".arriving.npz")
        try:
            self._folder.mkdir(exist_ok=True)
            np.savez(arriving, **{part: getattr(table, part) for part in _ARRAYS})
            arriving.replace(file)
            for old in sorted(self._folder.glob("pairs-*.npz"), key=lambda f: f.stat().st_mtime)[:-_MOST_FILES]:
                old.unlink(missing_ok=True)
        except OSError as problem:
            _log.warning("A mixed table was not kept for the next start: %s", problem)
            with suppress(OSError):
                arriving.unlink(missing_ok=True)

    def _file(self, name: str) -> Path:
        return self._folder / f"pairs-{name}.npz"
