"""A printed page as JSON: comes back equal, and what is not whole is refused in words."""

from __future__ import annotations

import json
from typing import Any

import pytest
from tests.formats.test_sheet_pdf import LAYOUTS, named, page_of

from tidy_tinder.core.sheet.layout import Layout
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.sheet_json import page_as_json, page_from_json


def plain(layout: Layout) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(page_as_json(page_of(layout))))
    return data


@pytest.mark.parametrize("layout", LAYOUTS, ids=named)
def test_a_page_comes_back_equal(layout: Layout) -> None:
    again = page_from_json(plain(layout))
    assert plain(again.layout) == plain(layout)
    assert (again.token, again.title, again.labels) == ("K7QW2MXA", page_of(layout).title, page_of(layout).labels)
    assert [c.bare for c in again.layout.cells] == [c.bare for c in layout.cells]


def test_it_is_in_mm_and_says_what_it_is() -> None:
    data = plain(LAYOUTS[1])
    assert (data["format"], data["version"], data["page_mm"]) == ("tidy-tinder sheet", 1, [210.0, 297.0])
    assert data["markers"][0] == {"number": 0, "box": [8.0, 8.0, 13.0, 13.0]}
    assert [zone["pressure"] for zone in data["cells"][0]["zones"]] == ["light", "medium", "heavy"]


@pytest.mark.parametrize("missing", ["format", "version", "markers", "cells", "dots", "ramp", "texts", "paper_size"])
def test_what_is_not_whole_is_refused(missing: str) -> None:
    data = plain(LAYOUTS[0])
    del data[missing]
    with pytest.raises(UnreadableError):
        page_from_json(data)


@pytest.mark.parametrize(
    "data", [None, [], "sheet", {"format": "other", "version": 1}, {"format": "tidy-tinder sheet"}]
)
def test_other_things_are_refused(data: object) -> None:
    with pytest.raises(UnreadableError):
        page_from_json(data)
