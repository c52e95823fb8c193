"""What the first page asks for, answered from the collection before the rest of the program is loaded.

Flask and most of the program are not needed for it. What it says is what the application says (a test holds it to
that). It is kept beside the collection for the next start, which has its first page at once.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from functools import partial

import orjson
from sqlalchemy.exc import SQLAlchemyError

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.services.tray import tray
from tidy_tinder.web.collection.schemas import context_out
from tidy_tinder.web.json_out import json_of
from tidy_tinder.web.kept_answers import FIRST_ASKED, KeptAnswers
from tidy_tinder.web.tidy.shelf_json import shelves_json
from tidy_tinder.web.tray.schemas import tray_out

_OF_THE_COLLECTION, _OF_THE_TIDY, _OF_THE_TRAY = FIRST_ASKED
# The page asks with nothing else in its address; whatever else is asked is for the application to judge.
_ON_A_PAPER = re.compile(r"paper=(\d{1,15})")


class FirstPage:
    """The answers of the first page of one collection. left: what the last run left of them, by address; demo: whether
    the collection is served as the demo.
    """

    def __init__(self, collection: Collection, demo: bool, kept: KeptAnswers, left: Mapping[str, str]) -> None:
        self._collection = collection
        self._demo = demo
        self._kept = kept
        self._left = left
        self._asked = {_path(address): address for address in left}
        self._on_a_paper: dict[str, Callable[[int], bytes]] = {
            _OF_THE_TIDY: lambda paper: shelves_json(*shelves(collection, paper)),
            _OF_THE_TRAY: lambda paper: json_of(tray_out(tray(collection, paper))),
        }

    def at_hand(self) -> Iterator[tuple[str, bytes]]:
        """Each address that a page asks for at the start, with its answer: those of the paper at hand."""
        collection = self._answer(_OF_THE_COLLECTION)
        if collection is None:
            return
        yield _OF_THE_COLLECTION, collection
        paper = orjson.loads(collection)["paper_id"]
        for path in self._on_a_paper:
            address = f"{path}?paper={paper}"
            answer = self._answer(address)
            if answer is not None:
                self.note(address)
                yield address, answer

    def left(self, address: str) -> str | None:
        """What was left as the answer to an address: it holds until the marks are drawn, or anything is written."""
        left = self._left.get(address)
        return left if left is not None and self._kept.still_hold() else None

    def all_is_drawn(self) -> None:
        """From now on every answer is worked out: at once, and as things stand."""
        self._left = {}

    def note(self, address: str) -> None:
        """Remember the address with which a part of the first page was asked for, if it is one."""
        if self._way_to(address) is not None:
            self._asked[_path(address)] = address

    def answers(self) -> dict[str, str]:
        """What was asked for last, by address: as it was left where that still holds, else answered anew."""
        said = {address: self._as_left_or_anew(address) for address in (_OF_THE_COLLECTION, *self._asked.values())}
        return {address: answer for address, answer in said.items() if answer is not None}

    def _as_left_or_anew(self, address: str) -> str | None:
        left = self.left(address)
        if left is not None:
            return left
        answer = self._answer(address)
        return None if answer is None else answer.decode()

    def _answer(self, address: str) -> bytes | None:
        """The answer to an address, path and query, as JSON; None where only the application can answer it."""
        way = self._way_to(address)
        try:
            return None if way is None else way()
        except (TidyTinderError, SQLAlchemyError):
            return None  # the application says in words what is wrong

    def _way_to(self, address: str) -> Callable[[], bytes] | None:
        """How the answer to an address is worked out; None for what is no part of the first page."""
        if address == _OF_THE_COLLECTION:
            return lambda: json_of(context_out(context(self._collection), self._demo))
        path, _, query = address.partition("?")
        paper, on_a_paper = _ON_A_PAPER.fullmatch(query), self._on_a_paper.get(path)
        return partial(on_a_paper, int(paper.group(1))) if paper and on_a_paper else None


def _path(address: str) -> str:
    return address.partition("?")[0]
