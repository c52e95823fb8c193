"""What addresses and forms ask with is built before anybody asks: two who met it half built were told of a mistake."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

# A program of its own, since whatever was asked before in this one is built by now.
_UNBUILT = """
import inspect, sys
from pathlib import Path
from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.web.app import create_app

collection = open_collection(Path(sys.argv[1]))
views = create_app(collection).view_functions.values()
taken = [inspect.get_annotations(inspect.unwrap(view), eval_str=True) for view in views]
models = [of[name] for of in taken for name in ("query", "form", "header") if name in of]
print(len(models), *sorted(model.__name__ for model in models if not model.__pydantic_complete__))
collection.close()
"""


def test_every_question_is_built_when_the_first_is_asked(tmp_path: Path) -> None:
    program = [sys.executable, "-c", _UNBUILT, str(tmp_path / "collection.sqlite")]
    count, *unbuilt = subprocess.run(program, capture_output=True, check=True, text=True).stdout.split()
    assert int(count) > 50
    assert unbuilt == []
