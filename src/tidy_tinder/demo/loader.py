"""Load the demo into an empty collection, by the same services that an artist's actions use."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from datetime import date
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

from tidy_tinder.core.vocabulary import Finish, Ground, PencilState, Pressure, Source, Tooth
from tidy_tinder.demo.drawings import begin_drawings, put_at_hand
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import set_paper
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.exchange.bulk import (
    NamedPencil,
    NamedSwatch,
    NewSet,
    RangeFeel,
    add_pencils,
    add_sets,
    add_swatches,
    describe_ranges,
)
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.journal import as_beginning
from tidy_tinder.services.papers import PaperAs, add_papers
from tidy_tinder.services.recipes.text import save_recipe

# The paper that the demo's artist works on when she opens it.
_FIRST_PAPER = "Vellum board"
_FIRST_RECIPE = "1-scarlet-cap.txt"
_READER = "simulated reader"


def load_demo(collection: Collection, drawings: bool = True) -> None:
    """Fill an empty database with the demo: charts, sets, papers, collection, swatches, recipes.

    drawings: also its drawings with their pictures, of which one is at hand then.
    """
    folder = resources.files(__package__).joinpath("data")
    add_papers(collection, [_paper(row) for row in _json(folder, "papers.json")])
    import_catalogue(collection, folder.joinpath("catalogue.csv").read_bytes())
    described = {
        row["range"]: RangeFeel(row["feel"], row["holds_point"], row["water_soluble"])
        for row in _json(folder, "ranges.json")
    }
    describe_ranges(collection, described)
    sets = _rows(folder, "sets.csv")
    add_sets(collection, [NewSet(r["range"], r["set"], tuple(r["codes"].split())) for r in sets])
    add_pencils(collection, [_pencil(row) for row in _rows(folder, "pencils.csv")])
    add_swatches(collection, [_swatch(row) for row in _rows(folder, "swatches.csv")])
    papers = {paper.name: paper.id for paper in context(collection).papers}
    set_paper(collection, papers[_FIRST_PAPER])
    begun = begin_drawings(collection, folder.joinpath("pictures"), papers) if drawings else {}
    for file in sorted(folder.joinpath("recipes").iterdir(), key=lambda f: f.name):
        if drawings:
            put_at_hand(collection, begun, file.name)
        save_recipe(collection, file.read_text(encoding="utf-8"))
    if drawings:
        put_at_hand(collection, begun, _FIRST_RECIPE)
    with collection() as session:
        as_beginning(session)
        session.commit()


def _json(folder: Traversable, name: str) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = json.loads(folder.joinpath(name).read_text(encoding="utf-8"))
    return rows


def _rows(folder: Traversable, name: str) -> Iterator[dict[str, str]]:
    return csv.DictReader(io.StringIO(folder.joinpath(name).read_text(encoding="utf-8")))


def _paper(row: dict[str, Any]) -> PaperAs:
    L, a, b = row.pop("lab")
    return PaperAs(lab=(L, a, b), **{**row, "tooth": Tooth(row["tooth"])})


def _pencil(row: dict[str, str]) -> NamedPencil:
    return NamedPencil(
        row["range"], row["code"], row["set"], row["tin"], int(row["slot"]), int(row["length"]),
        PencilState(row["state"]),
        row["stamp"] == "yes",
    )  # fmt: skip


def _swatch(row: dict[str, str]) -> NamedSwatch:
    lab = (float(row["L"]), float(row["a"]), float(row["b"]))
    spectrum = tuple(float(v) for v in row["spectrum"].split())
    return NamedSwatch(
        row["range"], row["code"], row["paper"], Pressure(row["pressure"]), int(row["layers"]),
        Finish(row["finish"]), Ground(row["over"]), lab, spectrum, Source.READER, _READER,
        date.fromisoformat(row["made_on"]),
    )  # fmt: skip
