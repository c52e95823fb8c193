"""What stand-ins send and get; the result itself is in web/drawn.py, which a colour's page shows too."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.web.tidy.schemas import ColourQuery


class StandinsQuery(ColourQuery):
    """The paper, what closest means, and how many of each list."""

    limit: int = Field(default=12, ge=1, le=100)
