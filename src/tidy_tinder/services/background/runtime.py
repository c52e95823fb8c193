"""One open collection: its database, and everything that is kept and worked out for it. Whoever opens it closes it."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable, Sequence
from collections.abc import Set as AbstractSet
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar, cast

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.services.background.at_rest import AtRest
from tidy_tinder.services.background.cache import Cache
from tidy_tinder.services.background.drawn import DrawnZones
from tidy_tinder.services.background.few import Few
from tidy_tinder.services.background.fitter import LONG_AGO, Fitter, Progress
from tidy_tinder.services.background.inputs import FITTED_TABLES
from tidy_tinder.services.background.kept_tables import KeptTables
from tidy_tinder.services.background.pair_tables import Mixed, PairTables
from tidy_tinder.services.background.stored_fits import Fitted, Surveys
from tidy_tinder.services.background.thinking import Thinking
from tidy_tinder.services.journal import tables_version, writes_to
from tidy_tinder.storage.engine import SessionFactory, check_point, open_database
from tidy_tinder.storage.queries.fits import newest_jobs

T = TypeVar("T")

_COLLECTION = "collection"
# Working copies of references, of 12 MB at most, and besides one whole file of at most 180 MB.
_MOST_PICTURES = 4
# Their light with all steps laid on, in one size each.
_MOST_LIGHTS = 6
# Of what new colours give over owned ones, by paper.
_MOST_NEW_PAIRS = 8


class Collection:
    """The collection in one database. Called, it opens a session; a session knows the collection that it is of.

    surveys: what is kept of earlier fits; given where several collections begin as the same one.
    """

    def __init__(self, sessions: SessionFactory, surveys: Surveys | None = None) -> None:
        sessions.configure(info={_COLLECTION: self})
        self._sessions = sessions
        self._surveys = surveys or Surveys()
        self._fitter: Fitter | None = None
        self._at_rest: AtRest | None = None
        self.cache = Cache()
        self.drawn = DrawnZones()
        self.pictures: Few[Any] = Few(_MOST_PICTURES)
        self.lights: Few[Any] = Few(_MOST_LIGHTS)
        self.files: Few[Any] = Few(1)
        self.pair_tables = PairTables(KeptTables(self.worked_out))
        self.plans: Thinking[Any] = Thinking("planning")
        # What to buy, what could go, what to pack: each is worked on by itself, and only one of them mixes.
        self.buying: Thinking[Any] = Thinking("buying")
        self.sparing: Thinking[Any] = Thinking("sparing")
        self.packing: Thinking[Any] = Thinking("packing")
        self.mixing_turn = threading.Lock()
        self.new_pairs: Few[Any] = Few(_MOST_NEW_PAIRS)

    def __call__(self) -> Session:
        """A session of its database, to be used in a `with`."""
        return self._sessions()

    @property
    def engine(self) -> Engine:
        """The engine of its database."""
        engine: Engine = self._sessions.kw["bind"]
        return engine

    @property
    def database(self) -> Path:
        """The file of its database."""
        return Path(str(self.engine.url.database))

    @property
    def worked_out(self) -> Path:
        """The folder of what can be worked out again."""
        return self.database.parent / "worked-out"

    def keep_fitted(
        self, then: Callable[[], None] | None = None, at_rest: Callable[[], None] | None = None,
        first: Callable[[], None] | None = None,
    ) -> Fitter:  # fmt: skip
        """Keep it fitted in the background from now on, and its file whole whenever nothing is written.

        `first` is called before the first fit, `then` after every fit, `at_rest` whenever all that was written stands
        in the one file.
        """
        self._at_rest = AtRest(self.engine, then=at_rest)
        self._at_rest.start()
        self._fitter = Fitter(self, self._surveys, then, first)
        self._fitter.start()
        return self._fitter

    def fit_once(self) -> None:
        """Fit it now and keep the fits, for whoever opens it next."""
        Fitter(self, self._surveys).run_once()

    def fitted(self, session: Session) -> Fitted | None:
        """As it is fitted: in the background, the newest there is; elsewhere, fitted now.

        None before the first fit is done. A newer version of the marks is asked for where it is not there yet.
        """
        if self._fitter is None:
            return self.cache.for_version(session, "fitted", FITTED_TABLES, lambda: self._surveys.now(self))
        self._fitter.want(tables_version(session, FITTED_TABLES))
        return self._fitter.newest

    def fitting(self) -> Progress:
        """How far the fitting is; where nothing does it in the background, it is done when it is asked for."""
        with self() as session:
            version = tables_version(session, FITTED_TABLES)
        if self._fitter is None:
            return Progress(False, 0, 0, version, LONG_AGO)
        self._fitter.want(version)
        return self._fitter.progress(version)

    def exchanged(self) -> None:
        """Another collection stands in the place of the one that its database held: nothing kept holds any more."""
        self.cache.forget()
        self.pictures.forget()
        self.lights.forget()
        self.files.forget()
        self.pair_tables.forget()
        self.plans.forget()
        for thinking in (self.buying, self.sparing, self.packing):
            thinking.forget()
        self.new_pairs.forget()
        if self._fitter is not None:
            self._fitter.forget()

    def close(self) -> None:
        """Stop all that works for it, bring all that was written into its one file, and let go of it."""
        if self._fitter is not None:
            self._fitter.close()
        self.plans.close()
        for thinking in (self.buying, self.sparing, self.packing):
            thinking.close()
        self.pair_tables.close()
        if self._at_rest is not None:
            self._at_rest.close()
        check_point(self.engine)
        self.engine.dispose()


def open_collection(
    database: Path, surveys: Surveys | None = None, begin: Callable[[Collection], None] | None = None
) -> Collection:
    """Open a collection, made or brought to the newest layout first. begin: gives a new one what it begins with.

    Raises DatabaseTooNewError, NotADatabaseError, NotUpgradedError.
    """

    def fill(unfinished: Path) -> None:
        if begin is not None:
            with closing(Collection(open_database(unfinished))) as collection:
                begin(collection)

    return Collection(open_database(database, fill), surveys)


def collection_of(session: Session) -> Collection:
    """The collection that a session is of."""
    return cast(Collection, session.info[_COLLECTION])


def for_version(session: Session, question: Hashable, tables: Sequence[str], compute: Callable[[], T]) -> T:
    """What `compute` gives from `tables` as they are now; computed once for each version of them.

    What a session sees of its own changes is given to it and kept for nobody: they may yet be taken back.
    """
    if writes_to(session, tables):
        return compute()
    return collection_of(session).cache.for_version(session, question, tables, compute)


def fitted(session: Session) -> Fitted | None:
    """The collection as it is fitted; None before the first fit is done."""
    return collection_of(session).fitted(session)


def mixed_pairs(
    session: Session, known: Fitted, fit: PaperFit, paper_id: int, wait: float | None, again: bool = False,
    pencils: AbstractSet[int] | None = None,
) -> Mixed:  # fmt: skip
    """All pairs of the pencils that can be drawn with, on a paper, or of other ones; see `PairTables.of`."""
    return collection_of(session).pair_tables.of(session, known, fit, paper_id, wait, again, pencils)


@dataclass(frozen=True)
class Job:
    """One going over of the collection, as it is remembered."""

    id: int
    state: str
    done: int
    reused: int
    total: int
    taken_up: int


def past_jobs(collection: Collection) -> tuple[Job, ...]:
    """The newest jobs, the newest first."""
    with collection() as session:
        return tuple(Job(j.id, j.state, j.done, j.reused, j.total, j.taken_up) for j in newest_jobs(session))
