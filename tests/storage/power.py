"""What a disk holds after the power is cut: of every file what was synced, and of the rest any pages or none.

The writes and syncs of a real program are told by strace. That a file is there, and is called so, is taken as kept at
once (its folder is not modelled); pages of 4,096 bytes are kept whole or not at all.
"""

from __future__ import annotations

import random
import re
import subprocess
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

PAGE = 4096
_CALLS = "pwrite64,write,fsync,fdatasync,ftruncate,unlink,unlinkat"
_LINE = re.compile(r"^(?P<thread>\d+)\s+(?P<call>\w+)\((?P<said>.*)$")
_RESUMED = re.compile(r"^(?P<thread>\d+)\s+<\.\.\. (?P<call>\w+) resumed>")
_FD = re.compile(r"^\d+<(?P<path>[^>]*)>")
_STRING = re.compile(r'"((?:\\x[0-9a-f]{2})*)"')
_NUMBERS = re.compile(r"-?\d+")


@dataclass(frozen=True)
class Event:
    """One thing that was done to a file; of a sync its beginning and its end. at: where it was written, or the
    size to which a file was cut."""

    kind: str
    path: Path
    content: bytes = b""
    at: int = 0
    thread: int = 0


def can_trace() -> bool:
    """Whether strace is here and may look at another program."""
    try:
        return subprocess.run(["strace", "-o", "/dev/null", "true"], check=False, capture_output=True).returncode == 0
    except OSError:
        return False


def traced(command: Sequence[str], folder: Path, log: Path, env: Mapping[str, str]) -> list[Event]:
    """Run a command to its end; what it did to the files in a folder, in order."""
    strace = ["strace", "-f", "-y", "-xx", "-s", "10000000", "--seccomp-bpf", "-e", f"trace={_CALLS}", "-o", str(log)]
    subprocess.run([*strace, *command], check=True, timeout=300, env=dict(env))
    return [event for event in _events(log) if event.path.is_relative_to(folder)]


def _events(log: Path) -> Iterator[Event]:
    syncing: dict[int, Path] = {}
    for line in log.read_text(encoding="ascii").splitlines():
        resumed, begun = _RESUMED.match(line), _LINE.match(line)
        if resumed and resumed["call"] in ("fsync", "fdatasync"):
            thread = int(resumed["thread"])
            yield Event("synced", syncing.pop(thread), thread=thread)
        elif begun:
            yield from _begun(begun["call"], begun["said"], int(begun["thread"]), syncing)


def _begun(call: str, said: str, thread: int, syncing: dict[int, Path]) -> Iterator[Event]:
    fd = _FD.match(said)
    path = Path(_plain(fd["path"])) if fd else Path()
    if call in ("fsync", "fdatasync"):
        yield Event("syncing", path, thread=thread)
        if said.endswith("<unfinished ...>"):
            syncing[thread] = path
        else:
            yield Event("synced", path, thread=thread)
    elif call in ("pwrite64", "write"):
        string = _STRING.search(said)
        assert string is not None, f"cut off in the log: {said[:200]}"
        content = bytes.fromhex(string[1].replace("\\x", ""))
        after = [int(n) for n in _NUMBERS.findall(said[string.end() :].split(" = ", maxsplit=1)[0])]
        yield Event("write", path, content, after[1] if call == "pwrite64" else -1)
    elif call == "ftruncate":
        yield Event("truncate", path, at=int(_NUMBERS.findall(said.split(">", maxsplit=1)[-1])[0]))
    else:
        named = _STRING.search(said)
        if named is not None:
            yield Event("unlink", Path(_plain(named[1])))


def _plain(path: str) -> str:
    return bytes.fromhex(path.replace("\\x", "")).decode() if path.startswith("\\x") else path


@dataclass
class _File:
    """A file on the disk: what is safe, and what was done to it since, in order."""

    safe: bytes = b""
    pending: list[Event] = field(default_factory=list)

    def settle(self, count: int) -> None:
        for event in self.pending[:count]:
            self.safe = _done(self.safe, event)
        del self.pending[:count]

    def after_a_cut(self, keeps: Callable[[], bool]) -> bytes:
        """What is left: each page that was not synced is kept or not; a cut or a growth of the file likewise."""
        content = self.safe
        for event in self.pending:
            for part in _pages(event):
                content = _done(content, part) if keeps() else content
        return content


def _pages(event: Event) -> Iterator[Event]:
    if event.kind == "truncate":
        yield event
        return
    at, content = event.at, event.content
    while content:
        room = PAGE - at % PAGE
        yield Event("write", event.path, content[:room], at)
        at, content = at + room, content[room:]


def _done(content: bytes, event: Event) -> bytes:
    if event.kind == "truncate":
        return content[: event.at].ljust(event.at, b"\0")
    return content[: event.at].ljust(event.at, b"\0") + event.content + content[event.at + len(event.content) :]


class Disk:
    """The files of a folder, as they were before the program began and as it changes them."""

    def __init__(self, files: dict[Path, bytes]) -> None:
        self._files = {path: _File(content) for path, content in files.items()}
        self._syncing: dict[int, int] = {}

    def do(self, event: Event) -> None:
        """Let the program do one thing."""
        file = self._files.setdefault(event.path, _File())
        match event.kind:
            case "syncing":
                self._syncing[event.thread] = len(file.pending)
            case "synced":
                # Only what was written before the sync began is promised.
                file.settle(self._syncing.pop(event.thread))
            case "unlink":
                del self._files[event.path]
            case _:
                file.pending.append(event)

    @property
    def unsynced(self) -> int:
        """Writes that a cut may take."""
        return sum(len(file.pending) for file in self._files.values())

    def cut(self, into: Path, of: Path, keeps: Callable[[], bool]) -> None:
        """Write what is left into a folder; of: the folder that the program wrote to."""
        for path, file in self._files.items():
            target = into / path.relative_to(of)
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(file.after_a_cut(keeps))


def keeping(kind: str, seed: int) -> Callable[[], bool]:
    """Which pages survive: none, all, or half of them by chance."""
    chance = random.Random(seed)
    return {"none": lambda: False, "all": lambda: True, "some": lambda: chance.random() < 0.5}[kind]
