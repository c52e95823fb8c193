"""Papers: found by name, added, changed, copied as a new batch, removed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.vocabulary import MOST_PAPER_LAYERS, Tooth
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.held import refuse_if_held
from tidy_tinder.services.collection.paper import find_paper, paper_lab
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import (
    Choice,
    Drawing,
    Drying,
    Exclusion,
    FadeStrip,
    Paper,
    Scrap,
    Sheet,
    Swatch,
    SwatchSession,
)

# What keeps a paper from being removed: where it hangs, in words for one and for several.
_HOLDS = (
    (Swatch.paper_id, "swatch", "swatches"),
    (Choice.paper_id, "chosen stand-in", "chosen stand-ins"),
    (Exclusion.paper_id, "pencil left out of a plan", "pencils left out of plans"),
    (Scrap.paper_id, "scrap", "scraps"),
    (Drawing.paper_id, "drawing", "drawings"),
    (Drying.paper_id, "drying time", "drying times"),
    (Sheet.paper_id, "printed sheet", "printed sheets"),
    (SwatchSession.paper_id, "swatching session", "swatching sessions"),
    (FadeStrip.paper_id, "fade test", "fade tests"),
    (Paper.copied_from_id, "later batch of it", "later batches of it"),
)


@dataclass(frozen=True)
class PaperAs:
    """All that can be said of a paper; lab is its own colour, D65, 2°."""

    name: str
    mill: str
    kind: str
    lab: LabTriple
    tooth: Tooth
    most_layers: int
    absorbent: bool
    stands_solvent: bool
    notes: str = ""


@dataclass(frozen=True)
class PaperPage:
    """A paper with how much was swatched on it; copied_from names the batch before, "" for none."""

    id: int
    revision: int
    said: PaperAs
    colour: Patch
    swatches: int
    colours: int
    copied_from: str


def paper_pages(collection: Collection) -> tuple[PaperPage, ...]:
    """All papers in order."""
    with collection() as session:
        counted = select(Swatch.paper_id, func.count(Swatch.id), func.count(Swatch.colour_id.distinct()))
        counts = {i: (n, colours) for i, n, colours in session.execute(counted.group_by(Swatch.paper_id)).all()}
        papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
        names = {p.id: p.name for p in papers}
        return tuple(
            PaperPage(
                p.id, p.revision, _said(p), patch(paper_lab(p)), *counts.get(p.id, (0, 0)),
                names.get(p.copied_from_id or 0, ""),
            )
            for p in papers
        )  # fmt: skip


def add_paper(collection: Collection, wanted: PaperAs) -> tuple[int, Changed]:
    """A new paper after those that are there. Raises RefusedError, OutOfRangeError for its colour."""
    with writing(collection, f"Paper {wanted.name} added") as session:
        values = _values(session, wanted, None)
        paper = Paper(position=_next_position(session), **values)
        session.add(paper)
        session.flush()
        return paper.id, changed(session)


def add_papers(collection: Collection, papers: Sequence[PaperAs]) -> Changed:
    """Several papers after those that are there, as one change. Raises RefusedError, OutOfRangeError."""
    with writing(collection, "Papers added") as session:
        for wanted in papers:
            session.add(Paper(position=_next_position(session), **_values(session, wanted, None)))
            session.flush()
        return changed(session)


def edit_paper(collection: Collection, paper_id: int, revision: int, wanted: PaperAs) -> Changed | None:
    """Say anew all of a paper. Raises NotFoundError, RefusedError, ChangedMeanwhileError with both versions."""
    with writing(collection, f"Paper {wanted.name} changed") as session:
        paper = find_paper(session, paper_id)
        revise(paper, revision, _values(session, wanted, paper_id), f"The paper {paper.name}")
        made = changed(session)
        return made if made.rows else None


def copy_paper(collection: Collection, paper_id: int) -> tuple[int, Changed]:
    """A new batch of a paper: the same in all but its swatches, which are to be made anew. Raises NotFoundError."""
    with writing(collection, "Paper copied") as session:
        old = find_paper(session, paper_id)
        first = old.name.split(", batch ")[0]
        taken = set(session.scalars(select(Paper.name)))
        number = next(n for n in range(2, 1000) if f"{first}, batch {n}" not in taken)
        values = {**_flat(_said(old)), "name": f"{first}, batch {number}"}
        paper = Paper(position=_next_position(session), copied_from_id=old.id, **values)
        session.add(paper)
        session.flush()
        relabel(session, f"Paper {paper.name} added")
        return paper.id, changed(session)


def remove_paper(collection: Collection, paper_id: int) -> Changed:
    """Remove a paper; refused, with the reason, where anything hangs on it or it is the last one."""
    with writing(collection, "Paper removed") as session:
        paper = find_paper(session, paper_id)
        if session.scalar(select(func.count(Paper.id))) == 1:
            raise RefusedError(f"{paper.name} is the only paper, and a mark always lies on one. Change it instead.")
        refuse_if_held(session, _HOLDS, [paper_id], paper.name)
        relabel(session, f"Paper {paper.name} removed")
        session.delete(paper)
        return changed(session)


def _said(paper: Paper) -> PaperAs:
    return PaperAs(
        paper.name, paper.mill, paper.kind, paper_lab(paper), paper.tooth, paper.most_layers, paper.absorbent,
        paper.stands_solvent, paper.notes,
    )  # fmt: skip


def _flat(said: PaperAs) -> dict[str, object]:
    values: dict[str, object] = asdict(said)
    values["lab_L"], values["lab_a"], values["lab_b"] = said.lab
    del values["lab"]
    return values


def _values(session: Session, wanted: PaperAs, own_id: int | None) -> dict[str, object]:
    """The columns for what is wanted, checked."""
    name = " ".join(wanted.name.split())
    if not name:
        raise RefusedError("A paper needs a name.")
    if wanted.tooth not in tuple(Tooth):
        raise RefusedError(f"The tooth is {', '.join(Tooth)}, not “{wanted.tooth}”.")
    if not 1 <= wanted.most_layers <= MOST_PAPER_LAYERS:
        raise RefusedError(f"A paper takes 1 to {MOST_PAPER_LAYERS} layers, not {wanted.most_layers}.")
    check_lab(np.array(wanted.lab), "The paper's own colour")
    if session.scalar(select(Paper.id).where(Paper.name == name)) not in (None, own_id):
        raise RefusedError(f"There is a paper called {name} already.")
    return {**_flat(wanted), "name": name}


def _next_position(session: Session) -> int:
    last = session.scalar(select(func.max(Paper.position)))
    return 0 if last is None else last + 1
