"""What sharing recipes sends and gets."""

from __future__ import annotations

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.services.recipes.sharing import RecipeKind
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked
from tidy_tinder.web.shared.paths import ColourQuery, PaperQuery


class RecipeFileForm(Asked):
    """The file, as the browser sends it."""

    file: UploadedFile


class ShareQuery(PaperQuery):
    """The kind of file, and the paper on which its colours are shown."""

    kind: RecipeKind


class RecipeCardQuery(ColourQuery):
    """The paper, what closest means, and the size of the pages."""

    size: PageSize = PageSize.A4
