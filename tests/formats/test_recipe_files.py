"""Recipes as files: JSON out and in, its schema, the GIMP palette by Pillow's reader, CSV."""

from __future__ import annotations

import csv
import io
import json

import jsonschema_rs
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL.GimpPaletteFile import GimpPaletteFile
from tools.write_file_schemas import RECIPE, written

from tidy_tinder.core.vocabulary import Finish, Pressure, Role, StepKind
from tidy_tinder.formats.chart_list.reading import read_chart_list
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.gpl import PaletteColour, gimp_palette
from tidy_tinder.formats.recipe_csv import CsvCall, recipe_as_csv
from tidy_tinder.formats.recipe_json import (
    CallInFile,
    RecipeFile,
    StepInFile,
    recipe_as_json,
    recipe_from_json,
    recipe_schema,
)

words = st.text(max_size=30)
marks = st.sampled_from([Pressure.LIGHT, Pressure.MEDIUM, Pressure.HEAVY, ""])
calls = st.builds(
    CallInFile, as_written=words, start=st.integers(0, 99), maker=words, range=words, code=words, name=words,
    no_colour=st.booleans(), pressure=marks, layers=st.integers(1, 12), role=st.sampled_from([*Role, ""]),
)  # fmt: skip
steps = st.builds(
    StepInFile, kind=st.sampled_from(StepKind), area=words, text=words, pressure=marks, layers=st.integers(1, 12),
    finish=st.sampled_from(Finish), calls=st.lists(calls, max_size=3).map(tuple),
)  # fmt: skip
recipes = st.builds(
    RecipeFile, title=st.text(min_size=1, max_size=40), source_text=words, steps=st.lists(steps, max_size=4).map(tuple)
)
SMALL = {"format": "tidy-tinder recipe", "version": 1, "title": "A leaf", "steps": [{"kind": "note", "text": "Heron"}]}


@given(recipes)
def test_what_is_written_is_read_back_equal(recipe: RecipeFile) -> None:
    assert recipe_from_json(recipe_as_json(recipe).encode("utf-8")) == recipe


@pytest.mark.parametrize(
    ("content", "where"),
    [
        (b"", "line 1, column 1"),
        (b"{", "line 1"),
        (b"\xff\xfe", "UTF-8"),
        (b"[" * 100_000, "nested too deep"),
        (b"[]", "This is no tidy-tinder recipe"),
        (json.dumps({**SMALL, "version": 4}).encode(), "version 4, from a newer"),
        (json.dumps({**SMALL, "version": "one"}).encode(), "At version"),
        (json.dumps({**SMALL, "title": ""}).encode(), "At title"),
        (json.dumps({**SMALL, "unheard": 1}).encode(), "At unheard"),
        (json.dumps({**SMALL, "steps": [{"kind": "song", "text": ""}]}).encode(), "At steps › 0 › kind"),
        (
            json.dumps(
                {**SMALL, "steps": [{"kind": "step", "text": "", "calls": [{"as_written": "x", "start": -1}]}]}
            ).encode(),
            "At steps › 0 › calls › 0 › start",
        ),
        (json.dumps({**SMALL, "title": float("nan")}).encode(), "At title"),
        (json.dumps({**SMALL, "title": "\ud800"}).encode(), "At the whole"),
        (b" " * 1_000_001, "1,000,001 bytes"),
    ],
)  # fmt: skip
def test_a_broken_file_is_refused_with_its_place(content: bytes, where: str) -> None:
    with pytest.raises(UnreadableError, match=where):
        recipe_from_json(content)


@given(st.binary(max_size=200))
def test_no_file_makes_it_fail_in_another_way(content: bytes) -> None:
    with pytest.raises(UnreadableError):
        recipe_from_json(content)


def test_the_published_schema_is_that_of_the_program() -> None:
    assert RECIPE.read_text(encoding="utf-8") == written(recipe_schema())
    schema = recipe_schema()
    assert set(schema["required"]) == {"title", "steps"}
    assert schema["additionalProperties"] is False
    # Against jsonschema-rs, a validator of JSON Schema draft 2020-12 of its own.
    valid = jsonschema_rs.validator_for(schema)
    assert valid.is_valid(json.loads(recipe_as_json(recipe_from_json(json.dumps(SMALL).encode()))))
    assert not valid.is_valid({**SMALL, "steps": 3})
    assert not valid.is_valid({**SMALL, "more": ""})


def test_a_palette_is_read_by_pillow() -> None:
    text = gimp_palette(
        "A leaf\non card", [PaletteColour("#c81e0a", "Heron 119 Fly Cap"), PaletteColour("#fff6d5", "Oat")]
    )
    palette, mode = GimpPaletteFile(io.BytesIO(text.encode())).getpalette()
    assert mode == "RGB"
    assert palette[:6] == bytes((0xC8, 0x1E, 0x0A, 0xFF, 0xF6, 0xD5))
    assert "Name: A leaf on card" in text


def test_a_name_is_cut_in_its_middle_where_readers_take_no_longer_line() -> None:
    names = ["Ü" * 60 + " heavy, measured", "short", "x" * 4000 + ", in the picture"]
    text = gimp_palette("Long", [PaletteColour("#010203", name) for name in names])
    palette, _ = GimpPaletteFile(io.BytesIO(text.encode())).getpalette()
    assert palette[:9] == bytes((1, 2, 3)) * 3
    first, second, third = (line.split("\t")[1] for line in text.splitlines()[4:])
    assert first.startswith("ÜÜÜ")
    assert first.endswith("heavy, measured")
    assert (second, third[-16:]) == ("short", ", in the picture")
    begin, end = third.split(" … ")
    assert abs(len(begin) - len(end)) <= 1
    assert all(len(line.encode()) < 100 for line in text.splitlines())


def test_csv_has_a_line_for_each_call_and_no_formula() -> None:
    call = CsvCall("1", "Leaf", "=1+1", "Quillfen", "Heron", "119", "Fly Cap", "heavy", 2, "", "open", "")
    rows = list(csv.reader(io.StringIO(recipe_as_csv([call]))))
    assert rows[0][:3] == ["step", "area", "text"]
    assert rows[1] == ["1", "Leaf", "'=1+1", "Quillfen", "Heron", "119", "Fly Cap", "heavy", "2", "", "open", ""]


names = st.sampled_from(["Fly Cap", "Pond Weed", "Wet Slate", "Oat"])
coded = st.tuples(st.integers(100, 999), names, st.binary(min_size=3, max_size=3))


@given(st.lists(coded, min_size=2, max_size=12, unique_by=lambda one: one[0]))
def test_a_palette_that_is_read_again_has_the_same_colours(colours: list[tuple[int, str, bytes]]) -> None:
    text = gimp_palette("Heron", [PaletteColour(f"#{of.hex()}", f"{code} {name}") for code, name, of in colours])
    chart = read_chart_list(text)
    assert [(c.code, c.name, c.hex) for c in chart.colours] == [
        (str(code), name, f"#{of.hex()}") for code, name, of in colours
    ]
    # Pillow reads the same bytes, in the same order.
    palette, _ = GimpPaletteFile(io.BytesIO(text.encode())).getpalette()
    assert palette[: 3 * len(colours)] == b"".join(of for _, _, of in colours)


def test_a_palette_of_another_hand_becomes_a_chart_and_what_is_none_of_it_is_said() -> None:
    text = (
        "GIMP Palette\r\nName: Pond\r\nColumns: 4\r\n# by hand\r\n"
        "200  30  10\tFly Cap\r\n 12 250 3 Weed of the Pond\r\n255 255 255\r\n256 0 0\tToo much\r\nrust\r\n"
    )
    chart = read_chart_list(text)
    assert (chart.title, chart.numbered) == ("Pond", True)
    assert [(c.code, c.name, c.hex) for c in chart.colours] == [
        ("1", "Fly Cap", "#c81e0a"), ("2", "Weed of the Pond", "#0cfa03"), ("3", "Untitled", "#ffffff"),
    ]  # fmt: skip
    assert [line.number for line in chart.lines if line.problem] == [8, 9]
    assert chart.lines[7].text == "256 0 0\tToo much"
    # Without its first line it is a list like any other.
    assert read_chart_list(text.split("\r\n", 1)[1]).title != "Pond"
