"""Writes docs/recipe.schema.json: the JSON Schema of a recipe's file, for whoever reads or writes one.

python -m tools.write_recipe_schema
"""

from __future__ import annotations

import json
from pathlib import Path

from tidy_tinder.formats.recipe_json import recipe_schema

TARGET = Path(__file__).parents[1] / "docs/recipe.schema.json"


def written() -> str:
    """The schema as it stands in the file."""
    return json.dumps(recipe_schema(), indent=1) + "\n"


if __name__ == "__main__":
    TARGET.write_text(written(), encoding="utf-8")
