"""A small disk that can be filled up, where the machine lets one be mounted."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path


@contextmanager
def small_disk(folder: Path, megabytes: int) -> Iterator[bool]:
    """Mount a disk of this size, in memory, on a folder that is made; whether it could be."""
    folder.mkdir(parents=True, exist_ok=True)
    asked = ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tidy-tinder-test", str(folder)]
    mounted = subprocess.run(asked, check=False, capture_output=True).returncode == 0
    try:
        yield mounted
    finally:
        if mounted:
            subprocess.run(["umount", "--lazy", str(folder)], check=True)


@contextmanager
def full(folder: Path) -> Iterator[None]:
    """Leave no room on the disk of a folder for as long as the block goes on."""
    ballast = folder / "ballast"
    # Without a buffer: what did not go in would be tried once more when the file is closed.
    with ballast.open("wb", buffering=0) as file, suppress(OSError):
        while True:
            file.write(bytes(65_536))
    try:
        yield
    finally:
        ballast.unlink()
