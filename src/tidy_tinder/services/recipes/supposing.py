"""Other pencils than those at hand, supposed for one question: only one range or box, or one more that is bought."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.storage.models import BoxedSet, ColourRange, Paper, SetColour
from tidy_tinder.storage.queries.colours import ColourRow, set_contents


@dataclass(frozen=True)
class OtherHands:
    """A range or a box into which a recipe can be put; colours: how many it has."""

    id: int
    name: str
    colours: int


@dataclass(frozen=True)
class Supposed:
    """range_id, set_id: only the pencils of this range or box are there; bought: this colour, too; no_black: whether
    blacks are left out, None as the drawing has it.
    """

    range_id: int | None = None
    set_id: int | None = None
    bought: int | None = None
    no_black: bool | None = None

    @property
    def other_hands(self) -> bool:
        """Whether somebody else's pencils are supposed: what the artist chose with hers does not count then."""
        return self.range_id is not None or self.set_id is not None


NOTHING = Supposed()
"""Everything as it is."""


class SupposedScene(Scene):
    """A paper with pencils at hand that are only supposed."""

    def __init__(self, session: Session, paper: Paper, supposed: Supposed) -> None:
        super().__init__(session, paper)
        self.supposed = supposed
        # Asked for here, so that what is not there is said before anything is worked out.
        self._pencils = self._supposed()

    @cached_property
    def at_hand(self) -> frozenset[int]:
        """The colours that are supposed to be at hand."""
        return self._pencils

    def _supposed(self) -> frozenset[int]:
        supposed = self.supposed
        if supposed.range_id is not None:
            colours = {i for i, row in self.colours.items() if row.range_id == supposed.range_id}
            if not colours:
                raise NotFoundError("This range has no colours here. It may have been removed in another window.")
        elif supposed.set_id is not None:
            holds = select(SetColour.colour_id).where(SetColour.set_id == supposed.set_id)
            colours = set(self.session.scalars(holds))
            if not colours:
                raise NotFoundError("This box holds no colours here. It may have been removed in another window.")
        else:
            hand = at_hand_now(self.session)
            colours = {i for i, sticks in self.pencils.items() if hand.has(sticks)}
        if supposed.bought is not None:
            colours.add(self.colour(supposed.bought).id)
        return frozenset(colours)


def scene_for(session: Session, paper_id: int, supposed: Supposed) -> Scene:
    """The scene on a paper with these pencils. Raises NotFoundError, RefusedError for a range and a box at once."""
    if supposed.range_id is not None and supposed.set_id is not None:
        raise RefusedError("Suppose a range or a box, not both at once.")
    if supposed == Supposed(no_black=supposed.no_black):
        return Scene.on(session, paper_id)
    return SupposedScene(session, find_paper(session, paper_id), supposed)


def other_hands(collection: Collection) -> tuple[tuple[OtherHands, ...], tuple[OtherHands, ...]]:
    """The ranges and the boxes into which recipes can be put, those that hold colours."""
    with collection() as session:
        count = Counter(row.range_id for row in chart_by_id(session).values())
        lines = session.scalars(select(ColourRange).order_by(ColourRange.position, ColourRange.id)).all()
        names = {line.id: line.name for line in lines}
        ranges = tuple(OtherHands(line.id, line.name, count[line.id]) for line in lines if count[line.id])
        boxes = tuple(
            OtherHands(set_id, _box(names[range_id], name), len(colours))
            for set_id, range_id, name, colours in set_contents(session)
            if colours
        )
        return ranges, boxes


def called(session: Session, supposed: Supposed) -> str:
    """What these pencils are called: “Scholar only”, “the box Heron 24”; "" where they are her own."""
    if supposed.range_id is not None:
        line = session.get(ColourRange, supposed.range_id)
        return f"{line.name} only" if line else ""
    if supposed.set_id is not None:
        box = session.get(BoxedSet, supposed.set_id)
        line = session.get(ColourRange, box.range_id) if box else None
        return f"the box {_box(line.name, box.name)}" if box and line else ""
    return ""


def _box(line: str, name: str) -> str:
    """A box with its range, which many names hold already."""
    return name if line in name else f"{line} {name}"


def in_words(colour: ColourRow) -> str:
    """A colour as a text names it."""
    return f"{colour.range_name} {colour.code} {colour.name}"
