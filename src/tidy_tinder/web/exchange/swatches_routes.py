"""Swatches as files: out as CSV, CGATS.17 or CxF3, and in again."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.exchange.palettes import palette_on
from tidy_tinder.services.exchange.swatches import (
    SwatchFileKind,
    export_swatches,
    import_swatches,
    preview_swatches,
)
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.exchange.swatches_schemas import (
    PaletteQuery,
    SwatchesPreviewOut,
    SwatchesTakenInOut,
    SwatchFileForm,
    SwatchFileQuery,
)
from tidy_tinder.web.shared.changes import change_out

api = blueprint("swatch_files")

_AS = {
    SwatchFileKind.CSV: ("text/csv", "csv"),
    SwatchFileKind.CGATS: ("text/plain", "txt"),
    SwatchFileKind.CXF: ("application/xml", "cxf"),
}


@api.get("/swatches/file", responses={"200": file_response("text/csv")})
def export_swatch_file(query: SwatchFileQuery) -> Response:
    """All swatches, or those on one paper, as a file that can be taken in again."""
    mimetype, ending = _AS[query.kind]
    content = export_swatches(collection_here(), query.kind, query.paper or None)
    return as_file(content, mimetype, f"tidy-tinder-swatches.{ending}")


@api.get("/palette", responses={"200": file_response("application/x-gimp-palette")})
def export_palette(query: PaletteQuery) -> Response:
    """The tray, or a range, as a palette for drawing programs: its marks as a screen shows them on a paper."""
    title, content = palette_on(collection_here(), query.paper, query.range or None)
    return as_file(content.encode(), "application/x-gimp-palette", f"{title}.gpl")


@api.post("/swatches/file/preview", responses={"200": SwatchesPreviewOut})
def preview_swatch_file(form: SwatchFileForm) -> SwatchesPreviewOut:
    """What taking a file in would do; nothing is changed."""
    return SwatchesPreviewOut.model_validate(preview_swatches(collection_here(), form.file.read(), form.said))


@api.post("/swatches/file", responses={"200": SwatchesTakenInOut})
def import_swatch_file(form: SwatchFileForm) -> SwatchesTakenInOut:
    """Take a file in, whole or not at all."""
    preview, change = import_swatches(collection_here(), form.file.read(), form.said)
    return SwatchesTakenInOut(preview=SwatchesPreviewOut.model_validate(preview), change=change_out(change))
