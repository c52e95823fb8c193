"""One line of a table of marks while it is read: its cells by field, and what is wrong with them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from enum import StrEnum
from typing import TypeVar

from tidy_tinder.core.errors import CoreError, echoed
from tidy_tinder.core.quantities import Lab
from tidy_tinder.formats.csv_cells import holds_controls
from tidy_tinder.formats.swatch_file.record import MarkProblem, on_one_line

W = TypeVar("W", bound=StrEnum)
_LONGEST = 500
# Neither a doubt in Lab nor an aperture in mm is as large.
_MOST_SAID = 100.0


def as_float(cell: str) -> float:
    """A number; no measured value is as long as to have a comma between thousands. Raises ValueError."""
    return float(cell.replace(",", ".") if cell.count(",") == 1 and "." not in cell else cell)


class Cells:
    """One line while it is read."""

    def __init__(
        self, number: int, cells: Sequence[str], places: Mapping[str, int], problems: list[MarkProblem]
    ) -> None:  # fmt: skip
        self._number, self._cells, self._places, self._problems = number, cells, places, problems
        self._before = len(problems)

    @property
    def is_wrong(self) -> bool:
        """Whether something is wrong with it so far."""
        return len(self._problems) > self._before

    def wrong(self, name: str, message: str) -> None:
        """Say what is wrong with a field."""
        self._problems.append(MarkProblem(self._number, name, message))

    def at(self, place: int) -> str:
        """What stands at a place; "" beyond the end of the line."""
        return self._cells[place].strip() if place < len(self._cells) else ""

    def text(self, name: str) -> str:
        """The words of a field, on one line; "" where there are none."""
        place = self._places.get(name)
        value = on_one_line(self.at(place)) if place is not None else ""
        if len(value) > _LONGEST or holds_controls(value):
            self.wrong(name, f"“{echoed(value)}” is too long, or holds what cannot be shown.")
            return ""
        return value

    def number(self, name: str) -> float | None:
        """The number of a field, None where there is none."""
        return self.as_number(name, self.text(name))

    def as_number(self, name: str, cell: str) -> float | None:
        """A cell as a number, None where there is none."""
        if not cell:
            return None
        try:
            return as_float(cell)
        except ValueError:
            self.wrong(name, f"“{echoed(cell)}” is not a number.")
            return None

    def count(self, name: str, most: int) -> int:
        """A count from 1; 1 where nothing is said."""
        cell = self.text(name)
        if not cell:
            return 1
        if not cell.isdecimal() or len(cell) > 2 or not 1 <= int(cell) <= most:
            self.wrong(name, f"“{echoed(cell)}” is not a count from 1 to {most}.")
            return 1
        return int(cell)

    def positive(self, name: str) -> float | None:
        """A number above 0, None where there is none."""
        value = self.number(name)
        if value is not None and not 0.0 < value < _MOST_SAID:
            self.wrong(name, f"“{echoed(self.text(name))}” is not a number above 0.")
            return None
        return value

    def word(
        self, name: str, allowed: Sequence[W], default: W | None, others: Mapping[str, W] | None = None
    ) -> W | None:  # fmt: skip
        """One of a closed list, also by what others call it."""
        cell = self.text(name)
        if not cell and default is not None:
            return default
        found = next((one for one in allowed if one.casefold() == cell.casefold()), (others or {}).get(cell.casefold()))
        if found is None:
            self.wrong(name, f"“{echoed(cell)}” is none of {', '.join(allowed)}.")
        return found

    def day(self, name: str) -> date | None:
        """A day, None where there is none."""
        cell = self.text(name)
        if not cell:
            return None
        try:
            return date.fromisoformat(cell[:10])
        except ValueError:
            self.wrong(name, f"“{echoed(cell)}” is not a day such as 2026-11-27.")
            return None

    def sure(self, name: str, compute: Callable[[], Lab]) -> Lab | None:
        """What the core makes of it, None where it refuses."""
        try:
            return compute()
        except CoreError as error:
            self.wrong(name, error.detail)
            return None
