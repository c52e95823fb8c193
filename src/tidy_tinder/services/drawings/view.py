"""The page of drawings: what each is, which pictures and recipes belong to it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.drawings.store import DrawingAs, said_of
from tidy_tinder.storage.models import Drawing, DrawingState, Paper, Recipe, Reference, TrayPencil


@dataclass(frozen=True)
class DrawingRecipe:
    """A recipe that belongs to a drawing."""

    id: int
    title: str


@dataclass(frozen=True)
class DrawingCard:
    """A drawing as it is listed: its paper with its colour, references, recipes, how many pencils lie in its tray."""

    id: int
    revision: int
    said: DrawingAs
    paper_name: str
    paper: Patch
    state: DrawingState
    begun_on: date
    references: tuple[int, ...]
    recipes: tuple[DrawingRecipe, ...]
    tray: int
    at_hand: bool


def drawing_cards(collection: Collection) -> tuple[DrawingCard, ...]:
    """All drawings: those at work first, the newest first."""
    with collection() as session:
        at_hand = drawing_at_hand(session)
        papers = {paper.id: paper for paper in session.scalars(select(Paper))}
        trays = Counter(session.scalars(select(TrayPencil.drawing_id)).all())
        references: dict[int, list[int]] = {}
        for row in session.scalars(select(Reference).order_by(Reference.position, Reference.id)):
            references.setdefault(row.drawing_id, []).append(row.id)
        recipes: dict[int, list[DrawingRecipe]] = {}
        for recipe in session.scalars(select(Recipe).order_by(Recipe.position, Recipe.id)):
            if recipe.drawing_id is not None:
                recipes.setdefault(recipe.drawing_id, []).append(DrawingRecipe(recipe.id, recipe.title))
        drawings = session.scalars(select(Drawing)).all()
        in_order = sorted(drawings, key=lambda d: (d.state is DrawingState.ARCHIVED, -d.position, -d.id))
        return tuple(
            DrawingCard(
                d.id, d.revision, said_of(d), papers[d.paper_id].name, patch(paper_lab(papers[d.paper_id])), d.state,
                d.begun_on, tuple(references.get(d.id, ())), tuple(recipes.get(d.id, ())), trays[d.id],
                at_hand is not None and at_hand.id == d.id,
            )
            for d in in_order
        )  # fmt: skip
