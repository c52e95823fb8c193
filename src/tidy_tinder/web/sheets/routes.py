"""Sheets and frames: counted, made, listed, printed, removed."""

from __future__ import annotations

from flask import Response

from tidy_tinder.formats.sheet_json import page_as_json
from tidy_tinder.services.sheets.hand_cards import palette_card, practice_sheet
from tidy_tinder.services.sheets.plan import count_sheet
from tidy_tinder.services.sheets.ramp import measure_ramp
from tidy_tinder.services.sheets.store import prepare_sheet, remove_sheet
from tidy_tinder.services.sheets.view import printed_pages, sheet_as_json, sheet_as_pdf, sheet_card, sheet_cards
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import SheetPath
from tidy_tinder.web.sheets.schemas import (
    CardQuery,
    PracticeQuery,
    RampIn,
    SheetCardOut,
    SheetCountOut,
    SheetIn,
    SheetOut,
    SheetPageOut,
    SheetsOut,
)

api = blueprint("sheets")


@api.post("/sheets/count", responses={"200": SheetCountOut})
def count_sheet_pencils(body: SheetIn) -> SheetCountOut:
    """How many pencils and pages a sheet would have; nothing is changed."""
    planned = count_sheet(collection_here(), body.plan())
    return SheetCountOut(
        pencils=len(planned.colour_ids), pages=planned.pages, in_layers=len(planned.in_layers),
        known_in_layers=planned.known_in_layers,
        takes_layers=planned.takes_layers,
    )  # fmt: skip


@api.get("/sheets", responses={"200": SheetsOut})
def get_sheets() -> SheetsOut:
    """All sheets and frames, the newest first."""
    return SheetsOut(sheets=[SheetCardOut.model_validate(card) for card in sheet_cards(collection_here())])


@api.post("/sheets", responses={"200": AddedOut})
def make_sheet(body: SheetIn) -> AddedOut:
    """Give each pencil its place on the pages of a new sheet or frame."""
    number, change = prepare_sheet(collection_here(), body.plan())
    return AddedOut(id=number, change=change_out(change))


@api.get("/sheets/practice", responses={"200": file_response("application/pdf")})
def print_practice_sheet(query: PracticeQuery) -> Response:
    """Every two pencils of the tray in both orders, to be laid by hand."""
    return as_file(practice_sheet(collection_here(), query.size), "application/pdf", "pairs.pdf")


@api.get("/sheets/palette-card", responses={"200": file_response("application/pdf")})
def print_palette_card(query: CardQuery) -> Response:
    """A blank for each pencil, to be swatched by hand."""
    return as_file(palette_card(collection_here(), query.plan()), "application/pdf", "palette-card.pdf")


@api.get("/sheets/<int:sheet_id>", responses={"200": SheetOut})
def get_sheet(path: SheetPath) -> SheetOut:
    """A sheet with its pages, in mm."""
    pages = printed_pages(collection_here(), path.sheet_id)
    card = SheetCardOut.model_validate(sheet_card(collection_here(), path.sheet_id))
    return SheetOut(card=card, pages=[SheetPageOut.model_validate(page_as_json(page)) for page in pages])


@api.get("/sheets/<int:sheet_id>/pdf", responses={"200": file_response("application/pdf")})
def print_sheet(path: SheetPath) -> Response:
    """A sheet as PDF, to be printed at 100 %."""
    return as_file(sheet_as_pdf(collection_here(), path.sheet_id), "application/pdf", f"sheet-{path.sheet_id}.pdf")


@api.get("/sheets/<int:sheet_id>/layout", responses={"200": file_response("application/json")})
def get_sheet_layout(path: SheetPath) -> Response:
    """The layout of each page as JSON, in mm, as a file."""
    return as_file(sheet_as_json(collection_here(), path.sheet_id), "application/json", f"sheet-{path.sheet_id}.json")


@api.put("/sheets/<int:sheet_id>/ramp", responses={"200": MadeOut})
def put_ramp(path: SheetPath, body: RampIn) -> MadeOut:
    """The grey ramp of a sheet as a reader measured it."""
    steps = {step.black: (step.lab[0], step.lab[1], step.lab[2]) for step in body.steps}
    return made_out(measure_ramp(collection_here(), path.sheet_id, steps))


@api.delete("/sheets/<int:sheet_id>", responses={"200": MadeOut})
def delete_sheet(path: SheetPath) -> MadeOut:
    """Forget a sheet."""
    return made_out(remove_sheet(collection_here(), path.sheet_id))
