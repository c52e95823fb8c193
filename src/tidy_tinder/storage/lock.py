"""One program on one collection: a lock beside the database, held while it is served."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tidy_tinder.storage.errors import CollectionInUseError


@contextmanager
def only_program(database: Path, doing: str) -> Iterator[None]:
    """Hold the collection for one program; doing is what another one is told, such as its address.

    The lock is the operating system's: it ends with the program, however that ends. Raises CollectionInUseError.
    """
    database.parent.mkdir(parents=True, exist_ok=True)
    path = database.with_suffix(".lock")
    with path.open("a+", encoding="utf-8") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            file.seek(0)
            who = file.read(400).strip() or "another Tidy Tinder"
            raise CollectionInUseError(
                f"{database} is in use by {who}. Work there, or stop it first, or choose another folder with --data; "
                "nothing was changed."
            ) from None
        file.truncate(0)
        file.write(f"process {os.getpid()}, {doing}")
        file.flush()
        yield
