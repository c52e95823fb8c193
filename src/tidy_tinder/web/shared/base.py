"""What every schema is made of."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from tidy_tinder.core.vocabulary import MOST_LAYERS

MAX_ID = 2**62

Id = Annotated[int, Field(ge=1, le=MAX_ID)]
"""The number of a row, or a revision of one."""

Ids = list[int]

Layers = Annotated[int, Field(ge=1, le=MOST_LAYERS)]
"""How many layers of one pencil."""

LabTriple = Annotated[list[float], Field(min_length=3, max_length=3)]
"""Lab, D65, 2°. A list, not a tuple: the types generated for the browser lose a tuple's length on the way."""


class Schema(BaseModel):
    """What goes in or out. It is built when it is first used: building all takes a sixth of the time of a start."""

    model_config = ConfigDict(defer_build=True)


class Out(Schema):
    """What goes out: made from a result of the services by its attributes, `Model.model_validate(result)`."""

    model_config = ConfigDict(from_attributes=True, defer_build=True)
