"""The reader at the table: its states, what lies under it, and a device of one's own behind a port."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import numpy as np
import pytest
from tests.services.at_home import PRINT, VELLUM, card, colour_id

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.vocabulary import Effect, Pressure
from tidy_tinder.devices.errors import NotCalibratedError, NotConnectedError, NotInItsWorldError
from tidy_tinder.devices.simulated_reader import serve_demo_reader
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.papers import copy_paper
from tidy_tinder.services.reader import (
    MarkUnder,
    ReaderLink,
    instrument_words,
    lay_paper_under,
    lay_under,
    read_colour,
    read_paper,
)
from tidy_tinder.services.tidy.charts import ColourAs, RangeAs, add_colour, add_range


@pytest.fixture
def link() -> Iterator[ReaderLink]:
    found = ReaderLink()
    yield found
    found.close()


def test_it_begins_unconnected_and_says_what_to_do(link: ReaderLink) -> None:
    state = link.state()
    assert (state.connected, state.info, state.status, state.problem) == (False, None, None, "")
    for act in (link.calibrate, link.read, lambda: link.fault("lifted")):
        with pytest.raises(NotConnectedError, match="start the simulated one"):
            act()


def test_its_state_tells_calibration_readings_and_battery(link: ReaderLink, demo: Collection) -> None:
    link.start_simulated()
    state = link.state()
    assert state.connected
    assert state.info is not None
    assert state.info.simulated
    assert state.status is not None
    assert (state.status.calibrated, state.status.readings_since, state.status.battery) == (False, 0, 1.0)
    lay_under(demo, link, MarkUnder(colour_id(demo, "Heron", "119"), VELLUM, Pressure.HEAVY))
    with pytest.raises(NotCalibratedError):
        read_colour(link)
    link.calibrate()
    for _ in range(3):
        read_colour(link)
    status = link.state().status
    assert status is not None
    assert (status.calibrated, status.readings_since) == (True, 3)
    assert 0.99 < status.battery < 1.0


def test_it_reads_what_lies_under_it_and_says_so(link: ReaderLink, demo: Collection) -> None:
    link.start_simulated()
    link.calibrate()
    fly_cap = colour_id(demo, "Heron", "119")
    lay_under(demo, link, MarkUnder(fly_cap, VELLUM, Pressure.HEAVY))
    assert link.state().under_it == "Heron 119 Fly Cap, heavy, on Vellum board"
    seen = read_colour(link)
    known = card(demo, fly_cap).mark.zones[0].lab
    assert float(delta_e_2000(np.array(seen.colour.lab), np.array(known))) < 3.5
    assert seen.instrument == "simulated reader SIM-0001"
    lay_under(demo, link, MarkUnder(fly_cap, VELLUM, Pressure.HEAVY, layers=3, over_black=True))
    assert link.state().under_it == "Heron 119 Fly Cap, heavy, 3 layers, on Vellum board over the black bar"
    assert read_colour(link).colour.lab[0] < seen.colour.lab[0]
    lay_paper_under(demo, link, VELLUM)
    assert link.state().under_it == "bare Vellum board"


def test_a_later_batch_is_the_same_paper_to_the_simulated_reader(link: ReaderLink, demo: Collection) -> None:
    link.start_simulated()
    link.calibrate()
    number, _ = copy_paper(demo, PRINT)
    again, _ = copy_paper(demo, number)
    first, later = (np.array(read_paper(demo, link, paper)) for paper in (PRINT, again))
    assert float(delta_e_2000(first, later)) < 1.0


def test_what_the_hidden_world_does_not_know_is_said_in_words(link: ReaderLink, demo: Collection) -> None:
    link.start_simulated()
    mine, _ = add_range(demo, RangeAs("", "Mine", "", 175))
    sock, _ = add_colour(demo, mine, ColourAs("1", "Odd Sock", None, "", "", Effect.ORDINARY))
    with pytest.raises(
        NotInItsWorldError, match=r"knows the demo's pencils and papers only.*Connect a reader of your own"
    ):
        lay_under(demo, link, MarkUnder(sock, VELLUM, Pressure.HEAVY))
    with pytest.raises(NotFoundError):
        lay_under(demo, link, MarkUnder(9999, VELLUM, Pressure.HEAVY))


def test_a_device_of_ones_own_is_reached_through_its_port(link: ReaderLink) -> None:
    with serve_demo_reader(0) as server:
        thread = threading.Thread(target=server.serve_forever, daemon=True)
        thread.start()
        info = link.connect("127.0.0.1", int(server.socket.getsockname()[1]))
        assert instrument_words(info) == "simulated reader SIM-0001"
        assert link.state().address.startswith("127.0.0.1:")
        link.disconnect()
        assert not link.state().connected
        server.shutdown()
        thread.join(10)


def test_a_failed_connection_leaves_the_one_there_was(link: ReaderLink) -> None:
    link.start_simulated()
    with pytest.raises(NotConnectedError):
        link.connect("127.0.0.1", 9)
    assert link.state().connected


def test_starting_it_twice_starts_one(link: ReaderLink) -> None:
    link.start_simulated()
    first = link.state().address
    link.follows = False
    link.start_simulated()
    assert (link.state().address, link.state().follows) == (first, True)


def test_looking_at_the_reader_does_not_wait_for_a_slow_reading(link: ReaderLink, demo: Collection) -> None:
    """While it answers one question, the panel shows what was known before, and other pages go on."""
    link.start_simulated()
    link.calibrate()
    before = link.state()
    assert before.status is not None
    asked, answered = threading.Event(), threading.Event()

    def slow() -> None:
        with link._lock:
            asked.set()
            answered.wait(30)

    reading = threading.Thread(target=slow)
    reading.start()
    assert asked.wait(10)
    assert link.state() == before
    assert link.info == before.info
    answered.set()
    reading.join()
    assert link.state().connected
