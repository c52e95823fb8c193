"""Recipes as files: text, JSON, CSV and palette out, JSON in."""

from __future__ import annotations

from flask import Response

from tidy_tinder.formats.palette_card_pdf import palette_card_pdf, pdf_as_png
from tidy_tinder.services.recipes.card import recipe_card
from tidy_tinder.services.recipes.sharing import RecipeKind, recipe_as_file, take_in_recipe
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.recipes.schemas import SavedOut
from tidy_tinder.web.recipes.sharing_schemas import RecipeCardQuery, RecipeFileForm, ShareQuery
from tidy_tinder.web.shared.changes import change_out
from tidy_tinder.web.shared.paths import RecipePath

api = blueprint("sharing")

_AS = {
    RecipeKind.TEXT: ("text/plain", "txt"),
    RecipeKind.JSON: ("application/json", "json"),
    RecipeKind.CSV: ("text/csv", "csv"),
    RecipeKind.PALETTE: ("application/x-gimp-palette", "gpl"),
}


@api.get("/recipes/<int:recipe_id>/file", responses={"200": file_response("text/plain")})
def share_recipe(path: RecipePath, query: ShareQuery) -> Response:
    """A recipe as a file for others."""
    title, content = recipe_as_file(collection_here(), path.recipe_id, query.paper, query.kind)
    mimetype, ending = _AS[query.kind]
    return as_file(content.encode("utf-8"), mimetype, f"{title}.{ending}")


@api.get("/recipes/<int:recipe_id>/card/pdf", responses={"200": file_response("application/pdf")})
def print_recipe_card(path: RecipePath, query: RecipeCardQuery) -> Response:
    """The colours of a recipe as a card with a blank for each."""
    card = recipe_card(collection_here(), path.recipe_id, query.paper, query.closest)
    return as_file(palette_card_pdf(card, query.size), "application/pdf", f"{card.title}.pdf")


@api.get("/recipes/<int:recipe_id>/card/png", responses={"200": file_response("image/png")})
def get_recipe_card_picture(path: RecipePath, query: RecipeCardQuery) -> Response:
    """The same card as a picture, its pages below one another."""
    card = recipe_card(collection_here(), path.recipe_id, query.paper, query.closest)
    return as_file(pdf_as_png(palette_card_pdf(card, query.size)), "image/png", f"{card.title}.png")


@api.post("/recipes/file", responses={"200": SavedOut})
def take_in_recipe_file(form: RecipeFileForm) -> SavedOut:
    """Take a recipe in from its JSON, whole or not at all."""
    recipe_id, change = take_in_recipe(collection_here(), form.file.read())
    return SavedOut(recipe_id=recipe_id, change=change_out(change))
