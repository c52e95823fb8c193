"""Write the OpenAPI document of the application, from which the front end's types are generated.

Run: python -m tools.write_openapi, then npm run api in frontend/. A test fails where either is not done.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import DOCUMENTING, openapi_document

TARGET = Path(__file__).parents[1] / "src/tidy_tinder/web/openapi.json"


def document() -> str:
    """The document as it is committed; worked out in a process of its own, whose routes are told to document."""
    environment = {**os.environ, DOCUMENTING: "yes"}
    done = subprocess.run(
        [sys.executable, "-m", "tools.write_openapi", "--print"],
        env=environment, cwd=TARGET.parents[3], capture_output=True, text=True, check=True,
    )  # fmt: skip
    return done.stdout


def _worked_out() -> str:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(open_collection(Path(folder) / "collection.sqlite"))
        return json.dumps(openapi_document(app), indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    if "--print" in sys.argv:
        sys.stdout.write(_worked_out())
    else:
        TARGET.write_text(document(), encoding="utf-8")
