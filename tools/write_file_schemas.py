"""Writes docs/recipe.schema.json and docs/drawing.schema.json, the JSON Schemas of our files, for whoever writes one.

python -m tools.write_file_schemas
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from tidy_tinder.formats.drawing_json import drawing_schema
from tidy_tinder.formats.recipe_json import recipe_schema

_DOCS = Path(__file__).parents[1] / "docs"
RECIPE, DRAWING = _DOCS / "recipe.schema.json", _DOCS / "drawing.schema.json"


def written(schema: dict[str, Any]) -> str:
    """A schema as it stands in its file."""
    return json.dumps(schema, indent=1) + "\n"


if __name__ == "__main__":
    RECIPE.write_text(written(recipe_schema()), encoding="utf-8")
    DRAWING.write_text(written(drawing_schema()), encoding="utf-8")
