"""Models as JSON."""

from __future__ import annotations

import orjson
from pydantic import BaseModel


def json_of(model: BaseModel) -> bytes:
    """A model as every answer has it."""
    return orjson.dumps(model.model_dump(mode="json"))
