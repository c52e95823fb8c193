"""Drawings with their log as files: JSON out and in, its schema, what is refused and where; the log as CSV."""

from __future__ import annotations

import csv
import io
import json
from datetime import UTC, date, datetime, timedelta
from typing import Any

import jsonschema_rs
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.test_recipe_files import recipes
from tools.write_file_schemas import DRAWING, written

from tidy_tinder.core.vocabulary import LogKind, Pressure, StepState
from tidy_tinder.formats.drawing_json import (
    ColourInFile,
    DrawingFile,
    LineInFile,
    MarkInFile,
    SectionInFile,
    SectionsInFile,
    SittingInFile,
    TimeInFile,
    drawing_as_json,
    drawing_from_json,
    drawing_schema,
)
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.log_csv import CsvLogLine, log_as_csv

words = st.text(max_size=20)
moments = st.integers(0, 1_000_000_000).map(lambda s: datetime(2001, 1, 1, tzinfo=UTC) + timedelta(seconds=s))
colours = st.builds(ColourInFile, maker=words, range=words, code=words, name=words)
PARTED = SectionsInFile(
    kind="grid", places="aaaa", width_mm=210, height_mm=297,
    sections=(SectionInFile(label=1, name="sky", state="to do"), SectionInFile(label=0, name="hill", state="done")),
)  # fmt: skip
sections = st.sampled_from([None, 0, 1])
sittings = st.builds(
    SittingInFile, begun_at=moments, ended_at=moments,
    times=st.lists(st.builds(TimeInFile, section=sections, seconds=st.floats(0, 1e6)), max_size=2).map(tuple),
)  # fmt: skip
lines = st.one_of(
    st.builds(
        LineInFile, at=moments, kind=st.just(LogKind.PENCIL), colour=colours, instead_of=st.none() | colours,
        section=sections, area=words, pressure=st.sampled_from([*Pressure, ""]), layers=st.integers(0, 12), note=words,
    ),
    st.builds(LineInFile, at=moments, kind=st.sampled_from([LogKind.WASH, LogKind.NOTE]), section=sections, note=words),
)  # fmt: skip
drawings = st.builds(
    DrawingFile, name=st.text(min_size=1, max_size=40), paper=st.text(min_size=1, max_size=40),
    width_mm=st.floats(40, 1500), height_mm=st.floats(40, 1500), begun_on=st.dates(), notes=words,
    recipes=st.lists(recipes, max_size=2).map(tuple), parted=st.just(PARTED),
    sittings=st.lists(sittings, max_size=2).map(tuple), log=st.lists(lines, max_size=4).map(tuple),
)  # fmt: skip

RECIPE = {
    "title": "A leaf",
    "steps": [{"kind": "step", "text": "Heron 102", "calls": [{"as_written": "Heron 102", "start": 0}]}],
}
LINE = {"at": "2026-11-01T09:00:00Z", "kind": "pencil", "colour": {"range": "Heron", "code": "102"}}
SITTING = {"begun_at": "2026-11-01T09:00:00+01:00", "ended_at": "2026-11-01T10:00:00+01:00"}
SMALL: dict[str, Any] = {
    "format": "tidy-tinder drawing", "version": 1, "name": "Plate", "paper": "Vellum", "width_mm": 210,
    "height_mm": 297, "begun_on": "2026-11-01", "recipes": [RECIPE], "sittings": [SITTING],
    "log": [{**LINE, "sitting": 0, "recipe": 0, "step": 0, "call": 0}],
}  # fmt: skip


@given(drawings)
def test_what_is_written_is_read_back_equal(drawing: DrawingFile) -> None:
    assert drawing_from_json(drawing_as_json(drawing).encode("utf-8")) == drawing


def test_a_file_of_another_hand_is_read() -> None:
    drawing = drawing_from_json(json.dumps(SMALL).encode())
    assert drawing.begun_on == date(2026, 11, 1)
    assert drawing.sittings[0].begun_at == datetime(2026, 11, 1, 8, tzinfo=UTC)
    assert drawing.log[0].colour == ColourInFile(range="Heron", code="102")


@pytest.mark.parametrize(
    ("changes", "where"),
    [
        ({"format": "tidy-tinder recipe"}, "This is no tidy-tinder drawing"),
        ({"version": 2}, "version 2, from a newer"),
        ({"width_mm": 3}, "At width_mm"),
        ({"name": ""}, "At name"),
        ({"pictures": []}, "At pictures"),
        ({"begun_on": "yesterday"}, "At begun_on"),
        ({"recipes": [{**RECIPE, "steps": [{"kind": "song", "text": ""}]}]}, "At recipes › 0 › steps › 0 › kind"),
        ({"sittings": [{**SITTING, "begun_at": "2026-11-01T09:00:00"}]}, "At sittings › 0 › begun_at"),
        ({"sittings": [{**SITTING, "times": [{"seconds": -1}]}]}, "At sittings › 0 › times › 0 › seconds"),
        ({"sittings": [{**SITTING, "recipe": 1}]}, "sittings › 0 names recipe 1, and the file has 1"),
        ({"log": [{**LINE, "at": "1900-01-01T00:00:00Z"}]}, "At log › 0 › at"),
        ({"log": [{**LINE, "kind": "wash"}]}, "At log › 0: .*names its colour"),
        ({"log": [{"at": LINE["at"], "kind": "pencil"}]}, "At log › 0: .*names its colour"),
        ({"log": [LINE, {**LINE, "sitting": 1}]}, "log › 1 names sitting 1, and the file has 1"),
        ({"log": [{**LINE, "section": 0}]}, "log › 0 names section 0, and the file has 0"),
        ({"log": [{**LINE, "step": 0}]}, "log › 0 names a step and no recipe"),
        ({"log": [{**LINE, "recipe": 0, "step": 1}]}, "log › 0 names step 1, and the file has 1"),
        ({"log": [{**LINE, "call": 0}]}, "log › 0 names a call and no step"),
        ({"log": [{**LINE, "recipe": 0, "step": 0, "call": 1}]}, "log › 0 names call 1, and the file has 1"),
        ({"recipes": [{**RECIPE, "steps": 7_000 * [RECIPE["steps"][0]]}] * 2}, "28,000 lines and calls together"),
        ({"marks": [{"recipe": 3, "step": 0, "state": "done"}]}, "marks › 0 names recipe 3, and the file has 1"),
    ],
)
def test_a_broken_file_is_refused_with_its_place(changes: dict[str, Any], where: str) -> None:
    with pytest.raises(UnreadableError, match=where):
        drawing_from_json(json.dumps({**SMALL, **changes}).encode())


def test_the_published_schema_is_that_of_the_program() -> None:
    assert DRAWING.read_text(encoding="utf-8") == written(drawing_schema())
    # Against jsonschema-rs, a validator of JSON Schema draft 2020-12 of its own.
    valid = jsonschema_rs.validator_for(drawing_schema())
    assert valid.is_valid(json.loads(drawing_as_json(drawing_from_json(json.dumps(SMALL).encode()))))
    assert not valid.is_valid({**SMALL, "log": 3})
    assert not valid.is_valid({**SMALL, "more": ""})


@given(st.lists(st.builds(MarkInFile, section=sections, state=st.sampled_from(StepState)), max_size=3).map(tuple))
def test_marks_of_what_is_in_no_step_are_kept_in_the_file(marks: tuple[MarkInFile, ...]) -> None:
    drawing = drawing_from_json(json.dumps({**SMALL, "parted": PARTED.model_dump()}).encode())
    with_marks = drawing.model_copy(update={"marks": marks})
    assert drawing_from_json(drawing_as_json(with_marks).encode()).marks == marks


def test_the_log_as_csv_is_read_by_a_reader_and_works_nothing_out() -> None:
    lines = [CsvLogLine("2026-11-01T09:00:00Z", "note", "", "", "", "", "", "", "sky, low", "", "", "", '=1+"2"')]
    rows = list(csv.DictReader(io.StringIO(log_as_csv(lines))))
    assert [row["area"] for row in rows] == ["sky, low"]
    assert rows[0]["note"] == '\'=1+"2"'
