"""Pencils laid over one another, in every order."""

from __future__ import annotations

from tidy_tinder.services.layering.table import lay_out
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.layering.schemas import LayeringOut, LayeringQuery

api = blueprint("layering")


@api.get("/layering", responses={"200": LayeringOut})
def get_layering(query: LayeringQuery) -> LayeringOut:
    """What layers look like on a paper in every order."""
    return LayeringOut.model_validate(lay_out(collection_here(), query.paper, query.layers, query.solvent))
