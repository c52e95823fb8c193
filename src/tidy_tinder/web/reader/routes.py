"""The colour reader: connect, calibrate, read; and what a simulated one can be told."""

from __future__ import annotations

from tidy_tinder.services.reader import MarkUnder, lay_paper_under, lay_under, read_colour
from tidy_tinder.web.endpoint import blueprint, collection_here, reader_here
from tidy_tinder.web.reader.schemas import ConnectIn, FaultIn, FollowIn, ReaderOut, ReadOut, UnderIn

api = blueprint("reader")


@api.get("/reader", responses={"200": ReaderOut})
def get_reader() -> ReaderOut:
    """What is known of the reader now."""
    return _state()


@api.post("/reader/connect", responses={"200": ReaderOut})
def connect_reader(body: ConnectIn) -> ReaderOut:
    """Connect to a reader that listens on this machine."""
    reader_here().connect("127.0.0.1", body.port)
    return _state()


@api.post("/reader/simulated", responses={"200": ReaderOut})
def start_simulated_reader() -> ReaderOut:
    """Start the simulated reader and connect to it."""
    reader_here().start_simulated()
    return _state()


@api.delete("/reader", responses={"200": ReaderOut})
def disconnect_reader() -> ReaderOut:
    """Let go of the reader."""
    reader_here().disconnect()
    return _state()


@api.post("/reader/calibration", responses={"200": ReaderOut})
def calibrate_reader() -> ReaderOut:
    """Calibrate on the white tile."""
    reader_here().calibrate()
    return _state()


@api.post("/reader/reading", responses={"200": ReadOut})
def read_once() -> ReadOut:
    """Read what lies under it; nothing is stored."""
    return ReadOut.model_validate(read_colour(reader_here()))


@api.put("/reader/follow", responses={"200": ReaderOut})
def put_follow(body: FollowIn) -> ReaderOut:
    """Let the simulated reader find under it what the session asks for, or what the panel says."""
    reader_here().follows = body.follows
    return _state()


@api.put("/reader/under", responses={"200": ReaderOut})
def put_under(body: UnderIn) -> ReaderOut:
    """Say what lies under the simulated reader; it follows the session no more."""
    if body.colour_id is None:
        lay_paper_under(collection_here(), reader_here(), body.paper_id)
    else:
        mark = MarkUnder(body.colour_id, body.paper_id, body.pressure, body.layers, over_black=body.over_black)
        lay_under(collection_here(), reader_here(), mark)
    reader_here().follows = False
    return _state()


@api.post("/reader/fault", responses={"200": ReaderOut})
def set_fault(body: FaultIn) -> ReaderOut:
    """Let the simulated reader fail at its next reading."""
    reader_here().fault(body.kind)
    return _state()


def _state() -> ReaderOut:
    return ReaderOut.model_validate(reader_here().state())
