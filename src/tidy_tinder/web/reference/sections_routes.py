"""A drawing parted into sections: parted, named, put in order, worked."""

from __future__ import annotations

from tidy_tinder.services.reference.sections import describe_section, part, put_in_order, sections_of, unpart
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.reference.sections_schemas import OrderIn, PartIn, SectionIn, SectionPath, SectionsOut
from tidy_tinder.web.shared.changes import MadeOut, made_out

api = blueprint("sections")


@api.get("/drawings/<int:drawing_id>/sections", responses={"200": SectionsOut})
def get_sections(path: DrawingPath) -> SectionsOut:
    """The sections of a drawing in the order of work."""
    return SectionsOut.model_validate(sections_of(collection_here(), path.drawing_id))


@api.post("/drawings/<int:drawing_id>/sections", responses={"200": MadeOut})
def part_drawing(path: DrawingPath, body: PartIn) -> MadeOut:
    """Part a drawing into sections; those that it had go."""
    return made_out(part(collection_here(), path.drawing_id, body.kind, body.reference_id))


@api.delete("/drawings/<int:drawing_id>/sections", responses={"200": MadeOut})
def unpart_drawing(path: DrawingPath) -> MadeOut:
    """Let a drawing have no sections."""
    return made_out(unpart(collection_here(), path.drawing_id))


@api.put("/drawings/<int:drawing_id>/sections/order", responses={"200": MadeOut})
def put_sections_in_order(path: DrawingPath, body: OrderIn) -> MadeOut:
    """Work the sections in this order."""
    return made_out(put_in_order(collection_here(), path.drawing_id, body.ids))


@api.put("/sections/<int:section_id>", responses={"200": MadeOut})
def put_section(path: SectionPath, body: SectionIn) -> MadeOut:
    """Call a section, and say how far it is."""
    return made_out(describe_section(collection_here(), path.section_id, body.revision, body.name, body.state))
