"""All layered pairs of the pencils at hand on a paper, mixed in the background and kept for a while.

A table belongs to a paper, a version of the fits and the pencils in it. What is asked for anew makes what is still
being mixed for that collection outdated: it stops at the next coat. After a swatch or a strip only the pencils that it
changed are mixed again.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layering.prediction.marks import PaperFit, pencil_on
from tidy_tinder.core.standins.pairs import Coat, Kept, PairTable, mix_pairs
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_hand import drawable
from tidy_tinder.storage.queries.colours import pencils_by_colour

# How a pencil is laid in a pair: also light in two layers, as much practice has it.
PAIR_COATS = (Coat("light"), Coat("light", 2), Coat("medium"), Coat("heavy"))

# Tables kept: of 120 pencils each takes some 7 MB.
_MOST_KEPT = 4


@dataclass(frozen=True, eq=False)
class Mixed:
    """A table, or how far it is: coats done of all there are."""

    table: PairTable | None
    done: int
    total: int


class _StoppedError(Exception):
    """Something else is wanted by now."""


@dataclass(eq=False)
class _Work:
    """One table being mixed."""

    database: str
    total: int
    models: Mapping[int, PencilModel]
    paper: PaperModel
    done: int = 0
    table: PairTable | None = None
    ended: threading.Event = field(default_factory=threading.Event)
    stop: threading.Event = field(default_factory=threading.Event)


@dataclass(frozen=True)
class _Key:
    """What a table is of."""

    database: str
    paper_id: int
    version: int
    pencils: tuple[int, ...]


_works: OrderedDict[_Key, _Work] = OrderedDict()
_lock = threading.Lock()


def mixed_pairs(session: Session, known: Fitted, fit: PaperFit, paper_id: int, wait: float | None) -> Mixed:
    """The table of all fitted pencils that can be drawn with, on a paper; begun where it is not there yet.

    wait: seconds to wait for it, None for as long as it takes.
    """
    pencils = sorted(
        i
        for i, sticks in pencils_by_colour(session).items()
        if i in known.survey.pencils and any(map(drawable, sticks))
    )
    database = str(session.get_bind().engine.url)
    key = _Key(database, paper_id, known.version, tuple(pencils))
    with _lock:
        key = _that_serves(key)
        work = _works.get(key)
        if work is None:
            work = _begin(key, database, known, fit, pencils)
        _works.move_to_end(key)
    work.ended.wait(wait)
    return Mixed(work.table, work.done, work.total)


def stop_mixing(database: str) -> None:
    """Another collection stands in the place of the one at this address: nothing that was mixed holds."""
    with _lock:
        for key in [k for k, work in _works.items() if work.database.endswith(database)]:
            _works.pop(key).stop.set()


def _that_serves(key: _Key) -> _Key:
    """A table that is there and holds more pencils serves as well: those that were lost since are not asked for."""
    for other, work in reversed(_works.items()):
        same = (other.database, other.paper_id, other.version) == (key.database, key.paper_id, key.version)
        if same and work.table is not None and set(key.pencils) <= set(other.pencils):
            return other
    return key


def _begin(key: _Key, database: str, known: Fitted, fit: PaperFit, pencils: Sequence[int]) -> _Work:
    """Stop what is outdated and begin; the caller holds the lock."""
    for other in [k for k, work in _works.items() if work.database == database and not work.ended.is_set()]:
        _works.pop(other).stop.set()
    models = {one: pencil_on(known.survey.pencils[one], fit) for one in pencils}
    work = _Work(database, len(pencils) * len(PAIR_COATS), models, fit.model)
    kept = _kept_for(work, key)
    _works[key] = work

    def told(done: int, _total: int) -> None:
        work.done = done
        if work.stop.is_set():
            raise _StoppedError

    def run() -> None:
        try:
            work.table = mix_pairs(models, fit.model, PAIR_COATS, told, kept)
        except _StoppedError:
            pass
        finally:
            work.ended.set()
            if work.table is None:
                with _lock:
                    if _works.get(key) is work:
                        del _works[key]

    threading.Thread(target=run, name="mixing", daemon=True).start()
    while len(_works) > _MOST_KEPT:
        _works.popitem(last=False)
    return work


def _kept_for(work: _Work, key: _Key) -> Kept | None:
    """What was mixed last on this paper, where the paper is still what it was, and which pencils are."""
    for other, past in reversed(_works.items()):
        here = (other.database, other.paper_id) == (key.database, key.paper_id)
        if here and past.table is not None and _same_paper(past.paper, work.paper):
            same = {one for one, model in work.models.items() if _same_pencil(past.models.get(one), model)}
            return Kept(past.table, frozenset(same))
    return None


def _same_paper(one: PaperModel, other: PaperModel) -> bool:
    numbers = (one.grain, one.exponent, one.load_factors) == (other.grain, other.exponent, other.load_factors)
    return numbers and np.array_equal(one.body, other.body)


def _same_pencil(one: PencilModel | None, other: PencilModel) -> bool:
    return (
        one is not None
        and one.softness == other.softness
        and np.array_equal(one.absorption, other.absorption)
        and np.array_equal(one.scattering, other.scattering)
    )
