"""A catalogue from CSV: looked at first, then taken in whole."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.exchange.catalogue import (
    export_catalogue,
    import_catalogue,
    preview_catalogue,
)
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.exchange.schemas import CatalogueForm, PreviewOut, TakenInOut
from tidy_tinder.web.shared.changes import change_out

api = blueprint("exchange")


@api.post("/catalogue/preview", responses={"200": PreviewOut})
def preview_catalogue_file(form: CatalogueForm) -> PreviewOut:
    """What taking a file in would do; nothing is changed."""
    return PreviewOut.model_validate(preview_catalogue(collection_here(), form.file.read(), form.said_columns))


@api.post("/catalogue", responses={"200": TakenInOut})
def import_catalogue_file(form: CatalogueForm) -> TakenInOut:
    """Take a file in, whole or not at all."""
    preview, change = import_catalogue(collection_here(), form.file.read(), form.said_columns)
    return TakenInOut(preview=PreviewOut.model_validate(preview), change=change_out(change))


@api.get("/catalogue", responses={"200": file_response("text/csv")})
def export_catalogue_file() -> Response:
    """All charts and what is owned of them, as a file that can be taken in again."""
    return as_file(export_catalogue(collection_here()), "text/csv", "tidy-tinder-catalogue.csv")
