"""The context, the settings, the finder, undo, backup and restore."""

from __future__ import annotations

import tempfile
from datetime import UTC, datetime
from pathlib import Path

import orjson
from flask import Response, current_app

from tidy_tinder import __version__
from tidy_tinder.services.collection.at_work import set_closest, set_paper
from tidy_tinder.services.collection.context import changes, context
from tidy_tinder.services.collection.finder import find_colours
from tidy_tinder.services.collection.patches import patch_of_hex
from tidy_tinder.services.collection.preferences import set_leads, set_rest, set_stub
from tidy_tinder.services.exchange.backup import back_up, restore, write_as_json
from tidy_tinder.services.exchange.diagnosis import diagnose
from tidy_tinder.services.journal import undo
from tidy_tinder.services.tidy.places import only_with_me
from tidy_tinder.web.collection.restore_schemas import RestoreForm
from tidy_tinder.web.collection.schemas import (
    AboutOut,
    ChangesOut,
    ContextOut,
    FindQuery,
    FoundOut,
    HexQuery,
    PastChangeOut,
    RestoredOut,
    SettingsIn,
    context_out,
)
from tidy_tinder.web.endpoint import (
    as_file,
    blueprint,
    clock_here,
    collection_here,
    file_response,
    files_here,
    photo_reader_here,
    picture_opener_here,
)
from tidy_tinder.web.shared.changes import MadeOut, made_out
from tidy_tinder.web.shared.drawn import PatchOut
from tidy_tinder.web.shared.paths import ChangePath

api = blueprint("collection")


@api.get("/collection", responses={"200": ContextOut})
def get_collection() -> ContextOut:
    """The context of the collection."""
    return _context()


def _context() -> ContextOut:
    return context_out(context(collection_here()), current_app.config["DEMO"])


@api.put("/settings", responses={"200": ContextOut})
def put_settings(body: SettingsIn) -> ContextOut:
    """Change what was named; each is a setting of its own."""
    for wanted, act in (
        (body.paper_id, set_paper), (body.closest, set_closest), (body.leads, set_leads), (body.stub_mm, set_stub),
        (body.with_me, only_with_me), (body.rest_minutes, set_rest),
    ):  # fmt: skip
        if wanted is not None:
            act(collection_here(), wanted)  # type: ignore[arg-type] # each pair fits, which a list of pairs cannot say
    return _context()


@api.get("/find", responses={"200": FoundOut})
def find_colour(query: FindQuery) -> FoundOut:
    """What a code, a name or colour words can mean."""
    return FoundOut.model_validate(find_colours(collection_here(), query.q, query.paper))


@api.get("/lab", responses={"200": PatchOut})
def lab_of_hex(query: HexQuery) -> PatchOut:
    """The Lab of a colour as a screen has it, six hexadecimal digits."""
    return PatchOut.model_validate(patch_of_hex(query.hex))


@api.get("/changes", responses={"200": ChangesOut})
def get_changes() -> ChangesOut:
    """The newest changes first."""
    return ChangesOut(changes=[PastChangeOut.model_validate(c) for c in changes(collection_here())])


@api.post("/changes/<int:change_id>/undo", responses={"200": MadeOut})
def undo_change(path: ChangePath) -> MadeOut:
    """Take back one change, whole."""
    return made_out(undo(collection_here(), path.change_id))


@api.get("/about", responses={"200": AboutOut})
def get_about() -> AboutOut:
    """Which program this is, and where it keeps things."""
    files = files_here()
    return AboutOut(version=__version__, collection=str(files.database), backups=str(files.backups))


@api.get("/diagnosis", responses={"200": file_response("application/json")})
def get_diagnosis() -> Response:
    """What to send along with the report of a fault: versions, sizes and times, nothing of what is in them."""
    found = diagnose(collection_here(), files_here(), __version__, clock_here().times())
    content = orjson.dumps(found, option=orjson.OPT_INDENT_2 | orjson.OPT_UTC_Z | orjson.OPT_NAIVE_UTC)
    return as_file(content, "application/json", f"tidy-tinder-diagnosis-{found.made_at:%Y-%m-%d}.json")


@api.get("/collection/backup", responses={"200": file_response("application/zip")})
def get_backup() -> Response:
    """The whole collection in one file."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "backup.zip"
        back_up(files_here(), target)
        name = f"tidy-tinder-{datetime.now(UTC):%Y-%m-%d}.zip"
        return as_file(target.read_bytes(), "application/zip", name)


@api.get("/collection/json", responses={"200": file_response("application/json")})
def get_collection_as_json() -> Response:
    """The whole collection as JSON, for other programs; it can be restored, too."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "collection.json"
        write_as_json(files_here(), target)
        return as_file(target.read_bytes(), "application/json", f"tidy-tinder-{datetime.now(UTC):%Y-%m-%d}.json")


@api.post("/collection/restore", responses={"200": RestoredOut})
def restore_backup(form: RestoreForm) -> RestoredOut:
    """Put a backup in the place of the collection; what was there is backed up first."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "The backup"
        form.file.save(source)
        form.file.close()
        done = restore(files_here(), source, collection_here())
    photo_reader_here().exchanged()
    picture_opener_here().exchanged()
    return RestoredOut(
        made_at=done.archive.made_at, pictures=done.archive.pictures, safety_copy=str(done.safety_copy or "")
    )
