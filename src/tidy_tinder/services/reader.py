"""The colour reader at the table: connected, calibrated, read; a simulated one can be started and told things."""

from __future__ import annotations

import contextlib
import socketserver
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Finish, Pressure
from tidy_tinder.devices.colour_reader import ReaderInfo, ReaderReading, ReaderStatus, TcpColourReader
from tidy_tinder.devices.errors import NotConnectedError, ReaderError
from tidy_tinder.devices.simulated_reader import serve_demo_reader
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import existing
from tidy_tinder.services.collection.paper import find_paper, root_name
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch


@dataclass(frozen=True)
class ReaderState:
    """What is known of the reader now. follows: whether the simulated one is told what the session asks for.

    problem: why it cannot be asked at the moment, "" where it can.
    """

    connected: bool
    info: ReaderInfo | None
    status: ReaderStatus | None
    address: str
    follows: bool
    under_it: str
    problem: str


@dataclass(frozen=True)
class ReadColour:
    """One reading outside a session: its colour and its instrument."""

    colour: Patch
    reflectance: tuple[float, ...]
    instrument: str


@dataclass(frozen=True)
class MarkUnder:
    """A mark that lies under the reader."""

    colour_id: int
    paper_id: int
    pressure: Pressure
    layers: int = 1
    finish: Finish = Finish.DRY
    burnisher_id: int | None = None
    over_black: bool = False
    making: int = 0


_UNCONNECTED = ReaderState(False, None, None, "", True, "", "")
# Somebody who only looks at the reader's panel does not wait for a reading that is slow.
_WAIT_FOR_STATE_S = 0.2


class ReaderLink:
    """The one reader of a running program; its questions are asked one after another."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._reader: TcpColourReader | None = None
        self._info: ReaderInfo | None = None
        self._simulated: socketserver.TCPServer | None = None
        self._last_state = _UNCONNECTED
        self.follows = True
        self.under_it = ""

    def connect(self, host: str, port: int) -> ReaderInfo:
        """Connect to a reader; raises a ReaderError where none answers."""
        with self._lock:
            reader = TcpColourReader(host, port)
            info = reader.info()
            if self._reader is not None:
                self._reader.close()
            self._reader, self._info = reader, info
            return info

    def start_simulated(self) -> ReaderInfo:
        """Start the simulated reader in this program, where none runs yet, and connect to it."""
        with self._lock:
            if self._simulated is None:
                self._simulated = serve_demo_reader(0)
                threading.Thread(target=self._simulated.serve_forever, name="simulated reader", daemon=True).start()
            self.follows, self.under_it = True, ""
            return self.connect("127.0.0.1", int(self._simulated.socket.getsockname()[1]))

    def disconnect(self) -> None:
        """Let go of the reader."""
        with self._lock:
            if self._reader is not None:
                self._reader.close()
            self._reader = self._info = None

    def close(self) -> None:
        """Let go of the reader, and stop the simulated one where it was started here."""
        with self._lock:
            self.disconnect()
            if self._simulated is not None:
                self._simulated.shutdown()
                self._simulated.server_close()
                self._simulated = None

    def calibrate(self) -> None:
        """Calibrate on the white tile."""
        with self._lock:
            self._connected().calibrate()

    def read(self) -> tuple[ReaderReading, ReaderInfo]:
        """One reading, and by which instrument."""
        with self._lock:
            reader = self._connected()
            return reader.read(), self._info or reader.info()

    def fault(self, kind: str) -> None:
        """Let the simulated reader fail once."""
        with self._lock:
            self._connected().fault(kind)

    def place(self, words: str, paper: str, passes: Sequence[tuple[str, str]], **more: object) -> None:
        """Tell the simulated reader what lies under it; words say it to the artist."""
        with self._lock:
            self._connected().place(
                paper=paper, passes=[(pencil, str(pressure)) for pencil, pressure in passes], **more
            )
            self.under_it = words

    @property
    def simulated(self) -> bool:
        """Whether the connected reader is a simulated one."""
        return self._info is not None and self._info.simulated

    @property
    def info(self) -> ReaderInfo | None:
        """Which instrument is connected, None where none is; it is not asked."""
        return self._info

    def state(self) -> ReaderState:
        """What is known of it now; asks it how it is, unless it is answering somebody else just then."""
        if not self._lock.acquire(timeout=_WAIT_FOR_STATE_S):
            return self._last_state
        try:
            self._last_state = self._asked_state()
            return self._last_state
        finally:
            self._lock.release()

    def _asked_state(self) -> ReaderState:
        if self._reader is None or self._info is None:
            return replace(_UNCONNECTED, follows=self.follows)
        address = f"{self._reader.address[0]}:{self._reader.address[1]}"
        under = self.under_it if self.simulated else ""
        try:
            status, problem = self._reader.status(), ""
        except ReaderError as error:
            status, problem = None, f"{error.title}. {error.detail}"
        return ReaderState(True, self._info, status, address, self.follows, under, problem)

    def _connected(self) -> TcpColourReader:
        if self._reader is None:
            raise NotConnectedError(
                "Connect a reader, or start the simulated one, under “Colour reader”. Without one, type values in."
            )
        return self._reader


def instrument_words(info: ReaderInfo) -> str:
    """How an instrument is written beside a swatch."""
    return f"{info.model} {info.serial}".strip()


def lay_under(collection: Collection, link: ReaderLink, mark: MarkUnder) -> None:
    """Tell the simulated reader which mark lies under it. Raises NotFoundError, NotSimulatedError,
    NotInItsWorldError."""
    with collection() as session:
        _place(session, link, mark)


def lay_paper_under(collection: Collection, link: ReaderLink, paper_id: int) -> None:
    """Tell the simulated reader that bare paper lies under it. Raises NotFoundError, NotSimulatedError,
    NotInItsWorldError."""
    with collection() as session:
        paper = find_paper(session, paper_id)
        link.place(f"bare {paper.name}", root_name(session, paper), [])


def read_colour(link: ReaderLink) -> ReadColour:
    """Read once what lies under the reader; nothing is stored. Raises a ReaderError."""
    reading, info = link.read()
    return ReadColour(patch(reading.lab), tuple(float(v) for v in reading.reflectance), instrument_words(info))


def read_paper(collection: Collection, link: ReaderLink, paper_id: int) -> LabTriple:
    """The own colour of a paper, read from its bare surface. Raises NotFoundError, ReaderError."""
    if link.simulated:
        lay_paper_under(collection, link, paper_id)
    L, a, b = (float(v) for v in link.read()[0].lab)
    return (L, a, b)


def _place(session: Session, link: ReaderLink, mark: MarkUnder) -> None:
    """The mark as passes of (pencil, pressure), as the simulated reader names them."""
    ids = [mark.colour_id] + ([mark.burnisher_id] if mark.burnisher_id else [])
    rows = existing(session, ids)
    key = {i: f"{row.range_name} {row.code}" for i, row in rows.items()}
    paper = find_paper(session, mark.paper_id)
    passes = [(key[mark.colour_id], mark.pressure)] * mark.layers
    if mark.burnisher_id:
        passes.append((key[mark.burnisher_id], Pressure.BURNISH))
    over = " over the black bar" if mark.over_black else ""
    layers = f", {mark.layers} layers" if mark.layers > 1 else ""
    words = f"{key[mark.colour_id]} {rows[mark.colour_id].name}, {mark.pressure}{layers}, on {paper.name}{over}"
    link.place(
        words, root_name(session, paper), passes, over_black=mark.over_black, solvent=mark.finish == Finish.SOLVENT,
        wet=mark.finish == Finish.WET, making=mark.making,
    )  # fmt: skip


def place_strip(
    session: Session, link: ReaderLink, paper_id: int, layers: Sequence[Layer[int]], solvent: bool, making: int
) -> None:
    """While it follows, the simulated reader finds these layers of a scrap under it, the lowest first."""
    if not (link.simulated and link.follows):
        return
    rows = existing(session, [one.pencil for one in layers])
    key = {i: f"{row.range_name} {row.code}" for i, row in rows.items()}
    paper = find_paper(session, paper_id)
    passes = [(key[one.pencil], one.pressure) for one in layers for _ in range(one.layers)]
    words = f"a strip of {', then '.join(key[one.pencil] for one in layers)}, on {paper.name}"
    link.place(words, root_name(session, paper), passes, solvent=solvent, making=making)


def place_for_session(session: Session, link: ReaderLink, mark: MarkUnder) -> None:
    """While it follows the session, the simulated reader finds under it what the session asks for."""
    if link.simulated and link.follows:
        _place(session, link, mark)


def run_simulated_reader(port: int, ready: Callable[[int], None]) -> None:
    """Run a simulated reader until stopped (the command line); `ready` is told its port."""
    with serve_demo_reader(port) as server:
        ready(int(server.server_address[1]))
        with contextlib.suppress(KeyboardInterrupt):
            server.serve_forever()
