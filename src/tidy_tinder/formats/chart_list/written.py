"""What a list says, line by line: colours, what was left out of them, and lines that name none."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True)
class WrittenColour:
    """One colour as the list has it. hex: a printed colour, "" where there is none; count: pencils of it.

    code is "" in a list without codes until they are numbered. problem: why it cannot be taken, "" where it can.
    """

    code: str
    name: str
    opacity: str = ""
    lightfastness: str = ""
    effect: str = ""
    hex: str = ""
    count: int = 1
    problem: str = ""


@dataclass(frozen=True)
class WrittenLine:
    """One line of the list. left_out: what on it belongs to no colour (prices, what a shop writes on every line).

    problem: why nothing was read from it, "" where something was or there is nothing to read.
    """

    number: int
    text: str
    colours: tuple[WrittenColour, ...] = ()
    left_out: tuple[str, ...] = ()
    problem: str = ""


@dataclass(frozen=True)
class WrittenChart:
    """A whole list. title: words that stand above it or before every colour, perhaps the range; box: the set that they
    name besides (“set of 24”). numbered: it has no codes, so its colours were given numbers in their order.
    """

    lines: tuple[WrittenLine, ...] = field(default=())
    title: str = ""
    box: str = ""
    numbered: bool = False

    @property
    def colours(self) -> tuple[WrittenColour, ...]:
        """The colours that can be taken, in order."""
        return tuple(c for line in self.lines for c in line.colours if not c.problem)
