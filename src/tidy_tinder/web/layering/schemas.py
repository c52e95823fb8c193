"""What the layering table sends and gets, and how layers are written in an address."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import Field

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import (
    Pressure,
)
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.web.shared.base import Out
from tidy_tinder.web.shared.drawn import DifferenceOut, PatchOut, SeenOut
from tidy_tinder.web.shared.offers import (
    CoatOut,
)
from tidy_tinder.web.shared.paths import PaperQuery

_WRITTEN = re.compile(rf"(\d{{1,18}}):({'|'.join(Pressure)}):(\d{{1,2}})")

# Against floods alone: how many pencils are laid, the table says in its own words.
_MOST_WRITTEN = 40


class LayeringQuery(PaperQuery):
    """The paper, the layers, each written as colour:pressure:layers, the lowest first, and whether solvent follows."""

    laid: list[Annotated[str, Field(max_length=40)]] = Field(min_length=1, max_length=_MOST_WRITTEN)
    solvent: bool = False

    @property
    def layers(self) -> tuple[Layer[int], ...]:
        """The layers. Raises RefusedError for one that is written otherwise."""
        return tuple(_read(one) for one in self.laid)


class AloneOut(Out):
    """One of the pencils by itself, as it is laid."""

    laid: CoatOut
    seen: SeenOut | None


class LaidOrderOut(Out):
    """One order of the layers: what it gives, and what is seen after each layer."""

    laid: list[CoatOut]
    said: str
    result: SeenOut
    after: list[SeenOut]


class LayeringOut(Out):
    """Layers on a paper in every order; the first as asked, the second the other way round."""

    ready: bool
    problem: str
    ground: PatchOut
    alone: list[AloneOut]
    orders: list[LaidOrderOut]
    apart: DifferenceOut | None
    plus_minus: float | None
    passes_left: int
    none_layered: bool
    none_over_black: bool
    warnings: list[str]


def _read(written: str) -> Layer[int]:
    parts = _WRITTEN.fullmatch(written)
    if parts is None:
        raise RefusedError(f"“{written}” is no layer. A layer is written colour:pressure:layers, such as 12:light:2.")
    return Layer(int(parts[1]), Pressure(parts[2]), int(parts[3]))
