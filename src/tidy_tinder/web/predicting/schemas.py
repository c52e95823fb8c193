"""What the predictions send and get."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.layering.collection_fit.next_swatches import FEWEST, MOST
from tidy_tinder.core.vocabulary import (
    MarkPressure,
    Opacity,
    Pressure,
)
from tidy_tinder.services.predicting.first_swatches import USUAL
from tidy_tinder.storage.models import JobState
from tidy_tinder.web.shared.base import Asked, Id, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, MarkOut, PatchOut


class FittingOut(Out):
    """How far the fitting is; version is of what predictions rest on now, 0 before the first."""

    working: bool
    done: int
    total: int
    version: int
    age_seconds: float


class JobOut(Out):
    """One going over of the collection."""

    id: int
    state: JobState
    done: int
    reused: int
    total: int
    taken_up: int


class JobsOut(Schema):
    """The newest jobs, the newest first."""

    jobs: list[JobOut]


class WhyQuery(Asked):
    """Which of its marks."""

    paper: Id
    pressure: MarkPressure = Pressure.HEAVY


class DoubtOut(Out):
    """Shares of the doubt, adding up to 1."""

    pencil: float
    paper: float
    hand: float
    rest: float


class ExplanationOut(Out):
    """A prediction with its workings."""

    band: float
    coverage: float
    thickness: float
    softness: float
    scattering: float
    cover: Opacity
    grain: float
    carried: float
    doubt: DoubtOut
    hand: float


class RestedOnOut(Out):
    """One swatch that a prediction rests on."""

    words: str
    looks: PatchOut


class SurerOut(Out):
    """What would make a prediction surer, and its band then."""

    words: str
    band: float


class WhyOut(Out):
    """Why a mark is predicted as it is."""

    colour: ColourOut
    paper_name: str
    pressure: Pressure
    looks: PatchOut
    explanation: ExplanationOut
    rests_on: list[RestedOnOut]
    by_chart: bool
    guess: bool
    home_name: str
    anchors: int
    charts_from: int
    surer: list[SurerOut]


class FirstQuery(Asked):
    """How many pencils to advise."""

    count: int = Field(default=USUAL, ge=FEWEST, le=MOST)


class FirstSwatchOut(Out):
    """A pencil to swatch early on a paper."""

    colour: ColourOut
    mark: MarkOut
    why: str
    done: bool


class SurenessOut(Out):
    """How sure the marks of the pencils at hand are on a paper."""

    marks: int
    measured: int
    within: list[int] = Field(min_length=4, max_length=4)
    unknown: int
    median_band: float | None
    anchors: int
    ready: bool
    good_share: float
    enough: bool


class OverBlackOut(Out):
    """What heavy marks over a black bar on the home paper would do for a dark one."""

    home_id: int
    home_name: str
    colour_ids: list[int]
    band_now: float
    band_then: float


class FirstSwatchesOut(Out):
    """The advice for a paper."""

    paper_id: int
    paper_name: str
    is_home: bool
    advised: list[FirstSwatchOut]
    sureness: SurenessOut
    over_black: OverBlackOut | None
