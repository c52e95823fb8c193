"""All layered pairs of the pencils at hand on a paper, mixed in the background and kept for a while.

A table belongs to a paper, a version of the fits and the pencils in it. What is asked for anew makes what is still
being mixed outdated: it stops at the next coat. After a swatch or a strip only the pencils that it changed are mixed
again, and the next program finds the tables of this one. A table that could not be mixed stays so until somebody asks
for it again.
"""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layering.prediction.marks import PaperFit, pencil_on
from tidy_tinder.core.layers import Coat
from tidy_tinder.core.standins.pairs import Kept, PairTable, mix_pairs
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.kept_tables import KeptTables, fingerprint
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.storage.queries.colours import drawable_colours

_log = logging.getLogger(__name__)

# How a pencil is laid in a pair: also light in two layers, as much practice has it.
PAIR_COATS = (Coat(Pressure.LIGHT), Coat(Pressure.LIGHT, 2), Coat(Pressure.MEDIUM), Coat(Pressure.HEAVY))

# What is said where a table could not be mixed.
MIXING_FAILED = (
    "Mixing your pencils failed. The reason stands in the window where the program was started; "
    "try again, or choose another paper."
)

# Tables kept: of 120 pencils each takes some 7 MB.
_MOST_KEPT = 4
_LAST_COAT_SECONDS = 10.0


@dataclass(frozen=True, eq=False)
class Mixed:
    """A table, or how far it is: coats done of all there are. failed: it could not be mixed, and is not being tried."""

    table: PairTable | None
    done: int
    total: int
    failed: bool = False


class _StoppedError(Exception):
    """Something else is wanted by now."""


@dataclass(eq=False)
class _Work:
    """One table being mixed."""

    total: int
    models: Mapping[int, PencilModel]
    paper: PaperModel
    done: int = 0
    table: PairTable | None = None
    failed: bool = False
    ended: threading.Event = field(default_factory=threading.Event)
    stop: threading.Event = field(default_factory=threading.Event)
    thread: threading.Thread | None = None


@dataclass(frozen=True)
class _Key:
    """What a table is of."""

    paper_id: int
    version: int
    pencils: tuple[int, ...]


class PairTables:
    """The tables of one collection."""

    def __init__(self, kept: KeptTables) -> None:
        self._kept = kept
        self._works: OrderedDict[_Key, _Work] = OrderedDict()
        self._lock = threading.Lock()
        self._closed = False

    def of(
        self, session: Session, known: Fitted, fit: PaperFit, paper_id: int, wait: float | None, again: bool = False,
        pencils: AbstractSet[int] | None = None,
    ) -> Mixed:  # fmt: skip
        """The table of all fitted pencils that can be drawn with, on a paper; begun where it is not there yet.

        wait: seconds to wait for it, None for as long as it takes; again: try once more what failed; pencils: of these
        colours instead, whether they can be drawn with or not.
        """
        wanted = drawable_colours(session) if pencils is None else pencils
        keys = tuple(sorted(wanted & set(known.survey.pencils)))
        with self._lock:
            key = self._that_serves(_Key(paper_id, known.version, keys))
            work = self._works.get(key)
            if work is None or (again and work.failed):
                work = self._begin(key, known, fit, keys)
            self._works.move_to_end(key)
        work.ended.wait(wait)
        return Mixed(work.table, work.done, work.total, work.failed)

    def forget(self) -> None:
        """Another collection stands in the place of this one: nothing that was mixed holds."""
        with self._lock:
            for work in self._works.values():
                work.stop.set()
            self._works.clear()

    def close(self) -> None:
        """Stop what is being mixed and wait until it has stopped; nothing is begun any more."""
        with self._lock:
            self._closed = True
            threads = [work.thread for work in self._works.values() if work.thread is not None]
        self.forget()
        for thread in threads:
            thread.join(timeout=_LAST_COAT_SECONDS)

    def _that_serves(self, key: _Key) -> _Key:
        """A table that is there and holds more pencils serves as well: those that were lost since are not asked for."""
        for other, work in reversed(self._works.items()):
            same = (other.paper_id, other.version) == (key.paper_id, key.version)
            if same and work.table is not None and set(key.pencils) <= set(other.pencils):
                return other
        return key

    def _begin(self, key: _Key, known: Fitted, fit: PaperFit, pencils: Sequence[int]) -> _Work:
        """Stop what is outdated and begin; the caller holds the lock."""
        for other in [k for k, work in self._works.items() if work.failed or not work.ended.is_set()]:
            self._works.pop(other).stop.set()
        models = {one: pencil_on(known.survey.pencils[one], fit) for one in pencils}
        work = _Work(len(pencils) * len(PAIR_COATS), models, fit.model)
        kept = self._kept_for(work, key)
        self._works[key] = work
        if self._closed:
            work.ended.set()
            return work
        work.thread = threading.Thread(target=self._mix, args=(key, work, kept), name="mixing", daemon=True)
        work.thread.start()
        while len(self._works) > _MOST_KEPT:
            self._works.popitem(last=False)[1].stop.set()
        return work

    def _mix(self, key: _Key, work: _Work, kept: Kept | None) -> None:
        """Mix one table, in its own thread."""

        def report(done: int, _total: int) -> None:
            work.done = done
            if work.stop.is_set():
                raise _StoppedError

        try:
            name = fingerprint(work.models, work.paper, PAIR_COATS)
            work.table = self._kept.read(name, tuple(work.models), PAIR_COATS)
            if work.table is None:
                work.table = mix_pairs(work.models, work.paper, PAIR_COATS, report, kept)
                work.ended.set()
                self._kept.keep(name, work.table)
        except _StoppedError:
            with self._lock:
                if self._works.get(key) is work:
                    del self._works[key]
        except Exception:
            # A thread has nobody to raise to: the failure is kept, and said to whoever asks for the table.
            _log.exception("Mixing the pairs of %d pencils failed.", len(work.models))
            work.failed = True
        finally:
            work.ended.set()

    def _kept_for(self, work: _Work, key: _Key) -> Kept | None:
        """What was mixed last on this paper, where the paper is still what it was, and which pencils are."""
        for other, past in reversed(self._works.items()):
            if other.paper_id == key.paper_id and past.table is not None and _same_paper(past.paper, work.paper):
                same = {one for one, model in work.models.items() if _same_pencil(past.models.get(one), model)}
                return Kept(past.table, frozenset(same))
        return None


def _same_paper(one: PaperModel, other: PaperModel) -> bool:
    return _numbers(one) == _numbers(other) and np.array_equal(one.body, other.body)


def _numbers(paper: PaperModel) -> tuple[object, ...]:
    return (paper.grain, paper.exponent, paper.load_factors, paper.by_chance, paper.hold)


def _same_pencil(one: PencilModel | None, other: PencilModel) -> bool:
    return (
        one is not None
        and (one.softness, one.load_factors) == (other.softness, other.load_factors)
        and np.array_equal(one.absorption, other.absorption)
        and np.array_equal(one.scattering, other.scattering)
    )
