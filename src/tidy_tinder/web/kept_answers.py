"""The answers that the first page needs, kept beside the collection, so that the door can give them at the next start.

They are asked for once more when the program rests and when it stops, and hold as long as the collection's file is
the very one that was left then and the program the same; the application, once it is there, is asked again for
whatever it fits anew.
Only the standard library is loaded here.
"""

from __future__ import annotations

import json
import logging
from collections.abc import Callable, Mapping
from contextlib import suppress
from pathlib import Path
from typing import Any

from tidy_tinder.storage.installed import changed_at

_log = logging.getLogger(__name__)

# What the first page asks for before it shows anything.
FIRST_ASKED = ("/api/collection", "/api/tidy", "/api/tray")


class KeptAnswers:
    """The kept answers of one collection. demo: whether it is served as the demo, which the page shows."""

    def __init__(self, database: Path, demo: bool = False) -> None:
        self._database = database
        self._demo = demo
        self._file = database.parent / "worked-out" / "first-page.json"
        self._read_of: Mapping[str, Any] | None = None

    def read(self) -> dict[str, str]:
        """Each address that was asked, with its answer; empty where they do not hold any more."""
        try:
            kept = json.loads(self._file.read_text(encoding="utf-8"))
            self._read_of = kept["of"]
            return dict(kept["answers"]) if self.still_hold() else {}
        except (OSError, ValueError, KeyError, TypeError):
            return {}

    def still_hold(self) -> bool:
        """Whether nothing was written since what was read was kept."""
        try:
            return self._read_of == self._of()
        except (OSError, ValueError):
            return False

    def keep(self, answers: Mapping[str, str]) -> None:
        """Write them; to be called when the collection is closed. Without them the next start takes a moment longer."""
        try:
            self._write(self._of(), answers)
        except (OSError, ValueError) as problem:
            _log.warning("The first page was not kept for the next start: %s", problem)

    def keep_of(self, ask: Callable[[], Mapping[str, str]]) -> None:
        """Ask and write them while the collection is open; not where anything was written meanwhile."""
        with suppress(OSError, ValueError):
            before = self._of()
            answers = ask()
            if self._of() == before:
                self._write(before, answers)

    def _write(self, of: Mapping[str, Any], answers: Mapping[str, str]) -> None:
        arriving = self._file.with_suffix(".arriving")
        try:
            self._file.parent.mkdir(exist_ok=True)
            arriving.write_text(json.dumps({"of": of, "answers": dict(answers)}), encoding="utf-8")
            arriving.replace(self._file)
        finally:
            with suppress(OSError):
                arriving.unlink(missing_ok=True)

    def _of(self) -> dict[str, Any]:
        """What the answers are made of: the collection's one file, and the program as it is installed.

        Raises OSError where there is no such file, ValueError where not all of it is in that one file.
        """
        log = self._database.with_name(f"{self._database.name}-wal")
        if log.exists() and log.stat().st_size > 0:
            raise ValueError("a log is left beside the file")
        file = self._database.stat()
        return {
            "inode": file.st_ino, "changed": file.st_mtime_ns, "bytes": file.st_size, "program": changed_at(),
            "demo": self._demo,
        }  # fmt: skip
