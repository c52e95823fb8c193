"""Pencils fitted in a process of its own."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import pytest

from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.fitting.hand import USUAL_HAND
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.tooth import PaperModel
from tidy_tinder.core.vocabulary import Pressure, PrintedOpacity
from tidy_tinder.services.background.apart import ApartFits


@pytest.fixture
def apart() -> Iterator[ApartFits]:
    fits = ApartFits()
    yield fits
    fits.close()


def evidence() -> list[list[Evidence]]:
    paper = PaperModel(np.full(31, 0.85))
    return [[Evidence(np.array([60.0, a, 20.0]), paper, Kind(Pressure.MEDIUM))] for a in (-20.0, 0.0, 30.0)]


OPACITIES: list[PrintedOpacity] = ["", "", ""]


def same(ones: Sequence[PencilFit], others: Sequence[PencilFit]) -> bool:
    return all(
        np.array_equal(one.unknowns, other.unknowns) and np.array_equal(one.covariance, other.covariance)
        for one, other in zip(ones, others, strict=True)
    )


def watched(monkeypatch: pytest.MonkeyPatch) -> list[Any]:
    """Every process that is begun from now on."""
    begun: list[Any] = []
    popen: Any = subprocess.Popen

    def begin(*args: Any, **how: Any) -> Any:
        begun.append(popen(*args, **how))
        return begun[-1]

    monkeypatch.setattr(subprocess, "Popen", begin)
    return begun


def test_it_fits_as_this_process_does_again_and_again(apart: ApartFits) -> None:
    known = fit_pencils(evidence(), OPACITIES)
    for _ in range(2):
        assert same(apart.fit(evidence(), OPACITIES, USUAL_HAND), known)


def test_where_the_other_process_is_killed_this_one_does_its_work(
    apart: ApartFits, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun = watched(monkeypatch)
    known = apart.fit(evidence(), OPACITIES, USUAL_HAND)
    begun[0].kill()
    begun[0].wait()
    assert same(apart.fit(evidence(), OPACITIES, USUAL_HAND), known)
    apart.fit(evidence(), OPACITIES, USUAL_HAND)
    assert len(begun) == 2  # and the next question begins another
    apart.close()
    assert begun[1].returncode is not None


def test_it_ends_with_the_program_that_began_it(apart: ApartFits, monkeypatch: pytest.MonkeyPatch) -> None:
    begun = watched(monkeypatch)
    apart.fit(evidence(), OPACITIES, USUAL_HAND)
    begun[0].stdin.close()  # as the system closes it for a program that was killed
    assert begun[0].wait(timeout=20) == 0
