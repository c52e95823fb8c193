"""A seeded random artist who works through HTTP with the real server, which is killed now and then in the middle.

What holds after everything: no answer is a server error; what was answered is there after a kill, whole; a kill leaves
a change wholly made or not at all; a restored backup is what was backed up; the file is sound; undo leads back to the
beginning. The clock jumps, by hours and by years, forwards and back; where a small disk can be mounted it is full now
and then, and what it does not take is refused in words and leaves nothing.
"""

from __future__ import annotations

import json
import os
import random
import sqlite3
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from contextlib import closing
from http.client import HTTPException
from pathlib import Path
from typing import Any

from tests.browser.conftest import Server
from tests.soak.disk import full
from tests.soak.stations import STATIONS, call_of
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.storage.models import Base, Journaled
from tidy_tinder.storage.soundness import check_has_paper, check_sound

Content = dict[str, frozenset[tuple[object, ...]]]
# What settings alone write to is no change of the collection, and not undone.
_BY_SETTINGS = frozenset({"bench", "prepared", "setting"})
_KINDS = {kind.__tablename__: kind for kind in Journaled.__subclasses__() if kind.__tablename__ not in _BY_SETTINGS}
_RECIPE = "Day {n}\nHeron\n{code}, light\nthen {other}, {how}\nWader 117 over it\n"
# Sent as they are; each must be refused.
_HOSTILE = (
    b"[" * 5000,
    b'{"colour_ids":[1e999],"owned":true}',
    b'{"colour_ids":"all","owned":7}',
    b"\xff\xfe",
    b"null",
)
_PATIENCE = 60.0
# What a full disk is told as (web/errors.py).
_NO_ROOM = (503, 507)
_MOST_CHANGES = 3


def content_of(database: Path) -> Content:
    """All rows of all tables that undo knows, without their revisions and without what settings change."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as connection:
        content: Content = {}
        for table, kind in sorted(_KINDS.items()):
            beside = {"revision", *kind.SETTINGS}
            columns = [c.name for c in Base.metadata.tables[table].columns if c.name not in beside]
            rows = connection.execute(f"SELECT {', '.join(columns)} FROM {table}")
            content[table] = frozenset(rows)
    return content


class _NoRoomError(Exception):
    """The disk was full, as it was meant to be, and the server said so."""


class Artist:
    """One artist with a collection of her own in a folder; demo: whether it is the demo's."""

    def __init__(self, folder: Path, seed: int) -> None:
        self._folder, self.rng = folder, random.Random(seed)
        self.database = folder / "collection.sqlite"
        self._jump = folder.parent / "jump"
        self._jump.write_text("0", encoding="ascii")
        self._server = self._served()
        self.beginning = content_of(self.database)
        self._backup: tuple[bytes, Content] | None = None
        self.done: dict[str, int] = {}
        self.changes: dict[str, int] = {}
        self._doing = ""
        self._is_full = False

    def _served(self) -> Server:
        """The real command, with a clock that jumps."""
        command = (sys.executable, "-m", "tests.soak.jumping")
        path = os.pathsep.join(sys.path)
        return Server("--demo", "--data", str(self._folder), command=command, JUMP=str(self._jump), PYTHONPATH=path)

    def work(self, actions: int, kills: int, full_disks: int = 0) -> None:
        """So many actions, with so many kills and full disks among them at random."""
        places = self.rng.sample(range(actions), kills + full_disks)
        killed, full_at = set(places[:kills]), set(places[kills:])
        for at in range(actions):
            act = self.rng.choice(_KILLED_IN if at in killed else _FULL_IN if at in full_at else _ACTS)
            self._doing = act.__name__
            if at in killed:
                self._killed_during(act)
            elif at in full_at:
                self._on_a_full_disk(act)
            else:
                act(self)
            self.done[act.__name__] = self.done.get(act.__name__, 0) + 1

    def end(self) -> None:
        """Take everything back, one by one, and look at the file: it is what it was at the beginning."""
        self._doing = "end"
        while (last := self.ask("GET", "/api/collection")["last"]) is not None:
            self.ask("POST", f"/api/changes/{last['id']}/undo")
        assert content_of(self.database) == self.beginning, differing(content_of(self.database), self.beginning)
        self._server.stop()
        check_sound(self.database)
        check_has_paper(self.database)

    def ask(self, method: str, path: str, body: object = None, may_be_refused: bool = False) -> Any:
        """What the server answers, or None where it refuses and may; anything else fails."""
        sent = None if body is None else json.dumps(body).encode()
        status, answer = self._send(method, path, sent, "application/json")
        if self._is_full and status in _NO_ROOM:
            assert b"kept" in answer, answer
            raise _NoRoomError
        assert status < 400 or (may_be_refused and status < 500), f"{method} {path}: {status} {answer[:300]!r}"
        if status >= 400:
            return None
        if method != "GET":
            self.changes[self._doing] = self.changes.get(self._doing, 0) + 1
        return json.loads(answer)

    def _send(self, method: str, path: str, sent: bytes | None, kind: str) -> tuple[int, bytes]:
        asked = urllib.request.Request(
            self._server.address.rstrip("/") + path, sent, {"Content-Type": kind}, method=method
        )
        try:
            with urllib.request.urlopen(asked, timeout=_PATIENCE) as answer:
                return answer.status, answer.read()
        except urllib.error.HTTPError as error:
            return error.code, error.read()

    def _killed_during(self, act: Callable[[Artist], None]) -> None:
        """Kill the server while it carries something out: afterwards that is wholly done, or not at all."""
        before = content_of(self.database)
        doing = threading.Thread(target=_whatever_comes, args=(act, self))
        doing.start()
        time.sleep(self.rng.uniform(0.0, 0.08))
        self._server.process.kill()
        self._server.process.communicate(timeout=30)
        doing.join(_PATIENCE)
        self._server = self._served()
        check_sound(self.database)
        # Some of what she does is two changes; what was made of them is taken back, and nothing else is there.
        for _ in range(_MOST_CHANGES):
            if content_of(self.database) == before:
                return
            self.ask("POST", f"/api/changes/{self.ask('GET', '/api/collection')['last']['id']}/undo")
        assert content_of(self.database) == before, differing(content_of(self.database), before)

    def _on_a_full_disk(self, act: Callable[[Artist], None]) -> None:
        """Do something while there is no room: it is refused in words, and then nothing of it is there, or it is done;
        with room again all goes on.
        """
        before = content_of(self.database)
        self._is_full = True
        with full(self._folder):
            try:
                act(self)
            except _NoRoomError:
                self.done["refused on a full disk"] = self.done.get("refused on a full disk", 0) + 1
        self._is_full = False
        for _ in range(_MOST_CHANGES):
            if content_of(self.database) == before:
                break
            self.ask("POST", f"/api/changes/{self.ask('GET', '/api/collection')['last']['id']}/undo")
        assert content_of(self.database) == before, differing(content_of(self.database), before)
        self.own()

    def jump(self) -> None:
        """Let the clock jump: an hour back as in autumn, a day, a machine that was off for a year, an empty battery."""
        hours = self.rng.choice([0, 0, -1, 1, 24, -24, 24 * 400, -24 * 365 * 5])
        self._jump.write_text(str(3600 * hours), encoding="ascii")

    # What she does. A refusal is an answer: she does not know all rules.

    def own(self) -> None:
        some = self.rng.sample(range(1, 401), self.rng.randint(1, 6))
        self.ask("POST", "/api/tidy/owned", {"colour_ids": some, "owned": self.rng.random() < 0.6})

    def lose(self) -> None:
        body = {"colour_ids": [self._colour(), self._colour()], "act": self.rng.choice(["lost", "found", "used up"])}
        self.ask("POST", "/api/tidy/pencils", body, may_be_refused=True)

    def move(self) -> None:
        body = {"colour_ids": [self._colour()], "act": "move", "tin": self.rng.choice(["Red tin", "Roll", ""])}
        self.ask("POST", "/api/tidy/pencils", body, may_be_refused=True)

    def pull(self) -> None:
        body = {"colour_ids": [self._colour()], "into": self.rng.random() < 0.7}
        self.ask("PUT", "/api/tray", body, may_be_refused=True)

    def swatch(self) -> None:
        rng = self.rng
        lab = [rng.uniform(15, 95), rng.uniform(-40, 40), rng.uniform(-40, 40)]
        body = {
            "colour_id": self._colour(),
            "paper_id": self._paper(),
            "pressure": rng.choice(MARK_PRESSURES),
            "lab": lab,
        }
        self.ask("POST", "/api/swatches", body)

    def paste(self) -> None:
        rng = self.rng
        text = _RECIPE.format(
            n=rng.randint(1, 99), code=rng.randint(101, 220), other=rng.randint(101, 220), how="heavy"
        )
        self.ask("POST", "/api/recipes", {"text": text})

    def choose(self) -> None:
        call = call_of(self)
        if call is not None:
            body = {"colour_id": self.rng.choice([None, self._colour()]), "revision": call["revision"]}
            self.ask("PUT", f"/api/calls/{call['id']}", body, may_be_refused=True)

    def stand_in(self) -> None:
        call = call_of(self)
        if call is not None:
            body = {"paper_id": 1, "colour_id": self.rng.choice([None, self._colour()])}
            self.ask("PUT", f"/api/calls/{call['id']}/choice", body, may_be_refused=True)

    def throw_away(self) -> None:
        recipes = self.ask("GET", "/api/recipes?paper=1")["recipes"]
        if len(recipes) > 3:
            self.ask("DELETE", f"/api/recipes/{self.rng.choice(recipes)['id']}", may_be_refused=True)

    def want(self) -> None:
        self.ask("POST", "/api/restock/list", {"colours": [self._colour()], "why": "a gap"}, may_be_refused=True)

    def buy(self) -> None:
        lines = self.ask("GET", "/api/restock/list")["lines"]
        if lines:
            self.ask("PUT", f"/api/restock/list/{self.rng.choice(lines)['id']}", {"ticked": True}, may_be_refused=True)
            self.ask("POST", "/api/restock/bought", may_be_refused=True)

    def draw(self) -> None:
        name = f"Drawing {self.rng.randint(1, 9999)}"
        body = {"name": name, "paper_id": self._paper(), "width_mm": 200, "height_mm": 250}
        self.ask("POST", "/api/drawings", body, may_be_refused=True)

    def sit(self) -> None:
        drawing = self.ask("GET", "/api/collection")["drawing"]
        if drawing is not None:
            path = f"/api/drawings/{drawing['id']}/sittings"
            self.ask("POST", path, may_be_refused=True)
            self.ask("POST", f"{path}/end", may_be_refused=True)

    def exchange(self) -> None:
        status, file = self._send("GET", "/api/swatches/file?kind=csv", None, "text/plain")
        assert status == 200
        status, answer = self._upload("/api/swatches/file", file, "swatches.csv")
        assert status == 200, answer[:300]
        assert json.loads(answer)["change"] is None, "what went out is here"

    def take_back(self) -> None:
        last = self.ask("GET", "/api/collection")["last"]
        if last is not None:
            self.ask("POST", f"/api/changes/{last['id']}/undo", may_be_refused=True)

    def offend(self) -> None:
        status, _ = self._send("POST", "/api/tidy/owned", self.rng.choice(_HOSTILE), "application/json")
        assert status == 422

    def look(self) -> None:
        for path in ("/api/tidy?paper=1", "/api/board", f"/api/colours/{self._colour()}?paper=2&closest=overall"):
            self.ask("GET", path, may_be_refused=True)

    def back_up(self) -> None:
        status, file = self._send("GET", "/api/collection/backup", None, "text/plain")
        assert status == 200
        self._backup = (file, content_of(self.database))

    def restore(self) -> None:
        if self._backup is not None and self.rng.random() < 0.3:
            file, content = self._backup
            status, answer = self._upload("/api/collection/restore", file, "backup.zip")
            assert status == 200, answer[:300]
            assert content_of(self.database) == content, differing(content_of(self.database), content)

    def _upload(self, path: str, file: bytes, name: str) -> tuple[int, bytes]:
        head = f'--X\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        return self._send("POST", path, head + file + b"\r\n--X--\r\n", "multipart/form-data; boundary=X")

    def _colour(self) -> int:
        return self.rng.randint(1, 400)

    def _paper(self) -> int:
        papers = self.ask("GET", "/api/collection")["papers"]
        return int(self.rng.choice(papers)["id"])


_ACTS: tuple[Callable[[Artist], None], ...] = (
    Artist.own, Artist.own, Artist.lose, Artist.move, Artist.pull, Artist.swatch, Artist.swatch, Artist.paste,
    Artist.choose, Artist.stand_in, Artist.stand_in, Artist.throw_away, Artist.want, Artist.buy, Artist.draw,
    Artist.sit, Artist.exchange, Artist.take_back, Artist.take_back, Artist.offend, Artist.look, Artist.back_up,
    Artist.restore, Artist.jump, *STATIONS,
)  # fmt: skip
# A kill in these leaves what is to be told otherwise: an undoing done, another collection in its place.
_KILLED_IN = tuple(act for act in _ACTS if act not in (Artist.take_back, Artist.back_up, Artist.restore))
# Files are sent past what knows of full disks.
_FULL_IN = tuple(act for act in _KILLED_IN if act not in (Artist.exchange, Artist.offend, Artist.jump))


def differing(one: Content, other: Content) -> dict[str, list[tuple[object, ...]]]:
    """Rows that are in one of two only, by table: what a failed comparison says."""
    return {table: sorted(one[table] ^ other[table], key=repr)[:4] for table in one if one[table] != other[table]}


def _whatever_comes(act: Callable[[Artist], None], artist: Artist) -> None:
    """An action whose server is killed under it: no answer comes, or half of one."""
    try:
        act(artist)
    except (OSError, HTTPException, AssertionError, ValueError):
        return
