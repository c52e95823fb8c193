"""Scraps written down: begun, judged, removed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Finish, Pressure, Verdict
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colour_named
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, check_layers, layers_in_words, owned_layers
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import Scrap, ScrapLayer, ScrapReading
from tidy_tinder.storage.queries.scraps import ScrapRow, scrap_rows

# What can be said of a scrap: at most one of each group, and of the first, that it is good, nothing else beside it.
VERDICTS = (
    (Verdict.GOOD,),
    (Verdict.TOO_LIGHT, Verdict.TOO_DARK),
    (Verdict.TOO_WARM, Verdict.TOO_COOL),
    (Verdict.TOO_DULL, Verdict.TOO_VIVID),
    (Verdict.ANOTHER_HUE,),
)
FINISHES_OF_SCRAPS = (Finish.DRY, Finish.SOLVENT)
_LONGEST_NOTE = 500


@dataclass(frozen=True)
class NewScrap:
    """Layers to be tried on a paper, the lowest first; wanted: the colour that they are to stand in for, if any, and
    how that one would be laid.
    """

    paper_id: int
    layers: tuple[Layer[int], ...]
    finish: Finish = Finish.DRY
    wanted_id: int | None = None
    wanted_pressure: Pressure = Pressure.HEAVY
    wanted_layers: int = 1


def begin_scrap(collection: Collection, new: NewScrap) -> tuple[int, Changed]:
    """Write down what is about to be tried. Raises NotFoundError, RefusedError."""
    check_layers(new.layers)
    if new.finish not in FINISHES_OF_SCRAPS:
        raise RefusedError(f"“{new.finish}” is no finish of a scrap; it is {' or '.join(FINISHES_OF_SCRAPS)}.")
    with writing(collection, "Scrap begun") as session:
        scene = Scene.on(session, new.paper_id)
        laid = owned_layers(scene, new.layers)
        if new.wanted_id is not None:
            colour_named(session, new.wanted_id)
        scrap = Scrap(
            paper_id=new.paper_id, wanted_id=new.wanted_id, wanted_pressure=new.wanted_pressure,
            wanted_layers=new.wanted_layers, finish=new.finish, verdict=[], note="", made_on=datetime.now(UTC).date(),
        )  # fmt: skip
        session.add(scrap)
        session.flush()
        session.add_all(
            ScrapLayer(
                scrap_id=scrap.id, position=i, colour_id=one.pencil, pressure=one.pressure, layers=one.layers
            )
            for i, one in enumerate(new.layers)
        )  # fmt: skip
        relabel(session, f"To try on {scene.paper.name}: {strip_in_words(laid)}")
        return scrap.id, changed(session)


def strip_in_words(laid: Sequence[Laid]) -> str:
    """As a person would say it; one pencil burnished by itself burnishes nothing else."""
    if [one.pressure for one in laid] == [Pressure.BURNISH]:
        return f"{laid[0].pencil.colour.range_name} {laid[0].pencil.colour.code}, burnished by itself"
    return layers_in_words(laid)


def judge_scrap(
    collection: Collection, scrap_id: int, revision: int, verdict: Sequence[Verdict], note: str
) -> Changed | None:
    """Say what a scrap turned out like. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    words = _checked(verdict)
    if len(note) > _LONGEST_NOTE:
        raise RefusedError(f"The note has {len(note)} characters; it has at most {_LONGEST_NOTE}.")
    with writing(collection, "Scrap judged") as session:
        scrap = _scrap(session, scrap_id)
        revise(scrap, revision, {"verdict": words, "note": note.strip()}, "What is said of this scrap")
        relabel(session, f"Scrap: {', '.join(words) or 'no verdict'}")
        made = changed(session)
        return made if made.rows else None


def remove_scrap(collection: Collection, scrap_id: int) -> Changed:
    """Remove a scrap with its readings; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Scrap removed") as session:
        scrap = _scrap(session, scrap_id)
        # Children first, each by the ORM: what the database removed by itself would not be in the journal.
        for model in (ScrapReading, ScrapLayer):
            for row in session.scalars(select(model).where(model.scrap_id == scrap_id)):
                session.delete(row)
        session.flush()
        session.delete(scrap)
        return changed(session)


def _checked(verdict: Sequence[Verdict]) -> list[Verdict]:
    """The words in their usual order. Raises RefusedError for one that is not there, or two that contradict."""
    usual = [word for group in VERDICTS for word in group]
    unknown = [word for word in verdict if word not in usual]
    if unknown:
        raise RefusedError(f"“{unknown[0]}” is no verdict; it is {', '.join(usual)}.")
    words = [word for word in usual if word in verdict]
    if Verdict.GOOD in words and len(words) > 1:
        raise RefusedError(f"It is either good or {' and '.join(words[1:])}.")
    for group in VERDICTS:
        if all(word in words for word in group) and len(group) > 1:
            raise RefusedError(f"It is either {' or '.join(group)}.")
    return words


def scrap_row(session: Session, scrap_id: int) -> ScrapRow:
    """A scrap with its layers and readings; raises NotFoundError."""
    rows = scrap_rows(session, Scrap.id == scrap_id)
    if not rows:
        raise _missing(scrap_id)
    return rows[0]


def _scrap(session: Session, scrap_id: int) -> Scrap:
    scrap = session.get(Scrap, scrap_id)
    if scrap is None:
        raise _missing(scrap_id)
    return scrap


def _missing(scrap_id: int) -> NotFoundError:
    return NotFoundError(f"There is no scrap number {scrap_id}. It may have been removed in another window.")
