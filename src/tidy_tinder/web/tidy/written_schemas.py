"""A pasted list of colours on its way to becoming a chart."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.vocabulary import Effect, Opacity, PrintedOpacity
from tidy_tinder.formats.chart_list.reading import LONGEST_CHART
from tidy_tinder.services.collection.patches import patch_of_hex
from tidy_tinder.services.tidy.written_chart import ChartPreview, PlacedColour, Standing
from tidy_tinder.web.shared.base import Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.drawn import PatchOut

_TEXT = 120


class ChartListIn(Schema):
    """A list, and of what it is one; own: each of its colours is owned."""

    text: str = Field(max_length=LONGEST_CHART)
    maker: str = Field(default="", max_length=_TEXT)
    range_name: str = Field(default="", max_length=_TEXT)
    set_name: str = Field(default="", max_length=_TEXT)
    own: bool = True


class WrittenColourOut(Schema):
    """One colour as it is read; patch is a printed colour; problem says why it is left out."""

    code: str
    name: str
    opacity: PrintedOpacity
    lightfastness: str
    effect: Effect
    patch: PatchOut | None
    count: int
    standing: Standing
    problem: str


class WrittenLineOut(Schema):
    """One line: its colours, what on it belongs to none, and why nothing was read where nothing was."""

    number: int
    text: str
    colours: list[WrittenColourOut]
    left_out: list[str]
    problem: str


class ChartReadOut(Schema):
    """The whole list. title, box: what may be the range and the set; numbered: it has no codes, so they count on."""

    lines: list[WrittenLineOut]
    title: str
    box: str
    numbered: bool
    range_here: bool
    colours: int
    new: int


class ChartWrittenOut(Out):
    """What was written; left: the lines that were not taken, as they stand in the list."""

    range_id: int
    colours: int
    new: int
    left: str
    change: ChangeOut | None


def chart_read_out(seen: ChartPreview) -> ChartReadOut:
    """A list as it is read, for the browser."""
    return ChartReadOut(
        lines=[
            WrittenLineOut(
                number=one.line.number, text=one.line.text, colours=[_colour(c) for c in one.colours],
                left_out=list(one.line.left_out), problem=one.line.problem,
            )
            for one in seen.lines
        ],
        title=seen.reading.title,
        box=seen.reading.box,
        numbered=seen.reading.numbered,
        range_here=seen.range_here,
        colours=len(seen.colours),
        new=sum(one.standing is Standing.NEW for one in seen.colours),
    )  # fmt: skip


def _colour(placed: PlacedColour) -> WrittenColourOut:
    colour = placed.colour
    return WrittenColourOut(
        code=colour.code, name=colour.name, opacity=Opacity(colour.opacity) if colour.opacity else "",
        lightfastness=colour.lightfastness, effect=Effect(colour.effect or Effect.ORDINARY),
        patch=PatchOut.model_validate(patch_of_hex(colour.hex)) if colour.hex else None,
        count=colour.count, standing=placed.standing, problem=placed.problem,
    )  # fmt: skip
