"""Writes docs/drawing.schema.json: the JSON Schema of a drawing's file, for whoever reads or writes one.

python -m tools.write_drawing_schema
"""

from __future__ import annotations

import json
from pathlib import Path

from tidy_tinder.formats.drawing_json import drawing_schema

TARGET = Path(__file__).parents[1] / "docs/drawing.schema.json"


def written() -> str:
    """The schema as it stands in the file."""
    return json.dumps(drawing_schema(), indent=1) + "\n"


if __name__ == "__main__":
    TARGET.write_text(written(), encoding="utf-8")
