"""The cards of all colours on a paper: what each is, looks like, and is put in order by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.marks.arranging import arrange
from tidy_tinder.services.background.cache import COLOUR_TABLES, MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.chart import charted_colours
from tidy_tinder.services.collection.marks import Mark, marks_on
from tidy_tinder.services.collection.predictions import Predictions, predictions_on
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class Order:
    """By what a colour is put in order: Munsell value, hue angle, chroma, temperature, family of its hue."""

    value: float
    hue: float
    chroma: float
    temperature: float
    family: str


@dataclass(frozen=True)
class Card:
    """What a colour is and looks like on a paper; order is None where no colour is known."""

    colour: ColourRow
    mark: Mark
    order: Order | None


@dataclass(frozen=True, eq=False)
class Cards:
    """The cards of all colours on a paper by colour id; one object for one version of the collection."""

    by_id: Mapping[int, Card]


def cards_on(session: Session, paper: Paper) -> Cards:
    """The cards of all colours on a paper, in chart order; kept until the collection's marks change."""
    predicted = predictions_on(session, paper)
    question = ("cards", paper.id, predicted.version)
    return for_version(session, question, (*MARK_TABLES, *COLOUR_TABLES), lambda: _deal(session, paper, predicted))


def deal_cards(collection: Collection) -> None:
    """Have the cards on the paper at hand ready before they are asked for; does nothing without a paper."""
    with collection() as session:
        paper = paper_at_hand(session)
        if paper is not None:
            cards_on(session, paper)


def deal_cards_on_all(collection: Collection) -> None:
    """Have the cards on every paper ready, the one at hand first: a turn of the paper is then at once."""
    deal_cards(collection)
    with collection() as session:
        for paper in session.scalars(select(Paper).order_by(Paper.position)):
            cards_on(session, paper)


def _deal(session: Session, paper: Paper, predicted: Predictions) -> Cards:
    rows, marks = charted_colours(session), marks_on(session, paper, predicted)
    known = [row.id for row in rows if marks[row.id].zones]
    orders: dict[int, Order] = {}
    if known:
        by = arrange(np.array([marks[i].zones[0].lab for i in known]))
        figures = zip(by.value, by.hue, by.chroma, by.temperature, by.family, strict=True)
        orders = {
            i: Order(round(float(v), 3), round(float(h), 2), round(float(c), 2), round(float(t), 2), family)
            for i, (v, h, c, t, family) in zip(known, figures, strict=True)
        }
    return Cards({row.id: Card(row, marks[row.id], orders.get(row.id)) for row in rows})
