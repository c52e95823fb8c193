"""Station 1: the shelves, with what can put them in order; and owning: ticked, pasted, a whole set."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.marks.arranging import arrange
from tidy_tinder.core.names.spans import read_spans
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.at_hand import AtHand, Owning, at_hand_now
from tidy_tinder.services.collection.chart import entry_of
from tidy_tinder.services.collection.marks import Mark, charted_colours, find_paper, marks_on
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.collection.preferences import read_setting
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import BoxedSet, Colour, ColourRange, Paper, Pencil
from tidy_tinder.storage.queries.colours import ColourRow, PencilRow, colour_rows, pencils_by_colour, set_contents


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


@dataclass(frozen=True)
class Place:
    """Where a pencil stands; slot None where none is given."""

    tin: str
    slot: int | None


@dataclass(frozen=True)
class ShelfColour:
    """One colour on a shelf: how it is owned, where its pencils stand, whether one is with her."""

    colour_id: int
    owning: Owning
    places: tuple[Place, ...]
    with_me: bool


@dataclass(frozen=True)
class ShelfSet:
    """A boxed set of a range and how many of its colours are owned."""

    id: int
    name: str
    colours: int
    owned: int


@dataclass(frozen=True)
class Shelf:
    """One range with its colours in chart order."""

    range_id: int
    maker: str
    name: str
    feel: str
    new_length_mm: int
    holds_point: bool | None
    water_soluble: bool | None
    revision: int
    colours: tuple[ShelfColour, ...]
    sets: tuple[ShelfSet, ...]

    @property
    def owned(self) -> int:
        """How many of its colours are owned, lost ones included."""
        return sum(c.owning is not Owning.NOT_OWNED for c in self.colours)


@dataclass(frozen=True)
class Ticked:
    """What ticking codes did. unknown: what is not on that chart, as it was written."""

    changed: Changed | None
    newly: int
    already: int
    unknown: tuple[str, ...]


def shelves(collection: Collection, paper_id: int) -> tuple[Cards, tuple[Shelf, ...]]:
    """Every range with its colours and their cards on a paper. Raises NotFoundError for an unknown paper."""
    with collection() as session:
        cards = cards_on(session, find_paper(session, paper_id))
        hand, pencils = at_hand_now(session), pencils_by_colour(session)
        by_range: dict[int, list[ShelfColour]] = {}
        for card in cards.by_id.values():
            sticks = pencils.get(card.colour.id, ())
            by_range.setdefault(card.colour.range_id, []).append(_on_shelf(card.colour.id, sticks, hand))
        owned = {c.colour_id for shelf in by_range.values() for c in shelf if c.owning is not Owning.NOT_OWNED}
        sets: dict[int, list[ShelfSet]] = {}
        for set_id, range_id, name, contents in set_contents(session):
            sets.setdefault(range_id, []).append(
                ShelfSet(set_id, name, len(contents), sum(i in owned for i in contents))
            )
        ranges = session.scalars(select(ColourRange).order_by(ColourRange.position, ColourRange.id)).all()
        found = tuple(
            Shelf(
                r.id, r.maker, r.name, r.feel, r.new_length_mm, r.holds_point, r.water_soluble, r.revision,
                tuple(by_range.get(r.id, ())), tuple(sets.get(r.id, ())),
            )
            for r in ranges
        )  # fmt: skip
        return cards, found


def lay_out(collection: Collection) -> None:
    """Have the shelves on the paper at hand ready before they are asked for; does nothing without a paper."""
    with collection() as session:
        chosen = read_setting(session, "paper", "0")
        paper = session.get(Paper, int(chosen)) or session.scalars(select(Paper).order_by(Paper.position)).first()
        if paper is not None:
            cards_on(session, paper)


def lay_out_all(collection: Collection) -> None:
    """Have the shelves on every paper ready, the one at hand first: a turn of the paper is then at once."""
    lay_out(collection)
    with collection() as session:
        for paper in session.scalars(select(Paper).order_by(Paper.position)):
            cards_on(session, paper)


def cards_on(session: Session, paper: Paper) -> Cards:
    """The cards of all colours on a paper, in chart order; kept until the collection's marks change."""
    question = ("cards", paper.id, predictions_on(session, paper).version)
    return for_version(session, question, MARK_TABLES, lambda: _deal(session, paper))


def _deal(session: Session, paper: Paper) -> Cards:
    rows, marks = charted_colours(session), marks_on(session, paper)
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


def _on_shelf(colour_id: int, pencils: Sequence[PencilRow], hand: AtHand) -> ShelfColour:
    kept = [p for p in pencils if p.state != "used_up"]
    places = tuple(Place(p.tin, p.slot) for p in kept)
    return ShelfColour(colour_id, hand.owning(pencils), places, any(hand.carries(p) for p in kept))


def tick(collection: Collection, range_id: int, text: str, owned: bool = True) -> Ticked:
    """Tick typed codes of one range as owned, or as not owned: “101-118, 122, 130”.

    What is on the chart is done, what is not is named in the answer. Raises NotFoundError for an unknown
    range.
    """
    with collection() as session:
        line = session.get(ColourRange, range_id)
        if line is None:
            raise NotFoundError(f"There is no range number {range_id}.")
        name = line.name
        chart = [entry_of(row) for row in charted_colours(session) if row.range_id == range_id]
    reading = read_spans(text, chart)
    if not reading.keys:
        return Ticked(None, 0, 0, reading.unknown)
    said = " ".join(text.split())[:60]
    made = mark_owned(collection, reading.keys, owned, f"{name} {said} {'owned' if owned else 'not owned'}")
    newly = made.rows if made else 0
    return Ticked(made, newly, len(reading.keys) - newly if owned else 0, reading.unknown)


def mark_owned(
    collection: Collection, colour_ids: Sequence[int], owned: bool, label: str = "", set_id: int | None = None
) -> Changed | None:
    """Own these colours (a new pencil each where there is none), or own them no more; one change, one undo.

    Returns None where nothing had to change. Raises NotFoundError for an unknown colour.
    """
    with writing(collection, label or "Owned") as session:
        colours = existing(session, colour_ids)
        pencils = pencils_by_colour(session)
        kept = {i: [p for p in pencils.get(i, ()) if p.state != "used_up"] for i in colours}
        if owned:
            lengths: dict[int, int] = dict(session.execute(select(ColourRange.id, ColourRange.new_length_mm)).all())
            session.add_all(
                Pencil(colour_id=i, set_id=set_id, length_mm=lengths[row.range_id])
                for i, row in colours.items()
                if not kept[i]
            )
        else:
            going = [p.id for i in colours for p in kept[i]]
            for pencil in session.scalars(select(Pencil).where(Pencil.id.in_(going))):
                session.delete(pencil)
        if not label:
            relabel(session, f"{named(colours)} {'owned' if owned else 'not owned'}")
        made = changed(session)
        return made if made.rows else None


def own_set(collection: Collection, set_id: int) -> Changed | None:
    """Own every colour of a boxed set that is not owned yet. Raises NotFoundError; None where all were owned."""
    with collection() as session:
        boxed = session.get(BoxedSet, set_id)
        if boxed is None:
            raise NotFoundError(f"There is no set number {set_id}.")
        name = boxed.name
        contents = next(ids for known, _, _, ids in set_contents(session) if known == set_id)
    if not contents:
        raise RefusedError(f"The set {name} has no colours.")
    return mark_owned(collection, contents, True, f"Set {name} owned", set_id)


def existing(session: Session, colour_ids: Sequence[int]) -> dict[int, ColourRow]:
    """The colours by id, each once; raises NotFoundError for one that is not there."""
    rows = {row.id: row for row in colour_rows(session)}
    missing = [i for i in colour_ids if i not in rows]
    if missing:
        raise NotFoundError(f"There is no colour number {missing[0]}. It may have been removed in another window.")
    return {i: rows[i] for i in colour_ids}


def named(colours: Mapping[int, ColourRow]) -> str:
    """One colour by its name, several by their number."""
    first = next(iter(colours.values()))
    return first.name if len(colours) == 1 else f"{len(colours)} colours"


def colour_named(session: Session, colour_id: int) -> str:
    """“Heron 119 Fly Cap”; raises NotFoundError."""
    row = session.execute(
        select(ColourRange.name, Colour.code, Colour.name)
        .join(ColourRange, Colour.range_id == ColourRange.id)
        .where(Colour.id == colour_id)
    ).first()
    if row is None:
        raise NotFoundError(f"There is no colour number {colour_id}. It may have been removed in another window.")
    return " ".join(row)
