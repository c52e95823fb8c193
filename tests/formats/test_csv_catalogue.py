"""The catalogue as CSV: what is read, and every problem by line and column."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.names.finding import fold_code
from tidy_tinder.core.reflectance.colorimetry import adapt_d50_to_d65, lab_from_hex
from tidy_tinder.formats.csv_catalogue import CatalogueFile, ExportRow, read_catalogue, write_catalogue

HEADING = "maker,range,code,name,L,a,b,hex,white,opacity,lightfastness,effect,owned\n"


def read(lines: str, heading: str = HEADING) -> CatalogueFile:
    return read_catalogue((heading + lines).encode())


def problems(lines: str, heading: str = HEADING) -> list[tuple[int, str]]:
    return [(p.line, p.column) for p in read(lines, heading).problems]


def test_a_whole_line_is_read() -> None:
    file = read("Mill,Lane,101,Oxlip,87.5,-4,50,,D65,semi,II,ordinary,2\n")
    row = file.rows[0]
    assert (row.maker, row.range_name, row.code, row.name) == ("Mill", "Lane", "101", "Oxlip")
    assert row.lab is not None
    assert np.allclose(row.lab, [87.5, -4, 50])
    assert (row.opacity, row.lightfastness, row.effect, row.owned) == ("semi", "II", "ordinary", 2)


def test_hex_d50_and_no_colour_at_all() -> None:
    file = read("M,L,1,One,,,,#b2402f,,,,,\nM,L,2,Two,50,20,10,,D50,,,,\nM,L,3,Three,,,,,,,,pearl,0\n")
    assert file.problems == ()
    one, two, three = file.rows
    assert one.lab is not None
    assert two.lab is not None
    assert np.allclose(one.lab, lab_from_hex("b2402f"))
    assert np.allclose(two.lab, adapt_d50_to_d65([50.0, 20, 10]))
    assert "D50" in two.lab_source
    assert (three.lab, three.effect, three.owned) == (None, "pearl", 0)
    assert file.adapted_from_d50 == 1


@pytest.mark.parametrize(
    "content",
    [
        "\ufeffrange,code,name\nL,1,One\n".encode(),
        b"range;code;name;L;a;b\nL;1;One;50,5;-1,25;3\n",
        b"range,code,name\r\nL,1,One\r\n\r\n",
        b'"name","code","range"\n"One","1","L"\n',
        b"Range, CODE ,Name,page\nL,1,One,7\n",
    ],
)
def test_the_ways_in_which_spreadsheets_write(content: bytes) -> None:
    file = read_catalogue(content)
    assert file.problems == ()
    assert [(r.range_name, r.code, r.name) for r in file.rows] == [("L", "1", "One")]


def test_a_semicolon_file_may_write_decimal_commas() -> None:
    file = read_catalogue(b"range;code;name;L;a;b\nL;1;One;50,5;-1,25;3\n")
    assert file.rows[0].lab is not None
    assert np.allclose(file.rows[0].lab, [50.5, -1.25, 3])


def test_a_quoted_name_may_hold_a_comma_and_a_line_break() -> None:
    file = read('M,L,1,"Moss, wet",,,,,,,,,\nM,L,2,"Two\nlines",,,,,,,,,\nM,L,,Three,,,,,,,,,\n')
    assert [(p.line, p.column) for p in file.problems] == [(5, "code")]


def test_a_column_that_is_not_known_is_said_not_to_be_read() -> None:
    assert read_catalogue(b"range,code,name,shelf\nL,1,One,top\n").ignored_columns == ("shelf",)


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("M,,1,One,,,,,,,,,\n", (2, "range")),
        ("M,L,,One,,,,,,,,,\n", (2, "code")),
        ("M,L,1,,,,,,,,,,\n", (2, "name")),
        ("M,L,1,One,50,x,0,,,,,,\n", (2, "a")),
        ("M,L,1,One,50,,0,,,,,,\n", (2, "a")),
        ("M,L,1,One,150,0,0,,,,,,\n", (2, "L, a, b")),
        ("M,L,1,One,50,0,nan,,,,,,\n", (2, "L, a, b")),
        ("M,L,1,One,,,,#12345,,,,,\n", (2, "hex")),
        ("M,L,1,One,50,0,0,#123456,,,,,\n", (2, "hex")),
        ("M,L,1,One,50,0,0,,F2,,,,\n", (2, "white")),
        ("M,L,1,One,,,,,,glassy,,,\n", (2, "opacity")),
        ("M,L,1,One,,,,,,,,glow,\n", (2, "effect")),
        ("M,L,1,One,,,,,,,,,-1\n", (2, "owned")),
        ("M,L,1,One,,,,,,,,,1.5\n", (2, "owned")),
        (f"M,L,1,{'x' * 200},,,,,,,,,\n", (2, "name")),
        ("M,L,01,One,,,,,,,,,\nM,L,1,Again,,,,,,,,,\n", (3, "code")),
        ('M,L,1,"One,,,,,,,,,\n', (2, "")),
    ],
)
def test_what_is_wrong_is_named_by_line_and_column(line: str, expected: tuple[int, str]) -> None:
    file = read(line)
    assert (file.problems[0].line, file.problems[0].column) == expected
    assert file.problems[0].message.endswith((".", "needs it."))
    assert file.rows == ()


def test_all_problems_are_named_not_only_the_first() -> None:
    assert problems("M,,1,One,,,,,,,,,\nM,L,2,Two,,,,,,,,,\nM,L,3,,,,,zz,,,,,\n") == [
        (2, "range"),
        (4, "hex"),
        (4, "name"),
    ]


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "empty"),
        (b"   \n", "empty"),
        (b"range,code,name\n", "no colour below"),
        (b"code,name\n1,One\n", "missing"),
        (b"range,code,code,name\nL,1,2,One\n", "twice"),
        ("range,code,name\nL,1,Crème\n".encode("latin-1"), "UTF-8"),
        ("range,code,name\nL,1,One\n".encode("utf-16"), "not a text file"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", "not a text file"),
        (b"x" * 20_000_001, "at most 20 MB"),
    ],
)
def test_files_that_are_no_catalogue_say_so(content: bytes, words: str) -> None:
    file = read_catalogue(content)
    assert len(file.problems) == 1
    assert words in file.problems[0].message
    assert (file.rows, file.adapted_from_d50) == ((), 0)


def test_what_is_wrong_with_a_file_as_a_whole_is_told_where_it_stands() -> None:
    assert problems("", "code,name\n") == [(1, "range")]
    assert problems("1,One\n", "code,name\n") == [(1, "range")]
    # The colour that is wanted would stand in the second line.
    assert problems("") == [(2, "")]


def test_a_comma_is_a_decimal_one_only_where_semicolons_part_the_cells() -> None:
    assert problems('M,L,1,One,"87,5",0,0,,,,,,\n') == [(2, "L")]


def test_a_white_without_a_colour_adapts_nothing() -> None:
    file = read("M,L,1,One,,,,,D50,,,,\nM,L,2,Two,50,20,10,,D50,,,,\n")
    assert (file.problems, file.adapted_from_d50) == ((), 1)
    assert file.rows[0].lab is None


def test_a_column_is_said_by_its_heading_until_the_artist_says_otherwise() -> None:
    file = read("M,L,1,One,50,0,0,,,,,,\n")
    assert [one.as_said for one in file.read_as] == [False] * 13


@given(st.binary(max_size=400))
def test_any_bytes_end_in_rows_or_problems(content: bytes) -> None:
    file = read_catalogue(content)
    assert bool(file.rows) != bool(file.problems)


@given(st.text(max_size=200))
def test_any_line_ends_in_rows_or_problems(text: str) -> None:
    file = read(text + "\n")
    assert bool(file.rows) != bool(file.problems)


words = st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=12)
export_rows = st.builds(
    ExportRow,
    maker=words | st.just(""),
    range_name=words,
    code=words,
    name=words,
    lab=st.none() | st.tuples(st.floats(0, 100), st.floats(-199, 199), st.floats(-199, 199)),
    opacity=st.sampled_from(["", "transparent", "semi", "opaque"]),
    lightfastness=words | st.just(""),
    effect=st.sampled_from(["ordinary", "neon"]),
    owned=st.integers(0, 99),
)


@given(st.lists(export_rows, min_size=1, max_size=8, unique_by=lambda row: fold_code(row.code)))
def test_what_is_written_is_read_again(rows: list[ExportRow]) -> None:
    """Quotes, separators and line ends in a name included; each code once."""
    rows = [row for row in rows if fold_code(row.code)]
    file = read_catalogue(write_catalogue(rows))
    if not rows:
        return
    assert file.problems == ()
    for row, back in zip(rows, file.rows, strict=True):
        assert (row.range_name, row.code, row.name, row.owned) == (back.range_name, back.code, back.name, back.owned)
        assert (row.maker, row.opacity, row.lightfastness) == (back.maker, back.opacity, back.lightfastness)
        if row.lab is None:
            assert back.lab is None
        else:
            assert back.lab is not None
            assert tuple(back.lab) == row.lab


def test_a_picture_renamed_and_a_huge_file_are_refused_in_words() -> None:
    picture = bytes.fromhex("89504e470d0a1a0a0000000d49484452") + bytes(range(256)) * 40
    assert "not a text file" in read_catalogue(picture).problems[0].message
    utf16 = "range,code,name\nL,1,One\n".encode("utf-16")
    assert "UTF-8" in read_catalogue(utf16).problems[0].message
    huge = read_catalogue(b"range,code,name\n" + b"L,1,One\n" * 7_000_000)
    assert "56 MB; a catalogue has at most 20 MB" in huge.problems[0].message


@pytest.mark.parametrize(
    "heading",
    [
        "Hersteller;Serie;Farbnummer;Farbname;L*;a*;b*;Lichtechtheit;Anzahl",
        "marque;gamme;numéro;nom;L* (D65/2°);a*;b*;solidité;quantité",
        "Marca;Línea;Número;Nombre;CIE L*;CIE a*;CIE b*;solidez;cantidad",
        "Brand;Series;No.;Colour name;Lab_L;Lab_a;Lab_b;Lightfast;Pieces",
    ],
)  # fmt: skip
def test_columns_may_be_called_as_other_languages_and_spreadsheets_call_them(heading: str) -> None:
    file = read_catalogue(f"{heading}\nQuillfen;Heron;101;Oxlip;87,5;-4;50;***;2\n".encode())
    assert file.problems == ()
    row = file.rows[0]
    assert (row.maker, row.range_name, row.code, row.name) == ("Quillfen", "Heron", "101", "Oxlip")
    assert row.lab is not None
    assert row.lab.tolist() == [87.5, -4.0, 50.0]
    assert (row.lightfastness, row.owned) == ("***", 2)
    assert [one.field for one in file.read_as] == [
        "maker", "range", "code", "name", "L", "a", "b", "lightfastness", "owned"
    ]  # fmt: skip
    assert not any(one.as_said for one in file.read_as)


def test_a_column_under_its_own_name_goes_before_one_that_is_called_so_elsewhere() -> None:
    file = read_catalogue(b"number,range,code,colour,name\n7,Heron,101,yellow,Oxlip\n")
    assert (file.rows[0].code, file.rows[0].name) == ("101", "Oxlip")
    assert file.ignored_columns == ("number", "colour")


def test_a_running_number_is_the_code_only_where_nothing_else_is() -> None:
    file = read_catalogue(b"No;Serie;Farbnummer;Farbe;Farbname\n1;Heron;101;gelb;Oxlip\n")
    assert (file.rows[0].code, file.rows[0].name) == ("101", "Oxlip")
    assert file.ignored_columns == ("No", "Farbe")
    alone = read_catalogue(b"No;Serie;Farbe\n101;Heron;Oxlip\n")
    assert (alone.rows[0].code, alone.rows[0].name) == ("101", "Oxlip")


def test_what_is_said_of_a_column_goes_before_its_heading() -> None:
    content = b"what,where,key,name,code\nOxlip,Heron,101,a shelf,a box\n"
    said = {"what": "name", "where": "range", "key": "code", "name": "", "code": ""}
    file = read_catalogue(content, said)
    assert file.problems == ()
    assert (file.rows[0].range_name, file.rows[0].code, file.rows[0].name) == ("Heron", "101", "Oxlip")
    assert file.ignored_columns == ("name", "code")
    assert all(one.as_said for one in file.read_as)
    # The same field twice is a mistake, and a field that there is not is none.
    twice = read_catalogue(content, {**said, "name": "name"})
    assert [(one.line, one.column) for one in twice.problems] == [(1, "name")]
    assert "range" in read_catalogue(content, {**said, "where": "shelf"}).problems[0].column


def test_an_endless_heading_is_refused_or_read_at_once() -> None:
    wide = read_catalogue(("range,code,name," + "x," * 500_000).encode())
    assert [(one.line, "at most 1,000" in one.message) for one in wide.problems] == [(1, True)]
    # Every open bracket looks for its end: without a limit this takes minutes.
    deep = read_catalogue(("range,code,name," + "(" * 100_000 + "\nHeron,101,Oxlip,1\n").encode())
    assert deep.problems == ()
    assert len(deep.ignored_columns[0]) < 200
