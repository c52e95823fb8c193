"""What a collection owns beside its requests: pairs mixed, failed, tried again, outdated, stopped with it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select
from sqlalchemy.orm import Session
from tests.services.at_home import BUFF, HOT_PRESSED, PRINT, VELLUM, colour_id

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.standins.pairs import PairTable, mix_pairs
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background import pair_tables
from tidy_tinder.services.background.pair_tables import MIXING_FAILED
from tidy_tinder.services.background.runtime import Collection, collection_of, for_version, open_collection
from tidy_tinder.services.journal import writing
from tidy_tinder.services.standins.in_passage import Waiting, layered_for_colour
from tidy_tinder.services.standins.layered import Layered
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Paper, Pencil

WAIT_SECONDS = 60.0


@dataclass
class Mixer:
    """Mixing as it is, but held before its first coat until it is let go, or failing; and how each mixing ended."""

    held: threading.Event = field(default_factory=threading.Event)
    begun: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(0))
    failing: bool = False
    ended: list[str] = field(default_factory=list)

    def __call__(self, *asked: object) -> PairTable:
        self.begun.release()
        assert self.held.wait(WAIT_SECONDS)
        if self.failing:
            self.ended.append("failed")
            raise FloatingPointError("a pencil that cannot be")
        try:
            table = mix_pairs(*asked)  # type: ignore[arg-type] # as it was called
        except BaseException:
            self.ended.append("stopped")
            raise
        self.ended.append("mixed")
        return table


@pytest.fixture
def mixer(monkeypatch: pytest.MonkeyPatch) -> Mixer:
    mixer = Mixer()
    monkeypatch.setattr(pair_tables, "mix_pairs", mixer)
    return mixer


def owned(collection: Collection) -> list[int]:
    with collection() as session:
        return sorted(set(session.scalars(select(Pencil.colour_id))))


@pytest.fixture
def few(demo: Collection) -> Collection:
    """The demo with eight of her pencils."""
    mark_owned(demo, owned(demo)[8:], False)
    return demo


def ask(collection: Collection, paper: int = VELLUM, seconds: float = WAIT_SECONDS, again: bool = False) -> Layered:
    wanted = Layer(colour_id(collection, "Tallow", "M51"), Pressure.HEAVY)
    return layered_for_colour(collection, wanted, paper, Closest.OVERALL, waiting=Waiting(seconds, again))


def pairs(found: Layered) -> int:
    return sum(len(offer.laid) == 2 for offer in found.offers)


def test_mixing_that_fails_is_an_answer_and_is_tried_again_only_when_asked(few: Collection, mixer: Mixer) -> None:
    mixer.failing = True
    mixer.held.set()
    found = ask(few)
    assert (found.failed, found.problem, pairs(found)) == (True, MIXING_FAILED, 0)
    assert found.offers  # single pencils are compared all the same
    assert ask(few).failed
    assert mixer.ended == ["failed"]
    mixer.failing = False
    found = ask(few, again=True)
    assert (found.failed, found.ready, found.problem) == (False, True, "")
    assert pairs(found) > 0
    assert mixer.ended == ["failed", "mixed"]


def test_the_browser_reads_of_a_failed_mixing_and_can_ask_again(
    client: FlaskClient, demo: Collection, mixer: Mixer
) -> None:
    mark_owned(demo, owned(demo)[8:], False)
    mixer.failing = True
    mixer.held.set()
    address = f"/api/colours/{colour_id(demo, 'Tallow', 'M51')}/layered"
    until_ended(lambda: client.get(address, query_string={"paper": VELLUM}).json["failed"])  # type: ignore[index] # JSON
    mixer.failing = False
    client.get(address, query_string={"paper": VELLUM, "again": "true"})
    until_ended(lambda: client.get(address, query_string={"paper": VELLUM}).json["ready"])  # type: ignore[index] # JSON
    assert mixer.ended == ["failed", "mixed"]


def until_ended(holds: Callable[[], bool]) -> None:
    """As a browser does it: asked again until it holds."""
    pause = threading.Event()
    for _ in range(int(WAIT_SECONDS * 10)):
        if holds():
            return
        pause.wait(0.1)
    raise AssertionError("it did not come to hold")


def test_closing_a_collection_ends_what_is_being_mixed(few: Collection, mixer: Mixer) -> None:
    ask(few, seconds=0.0)
    assert mixer.begun.acquire(timeout=WAIT_SECONDS)
    letting_go = threading.Timer(0.2, mixer.held.set)
    letting_go.start()
    few.close()
    assert mixer.ended == ["stopped"]
    assert not [thread for thread in threading.enumerate() if thread.name == "mixing"]


def test_after_closing_nothing_is_begun(few: Collection, mixer: Mixer) -> None:
    few.pair_tables.close()
    assert not ask(few, seconds=0.0).ready
    assert not mixer.begun.acquire(blocking=False)


def test_a_newer_question_stops_what_is_outdated(few: Collection, mixer: Mixer) -> None:
    ask(few, VELLUM, seconds=0.0)
    ask(few, BUFF, seconds=0.0)
    mixer.held.set()
    assert ask(few, BUFF).ready
    until_ended(lambda: len(mixer.ended) == 2)
    assert sorted(mixer.ended) == ["mixed", "stopped"]


def test_of_many_papers_only_the_last_are_kept_and_none_is_left_working(few: Collection, mixer: Mixer) -> None:
    mixer.held.set()
    for paper in (VELLUM, HOT_PRESSED, PRINT, BUFF, 5, VELLUM):
        assert ask(few, paper).ready
    # Four are kept; the first was let go, and read from its file.
    assert mixer.ended == ["mixed"] * 5
    assert ask(few, 5).ready
    assert mixer.ended == ["mixed"] * 5


def test_nothing_one_and_two_pencils_then_more(demo: Collection) -> None:
    mine = owned(demo)
    mark_owned(demo, mine, False)
    assert pairs(ask(demo)) == 0
    for count in (1, 2, 8):
        mark_owned(demo, mine[:count], True)
        found = ask(demo)
        assert not found.failed
        assert pairs(found) == 0 if count < 2 else pairs(found) > 0
        assert len({one.pencil.colour.id for offer in found.offers for one in offer.laid}) <= count


def test_a_session_knows_its_collection_and_two_at_one_address_keep_nothing_of_each_other(empty: Collection) -> None:
    with empty() as session:
        assert collection_of(session) is empty
        assert for_version(session, "asked", ("paper",), lambda: "mine") == "mine"
    other = open_collection(empty.database)
    with other() as session:
        assert collection_of(session) is other
        assert for_version(session, "asked", ("paper",), lambda: "another") == "another"
    other.close()
    with empty() as session:
        assert for_version(session, "asked", ("paper",), lambda: "again") == "mine"
    empty.exchanged()
    with empty() as session:
        assert for_version(session, "asked", ("paper",), lambda: "again") == "again"


def test_what_a_session_changes_is_seen_by_it_and_kept_for_nobody(empty: Collection) -> None:
    def names(session: Session) -> list[str]:
        return for_version(session, "names", ("paper",), lambda: list(session.scalars(select(Paper.name))))

    with empty() as session:
        before = names(session)
    with pytest.raises(ZeroDivisionError), writing(empty, "Half done") as session:
        session.scalars(select(Paper)).one().name = "Another"
        assert names(session) == ["Another"]
        with empty() as reader:
            assert names(reader) == before
        raise ZeroDivisionError
    with empty() as session:
        assert names(session) == before
