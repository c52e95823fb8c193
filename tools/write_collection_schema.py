"""Writes docs/collection.schema.json: the JSON Schema of a whole collection as JSON, in the newest layout.

python -m tools.write_collection_schema
"""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from tidy_tinder.storage.json_collection import collection_schema
from tidy_tinder.storage.layout import migrate

TARGET = Path(__file__).parents[1] / "docs/collection.schema.json"


def written() -> str:
    """The schema as it stands in the file."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "new.sqlite"
        migrate(path)
        return json.dumps(collection_schema(path), indent=1) + "\n"


if __name__ == "__main__":
    TARGET.write_text(written(), encoding="utf-8")
