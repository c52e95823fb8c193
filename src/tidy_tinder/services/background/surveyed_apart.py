"""A collection surveyed, and what is long of it in a process of its own.

Of tens of thousands of marks the papers alone take half a minute, in which no page would be answered in time: a large
collection is read and surveyed there as a whole, and a smaller one has its fits made there where they are many.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session, sessionmaker

from tidy_tinder.core.layering.collection_fit.survey import fits_needed
from tidy_tinder.services.background.apart import Apart, Say
from tidy_tinder.services.background.inputs import Inputs, inputs_of
from tidy_tinder.services.background.pencils_apart import fitting_in
from tidy_tinder.services.background.stored_fits import Fitted, StoredFits, Surveys, survey_of
from tidy_tinder.storage.engine import make_engine
from tidy_tinder.storage.queries.fits import swatch_count

# Above so many swatches all is done in the other process, which takes two seconds to begin: some three seconds of work.
MANY_SWATCHES = 3000


@dataclass(frozen=True)
class Begun:
    """What is being fitted: the version of the marks, how many fits that takes, a fingerprint of all it rests on."""

    version: int
    total: int
    content: str


# How many fits are done, how many of them were kept, and those that were made just now, as they are kept.
Advance = Callable[[int, int, Mapping[str, Mapping[str, Any]]], None]


class _KnownError(Exception):
    """What is about to be surveyed was surveyed before."""

    def __init__(self, fitted: Fitted) -> None:
        self.fitted = fitted


def surveyed(
    apart: Apart, open_session: Callable[[], Session], surveys: Surveys, begin: Callable[[Begun], None],
    advance: Advance,
) -> tuple[Fitted, set[str]]:  # fmt: skip
    """The collection fitted, and the fingerprints of the fits that were needed: none where it was surveyed before.

    Raises OutdatedError once `apart` is closed, and whatever `begin` and `advance` raise to stop it.
    """
    with open_session() as session:
        database = Path(str(session.get_bind().engine.url.database))
        inputs = None if swatch_count(session) > MANY_SWATCHES else inputs_of(session)
    # Whoever reads for long keeps the log from being brought in: nothing is read any more from here on.
    if inputs is None:
        return _surveyed_there(apart, database, surveys, begin, advance)
    begin(_begun(inputs))
    fits = StoredFits(open_session, advance, fitting_in(apart))
    return surveys.of(inputs, lambda: survey_of(inputs, fits)), fits.needed


def _begun(inputs: Inputs) -> Begun:
    return Begun(inputs.version, fits_needed(inputs.papers, inputs.marks, inputs.colours), inputs.fingerprint)


def _surveyed_there(
    apart: Apart, database: Path, surveys: Surveys, begin: Callable[[Begun], None], advance: Advance
) -> tuple[Fitted, set[str]]:
    def hear(said: Begun | tuple[int, int, Mapping[str, Mapping[str, Any]]]) -> None:
        if not isinstance(said, Begun):
            advance(*said)
            return
        begin(said)
        known = surveys.known(said.content)
        if known is not None:
            raise _KnownError(Fitted(said.version, known, said.content))

    try:
        fitted, needed = apart.ask(hear, _survey, database)
    except _KnownError as before:
        return before.fitted, set()
    surveys.keep(fitted.content, fitted.survey)
    return fitted, needed


def _survey(say: Say, database: Path) -> tuple[Fitted, set[str]]:
    """All of it, in the other process: what is kept is read from the database, what is to be kept is said."""
    engine = make_engine(database)
    sessions = sessionmaker(engine)
    try:
        with sessions() as session:
            inputs = inputs_of(session)
        begun = _begun(inputs)
        say(begun)
        fits = StoredFits(sessions, lambda *how_far: say(how_far))
        return Fitted(begun.version, survey_of(inputs, fits), begun.content), fits.needed
    finally:
        engine.dispose()
