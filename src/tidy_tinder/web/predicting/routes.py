"""Predictions: how far the fitting is, why a mark is predicted so, what to swatch first on a paper."""

from __future__ import annotations

from tidy_tinder.services.background.runtime import past_jobs
from tidy_tinder.services.predicting.first_swatches import first_swatches, sureness_of
from tidy_tinder.services.predicting.why import why
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.predicting.schemas import (
    FirstQuery,
    FirstSwatchesOut,
    FittingOut,
    JobOut,
    JobsOut,
    SurenessOut,
    WhyOut,
    WhyQuery,
)
from tidy_tinder.web.shared.paths import ColourPath, PaperPath

api = blueprint("predicting")


@api.get("/fitting", responses={"200": FittingOut})
def get_fitting() -> FittingOut:
    """How far the fitting of the collection is."""
    return FittingOut.model_validate(collection_here().fitting())


@api.get("/fitting/jobs", responses={"200": JobsOut})
def get_jobs() -> JobsOut:
    """The newest goings over of the collection."""
    return JobsOut(jobs=[JobOut.model_validate(job) for job in past_jobs(collection_here())])


@api.get("/colours/<int:colour_id>/why", responses={"200": WhyOut})
def get_why(path: ColourPath, query: WhyQuery) -> WhyOut:
    """Why a mark is predicted as it is."""
    return WhyOut.model_validate(why(collection_here(), path.colour_id, query.paper, query.pressure))


@api.get("/papers/<int:paper_id>/first", responses={"200": FirstSwatchesOut})
def get_first_swatches(path: PaperPath, query: FirstQuery) -> FirstSwatchesOut:
    """Which pencils to swatch first on a paper, and why."""
    return FirstSwatchesOut.model_validate(first_swatches(collection_here(), path.paper_id, query.count))


@api.get("/papers/<int:paper_id>/sureness", responses={"200": SurenessOut})
def get_sureness(path: PaperPath) -> SurenessOut:
    """How sure the pencils at hand are on a paper by now."""
    return SurenessOut.model_validate(sureness_of(collection_here(), path.paper_id))
