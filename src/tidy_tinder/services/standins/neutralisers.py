"""For a pencil, the owned ones that darken or grey it without black, with the predicted result."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.neutralisers import Neutraliser, neutralisers
from tidy_tinder.core.standins.pairs import Coat, PairTable
from tidy_tinder.services.background.runtime import Collection, fitted, mixed_pairs
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.marks import Patch, find_paper, patch
from tidy_tinder.services.collection.predictions import Predictions, paper_fit, predictions_on
from tidy_tinder.services.collection.stacks import Laid, dressed, layers_in_words
from tidy_tinder.services.tidy.shelves import existing
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import pencils_by_colour


@dataclass(frozen=True)
class NeutralisedBy:
    """A pencil laid over the one that is asked about: in words, what both give, and what share of chroma is left."""

    over: Laid
    said: str
    result: Patch
    difference: Difference
    chroma_left: float


@dataclass(frozen=True)
class Neutralised:
    """What there is so far: done of total coats are mixed, and nothing is found until all are (ready).

    problem: why there is nothing; alone: the pencil by itself.
    """

    ready: bool
    done: int
    total: int
    problem: str = ""
    alone: Patch | None = None
    found: tuple[NeutralisedBy, ...] = ()


def neutralisers_of(
    collection: Collection, colour_id: int, paper_id: int, pressure: str, wait: float | None = None
) -> Neutralised:
    """The neutralisers of a pencil laid once on a paper; least chroma first. wait: seconds, None for all it takes.

    Raises NotFoundError for an unknown colour or paper.
    """
    with collection() as session:
        paper = find_paper(session, paper_id)
        existing(session, [colour_id])
        known = fitted(session)
        if known is None:
            return Neutralised(False, 0, 0)
        mixed = mixed_pairs(session, known, paper_fit(known, paper), paper.id, wait)
        if mixed.table is None:
            return Neutralised(False, mixed.done, mixed.total)
        if colour_id not in mixed.table.keys:
            problem = "Only a pencil that you own and that is modelled can be laid under others."
            return Neutralised(True, mixed.done, mixed.total, problem)
        return _found(session, paper, mixed.table, LaidLayer(colour_id, pressure))


def _found(session: Session, paper: Paper, table: PairTable, under: LaidLayer) -> Neutralised:
    told = predictions_on(session, paper)
    mine = told.of(under.pencil, under.pressure)
    assert mine is not None, "what is mixed is fitted"
    masstones = _masstones(session, told, table)
    each = neutralisers(table, under.pencil, Coat(under.pressure), np.array(mine.lab), masstones)
    problem = "" if each else "None of your pencils greys it without lightening it, or it has no colour to lose."
    done = len(table.keys) * len(table.coats)
    found = tuple(_dress(session, under, one) for one in each)
    return Neutralised(True, done, done, problem, patch(mine.lab), found)


def _masstones(session: Session, told: Predictions, table: PairTable) -> dict[int, Lab]:
    """Heavy marks of the pencils at hand."""
    hand, pencils = at_hand_now(session), pencils_by_colour(session)
    marks = ((key, told.of(key, "heavy")) for key in table.keys if hand.has(pencils.get(key, ())))
    return {key: np.array(mark.lab) for key, mark in marks if mark is not None}


def _dress(session: Session, under: LaidLayer, one: Neutraliser) -> NeutralisedBy:
    both = dressed(session, [under, LaidLayer(one.key, one.coat.pressure, one.coat.layers)])
    return NeutralisedBy(both[1], layers_in_words(both), patch(one.lab), one.difference, one.chroma_left)
