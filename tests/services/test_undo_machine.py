"""Whatever the artist does, undo brings back exactly what was: random stories, compared row by row.

The machine does what the interface offers, in any order, and after each change may take it back. The whole content
of the database, but for the journal and the revisions, must then be what it was before.
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule
from sqlalchemy import select, text
from tests.conftest import close

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Effect, Pressure, Verdict
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.journal import Changed, undo, undoable
from tidy_tinder.services.papers import copy_paper, remove_paper
from tidy_tinder.services.recipes.choices import choose_standin
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.text import remove_recipe, save_recipe
from tidy_tinder.services.scraps.reading import type_strip
from tidy_tinder.services.scraps.store import NewScrap, begin_scrap, judge_scrap, remove_scrap
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.services.swatches.session_plan import SessionPlan, Which, start_session
from tidy_tinder.services.swatches.sessions import ReadItem, close_session, reread_item, skip_item
from tidy_tinder.services.swatches.store import remove_swatch
from tidy_tinder.services.tidy.charts import (
    ColourAs,
    RangeAs,
    add_colour,
    add_range,
    add_set,
    remove_colour,
    remove_set,
)
from tidy_tinder.services.tidy.ownership import mark_owned, tick
from tidy_tinder.services.tidy.pencils import add_pencil, find_again, lose, use_up
from tidy_tinder.services.tidy.places import move_to
from tidy_tinder.services.tray import put_in_tray
from tidy_tinder.storage.models import Journaled, Scrap

CATALOGUE = b"range,code,name,L,a,b,owned\n" + b"".join(
    b"Lane,%d,Colour %d,%d,10,10,%d\n" % (i, i, 30 + 5 * i, i % 2) for i in range(1, 9)
)
COLOURS = st.lists(st.integers(1, 8), min_size=1, max_size=4, unique=True)

Content = dict[str, list[tuple[Any, ...]]]


def content(collection: Collection) -> Content:
    """All rows of all journaled tables, without their revisions."""
    found: Content = {}
    with collection() as session:
        for model in Journaled.__subclasses__():
            columns = [c.name for c in model.__table__.columns if c.name not in ("id", "revision")]
            query = text(f"SELECT {', '.join(['id', *columns])} FROM {model.__tablename__} ORDER BY id")
            found[model.__tablename__] = [tuple(row) for row in session.execute(query).all()]
    return found


@cache
def small_collection() -> bytes:
    """The database that every story begins with, made once."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "collection.sqlite"
        collection = open_collection(path)
        begin_collection(collection)
        import_catalogue(collection, CATALOGUE)
        add_set(collection, 1, "Lane 3", "1-3")
        close(collection)
        return path.read_bytes()


def made(change: Changed | None) -> Changed | None:
    """A change that touched something."""
    return change if change is not None and change.rows else None


class Artist(RuleBasedStateMachine):
    """A small collection and everything that can be done to it."""

    def __init__(self) -> None:
        super().__init__()
        self._folder = tempfile.TemporaryDirectory()
        path = Path(self._folder.name) / "collection.sqlite"
        path.write_bytes(small_collection())
        self.collection = open_collection(path)
        self.past: list[tuple[int, Content]] = []

    def teardown(self) -> None:
        close(self.collection)
        self._folder.cleanup()

    def do(self, act: Callable[[], Changed | None]) -> None:
        """Do something that may be refused; a refusal must leave everything as it was."""
        before = content(self.collection)
        try:
            change = act()
        except (RefusedError, NotFoundError):
            assert content(self.collection) == before
            return
        if change is None:
            assert content(self.collection) == before
        else:
            self.past.append((change.change_id, before))

    def with_one_of(self, table: str, at: int, act: Callable[[int], Changed | None]) -> None:
        """Do something with one of the rows of a table, where it has any."""
        there = [row[0] for row in content(self.collection)[table]]
        if there:
            self.do(lambda: act(there[at % len(there)]))

    def all_of(self, model: type[Scrap]) -> list[Scrap]:
        with self.collection() as session:
            return list(session.scalars(select(model)))

    @rule(ids=COLOURS, owned=st.booleans())
    def own(self, ids: list[int], owned: bool) -> None:
        self.do(lambda: mark_owned(self.collection, ids, owned))

    @rule(codes=st.sampled_from(["1-4", "2, 7", "8", "3-99", "nothing"]))
    def type_codes(self, codes: str) -> None:
        self.do(lambda: tick(self.collection, 1, codes).changed)

    @rule(ids=COLOURS, act=st.sampled_from([lose, find_again, use_up]))
    def lose_or_find(self, ids: list[int], act: Callable[..., Changed | None]) -> None:
        self.do(lambda: act(self.collection, ids))

    @rule(ids=COLOURS, tin=st.sampled_from(["", "left", "right"]))
    def move(self, ids: list[int], tin: str) -> None:
        self.do(lambda: move_to(self.collection, ids, tin))

    @rule(one=st.integers(1, 8))
    def buy(self, one: int) -> None:
        self.do(lambda: add_pencil(self.collection, one))

    @rule(ids=COLOURS, into=st.booleans())
    def pull(self, ids: list[int], into: bool) -> None:
        self.do(lambda: put_in_tray(self.collection, ids, into))

    @rule(one=st.integers(1, 8), L=st.floats(5, 95), pressure=st.sampled_from(["light", "heavy"]))
    def swatch(self, one: int, L: float, pressure: Pressure) -> None:
        def act() -> Changed:
            return type_swatch(self.collection, NewTyped(one, 1, pressure, (L, 5.0, 5.0)))[1]

        self.do(act)

    @rule(at=st.integers(0, 20))
    def unswatch(self, at: int) -> None:
        there = [row[0] for row in content(self.collection)["swatch"]]
        if there:
            self.do(lambda: remove_swatch(self.collection, there[at % len(there)]))

    @rule()
    def new_batch_and_away_with_it(self) -> None:
        number, _ = copy_paper(self.collection, 1)
        self.do(lambda: remove_paper(self.collection, number))

    @rule(code=st.sampled_from(["9", "10", "1"]))
    def write_chart(self, code: str) -> None:
        self.do(lambda: add_colour(self.collection, 1, ColourAs(code, "New", None, "", "", Effect.ORDINARY))[1])

    @rule(at=st.integers(0, 20))
    def strike_colour(self, at: int) -> None:
        there = [row[0] for row in content(self.collection)["colour"]]
        self.do(lambda: remove_colour(self.collection, there[at % len(there)]))

    @rule()
    def write_range(self) -> None:
        self.do(lambda: add_range(self.collection, RangeAs("", "Brook", "", 170))[1])

    @rule()
    def strike_set(self) -> None:
        there = [row[0] for row in content(self.collection)["boxed_set"]]
        if there:
            self.do(lambda: remove_set(self.collection, there[0]))

    @rule(text=st.sampled_from(["A leaf\nLane\n1. 3, light\n2. Colour 4 then Brimble", "Bark\nLane\n5 over 6, heavy"]))
    def take_recipe_in(self, text: str) -> None:
        self.do(lambda: save_recipe(self.collection, text)[1])

    @rule(at=st.integers(0, 20))
    def strike_recipe(self, at: int) -> None:
        self.with_one_of("recipe", at, lambda i: remove_recipe(self.collection, i))

    @rule(at=st.integers(0, 20), colour=st.one_of(st.none(), st.integers(1, 8)))
    def settle(self, at: int, colour: int | None) -> None:
        self.with_one_of("recipe_call", at, lambda i: settle_call(self.collection, i, colour))

    @rule(at=st.integers(0, 20), colour=st.integers(1, 8))
    def choose(self, at: int, colour: int) -> None:
        self.with_one_of("recipe_call", at, lambda i: choose_standin(self.collection, i, 1, colour))

    @rule(ids=COLOURS, pressure=st.sampled_from(MARK_PRESSURES))
    def try_on_scrap(self, ids: list[int], pressure: Pressure) -> None:
        laid = tuple(Layer(i, pressure) for i in ids)
        self.do(lambda: begin_scrap(self.collection, NewScrap(1, laid))[1])

    @rule(at=st.integers(0, 20), verdict=st.sampled_from([Verdict.GOOD, Verdict.TOO_DARK]))
    def judge(self, at: int, verdict: Verdict) -> None:
        revisions = {row.id: row.revision for row in self.all_of(Scrap)}
        self.with_one_of("scrap", at, lambda i: judge_scrap(self.collection, i, revisions[i], [verdict], "so"))

    @rule(at=st.integers(0, 20), turned=st.booleans(), L=st.floats(20, 80))
    def read_strip(self, at: int, turned: bool, L: float) -> None:
        self.with_one_of("scrap", at, lambda i: type_strip(self.collection, i, turned, (L, 5.0, 5.0), keep=True).change)

    @rule(at=st.integers(0, 20))
    def strike_scrap(self, at: int) -> None:
        self.with_one_of("scrap", at, lambda i: remove_scrap(self.collection, i))

    @rule(ids=COLOURS)
    def begin_session(self, ids: list[int]) -> None:
        plan = SessionPlan(1, Which.CHOSEN, (Pressure.HEAVY,), only_missing=False, colour_ids=tuple(ids))
        self.do(lambda: start_session(self.collection, plan)[1])

    @rule(at=st.integers(0, 20), act=st.sampled_from([skip_item, reread_item]))
    def leave_out_or_take_in(self, at: int, act: Callable[..., ReadItem]) -> None:
        self.with_one_of("session_item", at, lambda i: made(act(self.collection, i).change))

    @rule(at=st.integers(0, 20))
    def end_session(self, at: int) -> None:
        self.with_one_of("swatch_session", at, lambda i: close_session(self.collection, i))

    @rule()
    def take_back_the_last(self) -> None:
        """The newest change can always be taken back, and leaves no trace but in the journal."""
        if not self.past:
            return
        change, before = self.past.pop()
        with self.collection() as session:
            newest = undoable(session)
        if newest is None or newest.change_id != change:
            return
        undo(self.collection, change)
        assert content(self.collection) == before

    @rule(at=st.integers(0, 20))
    def take_back_an_earlier_one(self, at: int) -> None:
        """It goes whole, or is refused whole."""
        if not self.past:
            return
        change, _ = self.past[at % len(self.past)]
        now = content(self.collection)
        try:
            undo(self.collection, change)
        except (ChangedMeanwhileError, RefusedError):
            assert content(self.collection) == now
        except TidyTinderError as other:
            raise AssertionError(f"an undo ended in {other!r}") from other
        self.past.clear()

    @invariant()
    def nothing_refers_to_nothing(self) -> None:
        with self.collection() as session:
            assert session.execute(text("PRAGMA foreign_key_check")).all() == []


Artist.TestCase.settings = settings(max_examples=20, stateful_step_count=30, deadline=None)
test_undo_brings_back_what_was = Artist.TestCase
