"""What every schema is made of."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from tidy_tinder.core.vocabulary import MOST_LAYERS
from tidy_tinder.formats.moments import believed

MAX_ID = 2**62

Id = Annotated[int, Field(ge=1, le=MAX_ID)]
"""The number of a row, or a revision of one."""

Ids = list[int]

SectionId = Annotated[int, Field(ge=0, le=MAX_ID)]
"""The number of a section; 0 for the whole of a drawing that has none."""

Moment = Annotated[datetime, AfterValidator(lambda at: at.replace(tzinfo=UTC) if at.tzinfo is None else at)]
"""A time, UTC; the database holds it without its zone."""

MomentIn = Annotated[Moment, AfterValidator(believed)]
"""A time that is sent; UTC where it tells no zone."""

Layers = Annotated[int, Field(ge=1, le=MOST_LAYERS)]
"""How many layers of one pencil."""

LabTriple = Annotated[list[float], Field(min_length=3, max_length=3)]
"""Lab, D65, 2°. A list, not a tuple: the types generated for the browser lose a tuple's length on the way."""


class Schema(BaseModel):
    """What goes in or out. It is built when it is first used: building all takes a sixth of the time of a start."""

    model_config = ConfigDict(defer_build=True)


class Asked(Schema):
    """What is asked with an address or a form. It is built at once, unlike what goes in or out as JSON: whoever takes
    a question apart looks at the schema of its model, and of several who come first one met it half built.
    """

    model_config = ConfigDict(defer_build=False)


class Out(Schema):
    """What goes out: made from a result of the services by its attributes, `Model.model_validate(result)`."""

    model_config = ConfigDict(from_attributes=True, defer_build=True)
