"""The palette of a picture: seen, printed, written down as a recipe; the picture printed at size."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.reference.palette import palette_of, whole_palette
from tidy_tinder.services.reference.picks_as_palette import picks_as_palette
from tidy_tinder.services.reference.picks_as_recipe import picks_as_recipe
from tidy_tinder.services.reference.printing import palette_card, palette_picture, patches_page, picture_at_size
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.reference.palette_schemas import (
    AtSizeQuery,
    CardPrintQuery,
    PaletteOut,
    PatchesQuery,
    RecipeTextOut,
)
from tidy_tinder.web.reference.schemas import ReferencePath, WishQuery

api = blueprint("palette")
# So long a request waits for pairs to be mixed before it says how far they are; a print waits longer.
_WAIT_SECONDS, _PRINT_SECONDS = 0.3, 20.0
_PDF, _PNG, _GPL = "application/pdf", "image/png", "application/x-gimp-palette"


@api.get("/references/<int:reference_id>/palette", responses={"200": PaletteOut})
def get_palette(path: ReferencePath, query: WishQuery) -> PaletteOut:
    """Each pick with the way in which it is laid on a paper."""
    palette = palette_of(collection_here(), path.reference_id, query.paper, query.wish(), _WAIT_SECONDS)
    return PaletteOut.model_validate(palette)


@api.get("/references/<int:reference_id>/palette/pdf", responses={"200": file_response(_PDF)})
def print_palette(path: ReferencePath, query: CardPrintQuery) -> Response:
    """The palette as a card with a blank for each colour."""
    palette = whole_palette(collection_here(), path.reference_id, query.paper, query.wish(), _PRINT_SECONDS)
    return as_file(palette_card(palette, query.size), _PDF, f"{palette.drawing} palette.pdf")


@api.get("/references/<int:reference_id>/palette/png", responses={"200": file_response(_PNG)})
def get_palette_picture(path: ReferencePath, query: WishQuery) -> Response:
    """The same card as a picture."""
    palette = whole_palette(collection_here(), path.reference_id, query.paper, query.wish(), _PRINT_SECONDS)
    return as_file(palette_picture(palette), _PNG, f"{palette.drawing} palette.png")


@api.get("/references/<int:reference_id>/palette/gpl", responses={"200": file_response(_GPL)})
def get_palette_file(path: ReferencePath, query: WishQuery) -> Response:
    """The picks as a palette for drawing programs."""
    palette = whole_palette(collection_here(), path.reference_id, query.paper, query.wish(), _PRINT_SECONDS)
    return as_file(picks_as_palette(palette).encode(), _GPL, f"{palette.drawing} palette.gpl")


@api.get("/references/<int:reference_id>/palette/recipe", responses={"200": RecipeTextOut})
def get_recipe_text(path: ReferencePath, query: WishQuery) -> RecipeTextOut:
    """The palette written down as a recipe; nothing is kept yet."""
    palette = whole_palette(collection_here(), path.reference_id, query.paper, query.wish(), _PRINT_SECONDS)
    return RecipeTextOut(text=picks_as_recipe(collection_here(), palette))


@api.get("/references/<int:reference_id>/patches", responses={"200": file_response(_PDF)})
def print_patches(path: ReferencePath, query: PatchesQuery) -> Response:
    """Each pick as a large plain patch."""
    return as_file(patches_page(collection_here(), path.reference_id, query.size), _PDF, "patches.pdf")


@api.get("/references/<int:reference_id>/at-size", responses={"200": file_response(_PDF)})
def print_at_size(path: ReferencePath, query: AtSizeQuery) -> Response:
    """The picture at its drawing's size with a grid, over several pages."""
    pages = picture_at_size(collection_here(), path.reference_id, query.grid(), query.size)
    return as_file(pages, _PDF, "picture-at-size.pdf")
