"""A drawing with its log as a file: out and in again, elsewhere too, and what is refused leaves nothing behind."""

from __future__ import annotations

import base64
import json
from collections.abc import Callable
from typing import Any

import cv2
import numpy as np
import pytest
from sqlalchemy import text
from tests.services.at_home import VELLUM
from tests.services.bench.conftest import DRAWING, SCARLET_CAP, Time

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import LogKind, Pressure, StepState
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import alive, begin_sitting, end_sitting
from tidy_tinder.services.bench.ending import as_done
from tidy_tinder.services.bench.log import NewEntry, whole_log, write_log
from tidy_tinder.services.bench.place import PlaceAs, go_on, work_at
from tidy_tinder.services.bench.sharing import share_drawing, share_log, take_in_drawing
from tidy_tinder.services.drawings.view import drawing_cards
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.view import open_recipe
from tidy_tinder.services.reference.sections import part, sections_of
from tidy_tinder.storage.models import SectionKind


@pytest.fixture
def worked(drawn: Collection, time: Time) -> Collection:
    """The drawing parted, with an hour of work: a sitting, two layers that were ticked, a stand-in, a wash, a note."""
    part(drawn, DRAWING, SectionKind.GRID, None)
    first, second = sections_of(drawn, DRAWING).sections[:2]
    begin_sitting(drawn, DRAWING)
    recipe = open_recipe(drawn, SCARLET_CAP, VELLUM, Closest.OVERALL)
    step = next(step for step in recipe.steps if step.calls)
    work_at(drawn, DRAWING, PlaceAs(SCARLET_CAP, step.id, first.id, False))
    for minute in range(6):
        time.passes(minutes=5)
        alive(drawn, DRAWING)
        if minute == 3:
            go_on(drawn, DRAWING, step.id, StepState.DONE)
    lines = [
        NewEntry(
            "a",
            colour_id=1,
            step_id=step.id,
            section_id=first.id,
            call_id=step.calls[0].id,
            pressure=Pressure.HEAVY,
            layers=2,
        ),
        NewEntry("b", colour_id=2, instead_of_id=3, section_id=second.id, layers=1, note="softer, warmer"),
        NewEntry("c", LogKind.WASH, section_id=first.id),
        NewEntry("d", LogKind.NOTE, note="=a note"),
    ]
    for line in lines:
        time.passes(minutes=1)
        write_log(drawn, DRAWING, [line])
    end_sitting(drawn, DRAWING)
    return drawn


def in_file(collection: Collection, drawing_id: int) -> dict[str, Any]:
    file: dict[str, Any] = json.loads(share_drawing(collection, drawing_id)[1])
    return file


def test_what_is_shared_and_taken_in_says_the_same(worked: Collection) -> None:
    name, content = share_drawing(worked, DRAWING)
    assert name == "Plate"
    taken, change = take_in_drawing(worked, content.encode(), None)
    assert (taken.name, taken.recipes, taken.lines, taken.unknown) == ("Plate, 2", 1, 4, 0)
    before, after = in_file(worked, DRAWING), in_file(worked, taken.id)
    assert after == {**before, "name": "Plate, 2"}
    assert before["log"][0]["call"] == 0
    assert before["marks"] == [{"recipe": 0, "step": before["marks"][0]["step"], "section": 0, "state": "done"}]
    assert [line["section"] for line in before["log"]] == [0, 1, 0, 1]
    assert sum(time["seconds"] for time in before["sittings"][0]["times"]) == pytest.approx(34 * 60.0)
    # What the log taught is there too: the same recipe as done, the same hours.
    assert as_done(worked, taken.id).minutes == as_done(worked, DRAWING).minutes == pytest.approx(34.0)
    mine, theirs = (as_done(worked, i).text.split("\n", 1)[1] for i in (DRAWING, taken.id))
    assert mine == theirs
    undo(worked, change.change_id)
    assert [card.said.name for card in drawing_cards(worked)] == ["Plate"]
    with pytest.raises(NotFoundError):
        whole_log(worked, taken.id)


def test_elsewhere_it_asks_for_a_paper_and_keeps_unknown_colours_as_notes(
    worked: Collection, empty: Collection
) -> None:
    content = share_drawing(worked, DRAWING)[1].encode()
    with pytest.raises(RefusedError, match="none of your papers"):
        take_in_drawing(empty, content, None)
    with pytest.raises(NotFoundError):
        take_in_drawing(empty, content, 99)
    assert drawing_cards(empty) == ()
    taken, _ = take_in_drawing(empty, content, 1)
    assert taken.unknown == 2
    log = whole_log(empty, taken.id)
    assert [line.kind for line in log] == [LogKind.NOTE, LogKind.WASH, LogKind.NOTE, LogKind.NOTE]
    named = in_file(worked, DRAWING)["log"][1]["colour"]
    assert log[2].note == f"{named['maker']} {named['range']} {named['code']} {named['name']}: softer, warmer"
    assert log[2].layers == 1


def test_the_log_alone_is_a_table(worked: Collection) -> None:
    rows = share_log(worked, DRAWING)[1].splitlines()
    assert len(rows) == 5
    assert rows[0].startswith("at,kind,maker,range,code")
    assert rows[2].split(",")[10:12] == ["", "1"]
    assert rows[4].endswith(",'=a note")


def coded(labels: np.ndarray[Any, Any]) -> str:
    return base64.b64encode(cv2.imencode(".png", labels)[1].tobytes()).decode()


def bomb(places: str) -> str:
    content = bytearray(base64.b64decode(places))
    content[16:24] = 2 * (100_000).to_bytes(4, "big")
    return base64.b64encode(bytes(content)).decode()


@pytest.mark.parametrize(
    ("broken", "where"),
    [
        (lambda parted: {**parted, "places": "not base64!"}, "places: this is no base64"),
        (lambda parted: {**parted, "places": base64.b64encode(b"GIF89a" * 9).decode()}, "places: this is no PNG"),
        (
            lambda parted: {**parted, "places": parted["places"][: len(parted["places"]) // 8 * 4]},
            "places: the PNG is damaged",
        ),
        (lambda parted: {**parted, "places": bomb(parted["places"])}, "places: the map has 100000 × 100000"),
        (lambda parted: {**parted, "places": coded(np.full((4, 4), 7, np.uint8))}, "do not name the same sections"),
        (lambda parted: {**parted, "sections": parted["sections"][:-1]}, "do not name the same sections"),
        (lambda parted: {**parted, "kind": "spiral"}, "kind: “spiral” is none of grid, shapes"),
    ],
)
def test_a_broken_map_is_refused_and_nothing_is_left(
    worked: Collection, broken: Callable[[dict[str, Any]], dict[str, Any]], where: str
) -> None:
    file = in_file(worked, DRAWING)
    file["log"] = [{**line, "section": None} for line in file["log"]]
    file["marks"], file["sittings"][0]["times"] = [], []
    with pytest.raises(UnreadableError, match=where):
        take_in_drawing(worked, json.dumps({**file, "parted": broken(file["parted"])}).encode(), None)
    assert [card.said.name for card in drawing_cards(worked)] == ["Plate"]


def test_a_log_of_a_recipe_that_was_edited_since_names_no_step(worked: Collection) -> None:
    """What is gone from the recipe is left out of the file, which stays one that can be read."""
    with worked() as session:
        session.execute(text("UPDATE log_entry SET step_id = 99999, call_id = 99999"))
        session.commit()
    taken, _ = take_in_drawing(worked, share_drawing(worked, DRAWING)[1].encode(), None)
    assert [line["step"] for line in in_file(worked, taken.id)["log"]] == [None] * 4
