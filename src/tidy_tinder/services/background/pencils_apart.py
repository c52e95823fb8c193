"""Pencils fitted in a process of their own, which loads nothing for it but the core."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeAlias

from tidy_tinder.core.layering.fitting.evidence import Evidence
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.vocabulary import PrintedOpacity
from tidy_tinder.services.background.apart import Apart, Say

FitsPencils: TypeAlias = Callable[[Sequence[Sequence[Evidence]], Sequence[PrintedOpacity], float], Sequence[PencilFit]]


def fitting_in(apart: Apart) -> FitsPencils:
    """What fits pencils as `fit_pencils` does, in the other process."""

    def fit(
        evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float
    ) -> Sequence[PencilFit]:
        return apart.ask(_nothing_is_said, _fit, evidence, opacities, hand)

    return fit


def _fit(
    _say: Say, evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float
) -> Sequence[PencilFit]:
    return fit_pencils(evidence, opacities, hand)


def _nothing_is_said(said: object) -> None:
    raise AssertionError(f"nothing is said while pencils are fitted, but {said}")
