"""All layered pairs of the pencils at hand on a paper, mixed in the background and kept for a while.

A table belongs to a paper, a version of the fits and the pencils in it. What is asked for anew makes what is still
being mixed for that collection outdated: it stops at the next coat.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from tidy_tinder.core.layering.predicting import PaperFit, pencil_on
from tidy_tinder.core.standins.pairs import Coat, PairTable, mix_pairs
from tidy_tinder.services.fitting import Fitted

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
    done: int = 0
    table: PairTable | None = None
    ended: threading.Event = field(default_factory=threading.Event)
    stop: threading.Event = field(default_factory=threading.Event)


_works: OrderedDict[Hashable, _Work] = OrderedDict()
_lock = threading.Lock()


def mixed_pairs(
    session: Session, known: Fitted, fit: PaperFit, paper_id: int, pencils: Sequence[int], wait: float | None
) -> Mixed:
    """The table of these fitted pencils on a paper; begun where it is not there yet.

    wait: seconds to wait for it, None for as long as it takes.
    """
    database = str(session.get_bind().engine.url)
    key = (database, paper_id, known.version, tuple(pencils))
    with _lock:
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


def _begin(key: Hashable, database: str, known: Fitted, fit: PaperFit, pencils: Sequence[int]) -> _Work:
    """Stop what is outdated and begin; the caller holds the lock."""
    for other in [k for k, work in _works.items() if work.database == database and not work.ended.is_set()]:
        _works.pop(other).stop.set()
    while len(_works) >= _MOST_KEPT:
        _works.popitem(last=False)
    work = _Work(database, len(pencils) * len(PAIR_COATS))
    _works[key] = work
    models = {one: pencil_on(known.survey.pencils[one], fit) for one in pencils}

    def told(done: int, _total: int) -> None:
        work.done = done
        if work.stop.is_set():
            raise _StoppedError

    def run() -> None:
        try:
            work.table = mix_pairs(models, fit.model, PAIR_COATS, told)
        except _StoppedError:
            pass
        finally:
            work.ended.set()
            if work.table is None:
                with _lock:
                    if _works.get(key) is work:
                        del _works[key]

    threading.Thread(target=run, name="mixing", daemon=True).start()
    return work
