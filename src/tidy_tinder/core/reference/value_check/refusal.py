"""Why a photo cannot be laid on a reference, and what to do."""

from __future__ import annotations

from enum import StrEnum

from tidy_tinder.core.errors import CoreError

UNLIKE = "This does not look like the same picture, or the corners are in another order."
IF_SO = "If it is the same picture, go on all the same."


class Gate(StrEnum):
    """What stopped a check. Only a weak rank, an order of values that is unlike, may be overruled by the artist."""

    CORNERS = "corners"
    RING = "ring"
    PAPER = "paper"
    LIKENESS = "likeness"
    RANK = "rank"
    RESIDUAL = "residual"


class CannotCheckError(CoreError):
    """The photo cannot be laid on the reference. gate: what stopped it."""

    title = "This photo cannot be checked"

    def __init__(self, detail: str, gate: Gate = Gate.LIKENESS) -> None:
        super().__init__(detail)
        self.gate = gate
