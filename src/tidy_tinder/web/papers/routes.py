"""Papers: looked at, added, changed, copied as a new batch, removed, read."""

from __future__ import annotations

from tidy_tinder.services import papers
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.reader import read_paper
from tidy_tinder.web.endpoint import blueprint, collection_here, reader_here
from tidy_tinder.web.papers.schemas import PaperIn, PaperPageOut, PaperReadOut, PapersOut
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.drawn import patch_out
from tidy_tinder.web.shared.paths import PaperPath

api = blueprint("papers")


@api.get("/papers", responses={"200": PapersOut})
def get_papers() -> PapersOut:
    """All papers in order."""
    return PapersOut(papers=[PaperPageOut.model_validate(p) for p in papers.paper_pages(collection_here())])


@api.post("/papers", responses={"200": AddedOut})
def add_new_paper(body: PaperIn) -> AddedOut:
    """A new paper."""
    number, change = papers.add_paper(collection_here(), _said(body))
    return AddedOut(id=number, change=change_out(change))


@api.put("/papers/<int:paper_id>", responses={"200": MadeOut})
def put_paper(path: PaperPath, body: PaperIn) -> MadeOut:
    """Say anew all of a paper; refused where it was changed since."""
    return made_out(papers.edit_paper(collection_here(), path.paper_id, body.revision, _said(body)))


@api.post("/papers/<int:paper_id>/batch", responses={"200": AddedOut})
def copy_as_new_batch(path: PaperPath) -> AddedOut:
    """A new batch of a paper."""
    number, change = papers.copy_paper(collection_here(), path.paper_id)
    return AddedOut(id=number, change=change_out(change))


@api.delete("/papers/<int:paper_id>", responses={"200": MadeOut})
def delete_paper(path: PaperPath) -> MadeOut:
    """Remove a paper; refused, with the reason, where anything hangs on it."""
    return made_out(papers.remove_paper(collection_here(), path.paper_id))


@api.post("/papers/<int:paper_id>/reading", responses={"200": PaperReadOut})
def read_bare_paper(path: PaperPath) -> PaperReadOut:
    """Read a paper's own colour with the colour reader."""
    lab = read_paper(collection_here(), reader_here(), path.paper_id)
    return PaperReadOut(lab=list(lab), colour=patch_out(patch(lab)))


def _said(body: PaperIn) -> papers.PaperAs:
    values = body.model_dump(exclude={"revision", "lab"})
    return papers.PaperAs(lab=(body.lab[0], body.lab[1], body.lab[2]), **values)
