"""One paper: found by its number or its name, its own colour, what its maker calls it."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import fold
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.storage.models import Paper


def find_paper(session: Session, paper_id: int) -> Paper:
    """The paper; raises NotFoundError."""
    paper = session.get(Paper, paper_id)
    if paper is None:
        raise NotFoundError(f"There is no paper number {paper_id}. It may have been removed in another window.")
    return paper


def find_paper_called(session: Session, text: str) -> Paper:
    """The paper whose name is, begins with or holds `text`; case and accents do not matter.

    Raises NotFoundError where none does, RefusedError where several do.
    """
    papers = session.scalars(select(Paper).order_by(Paper.position)).all()
    wanted = fold(text)
    for fits in (lambda name: name == wanted, lambda name: name.startswith(wanted), lambda name: wanted in name):
        fitting = [paper for paper in papers if wanted and fits(fold(paper.name))]
        if len(fitting) == 1:
            return fitting[0]
        if fitting:
            raise RefusedError(f"“{text}” can mean {', '.join(p.name for p in fitting)}. Write more of the name.")
    names = ", ".join(p.name for p in papers)
    raise NotFoundError(f"No paper is called “{text}”. There are: {names}.")


def paper_lab(paper: Paper) -> LabTriple:
    """The paper's own colour."""
    return (paper.lab_L, paper.lab_a, paper.lab_b)


def root_name(session: Session, paper: Paper) -> str:
    """The name of the first batch of a paper: what its maker calls it."""
    while paper.copied_from_id is not None:
        paper = find_paper(session, paper.copied_from_id)
    return paper.name
