"""Marks as CSV, CGATS.17 and CxF3: what is written is read again, and what others write is read or asked about.

Outside: ArgyllCMS (Debian's) reads ours, and we read what it writes; the parser of colour-cxf reads our CxF3.
"""

from __future__ import annotations

import shlex
import subprocess
import warnings
from collections.abc import Callable, Sequence
from dataclasses import fields
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import adapt_d50_to_d65, reflectance_to_lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Ground, Pressure, Source
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.swatch_file.cgats import write_cgats
from tidy_tinder.formats.swatch_file.cxf import write_cxf
from tidy_tinder.formats.swatch_file.reading import read_marks
from tidy_tinder.formats.swatch_file.record import Ask, MarkRecord, MarksFile, Said, White
from tidy_tinder.formats.swatch_file.table import ADAPTED_DOUBT
from tidy_tinder.formats.swatch_file.text_table import write_csv

DAY = date(2026, 11, 28)
WRITERS: dict[str, Callable[[Sequence[MarkRecord]], bytes]] = {
    "CSV": write_csv,
    "CGATS.17": lambda records: write_cgats(records, DAY),
    "CxF3": lambda records: write_cxf(records, DAY),
}
# The beginning of a file of three values a mark.
CGATS = "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n"
DATA = CGATS.removeprefix("CGATS.17\n") + "12 50 20 30\nEND_DATA\n"
ALL_SAID = Said("Lane", "Laid", Pressure.MEDIUM, White.D65)
# A reflectance as a warm red has it; no value is a whole number of per cent.
RED: NDArray[np.float64] = np.asarray(0.0531 + 0.6123 / (1.0 + np.exp(-(BANDS - 592.0) / 13.0)))


def mark(**known: object) -> MarkRecord:
    values: dict[str, object] = {
        "line": 0, "range_name": "Lane", "code": "12", "paper": "Laid", "pressure": Pressure.HEAVY,
        "lab": reflectance_to_lab(RED), "spectrum": RED, "made_on": DAY,
    }  # fmt: skip
    return MarkRecord(**{**values, **known})  # type: ignore[arg-type] # by name


def spectra(file: MarksFile) -> NDArray[np.float64]:
    return np.array([one.spectrum for one in file.records], dtype=np.float64)


def same(one: MarkRecord, other: MarkRecord) -> bool:
    for name in (f.name for f in fields(MarkRecord) if f.name not in ("line", "name", "lab", "spectrum")):
        assert getattr(one, name) == getattr(other, name), name
    np.testing.assert_array_equal(one.lab, other.lab)
    if one.spectrum is None or other.spectrum is None:
        return one.spectrum is other.spectrum
    return np.array_equal(one.spectrum, other.spectrum)


# What can be written and shown, without breaks: names are single lines everywhere in the program.
WORDS = st.text(st.characters(codec="utf-8", categories=["L", "N", "P", "S", "Zs"]), min_size=1, max_size=20).map(
    lambda text: " ".join(text.split())
)
NAMES = WORDS.filter(bool)
MARKS = st.builds(
    mark, range_name=NAMES, code=NAMES, paper=NAMES, pressure=st.sampled_from(MARK_PRESSURES),
    layers=st.integers(1, 12), finish=st.sampled_from(Finish), over=st.sampled_from(Ground),
    burnisher=st.just(("", "")) | st.tuples(NAMES, NAMES), source=st.sampled_from(Source), instrument=WORDS,
    note=WORDS, made_on=st.none() | st.dates(date(1990, 1, 1), date(2100, 1, 1)),
    doubt=st.none() | st.floats(0.01, 20), averaged_of=st.integers(1, 9), aperture_mm=st.none() | st.floats(0.5, 30),
    lab=st.tuples(st.floats(0, 100), st.floats(-60, 60), st.floats(-60, 60)).map(np.array),
    spectrum=st.none() | st.lists(st.floats(0, 1.2), min_size=31, max_size=31).map(np.array),
)  # fmt: skip


@pytest.mark.parametrize("kind", WRITERS)
@given(marks=st.lists(MARKS, min_size=1, max_size=4))
def test_what_is_written_is_read_again(kind: str, marks: list[MarkRecord]) -> None:
    file = read_marks(WRITERS[kind](marks), Said())
    assert (file.kind, file.problems, file.asks, file.ignored, file.adapted, file.regridded) == (kind, (), (), (), 0, 0)
    assert all(same(one, other) for one, other in zip(marks, file.records, strict=True))


def argyll(*command: str | Path) -> None:
    """Run one of its programs, which must be content."""
    done = subprocess.run([str(part) for part in command], capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 0, done.stderr


def test_argyll_reads_our_cgats_and_we_read_its_own(tmp_path: Path) -> None:
    (tmp_path / "ours.txt").write_bytes(write_cgats([mark(), mark(code="13", spectrum=RED * 0.7123)], DAY))
    argyll("txt2ti3", tmp_path / "ours.txt", tmp_path / "theirs")
    # Its sum over our spectra, under D65 and for 2°, is ours to within the difference of two tables of weights.
    argyll("spec2cie", "-i", "D65", "-o", "1931_2", tmp_path / "theirs.ti3", tmp_path / "summed.ti3")
    text = (tmp_path / "summed.ti3").read_text()
    heading = text.split("BEGIN_DATA_FORMAT")[1].split("END_DATA_FORMAT")[0].split()
    line = text.split("BEGIN_DATA\n")[1].splitlines()[0]
    first = shlex.split(line)
    X, Y, Z = (float(first[heading.index(f"XYZ_{axis}")]) for axis in "XYZ")
    white = np.array([95.047, 100.0, 108.883])
    t = np.array([X, Y, Z]) / white
    L, a, b = 116 * np.cbrt(t[1]) - 16, 500 * (np.cbrt(t[0]) - np.cbrt(t[1])), 200 * (np.cbrt(t[1]) - np.cbrt(t[2]))
    assert delta_e_2000([L, a, b], reflectance_to_lab(RED)) < 0.25
    file = read_marks((tmp_path / "summed.ti3").read_bytes(), ALL_SAID)
    assert file.problems == ()
    np.testing.assert_allclose(spectra(file), np.array([RED, RED * 0.7123]), atol=2e-6)


def test_argyll_reads_our_cxf(tmp_path: Path) -> None:
    (tmp_path / "ours.cxf").write_bytes(write_cxf([mark(), mark(code="13", pressure=Pressure.LIGHT)], DAY))
    argyll("cxf2ti3", tmp_path / "ours.cxf", tmp_path / "theirs")
    file = read_marks((tmp_path / "theirs.cie").read_bytes(), ALL_SAID)
    assert (file.problems, len(file.records)) == ((), 2)
    np.testing.assert_allclose(spectra(file)[0], RED, atol=2e-6)
    np.testing.assert_allclose(file.records[0].lab, reflectance_to_lab(RED), atol=2e-3)


def test_the_parser_of_colour_cxf_reads_ours() -> None:
    import colour_cxf

    file = colour_cxf.read_cxf(write_cxf([mark()], DAY))
    [thing] = file.resources.object_collection.object_value
    spectrum, lab = thing.color_values.choice
    np.testing.assert_array_equal(spectrum.value, RED)
    np.testing.assert_array_equal([lab.l, lab.a, lab.b], reflectance_to_lab(RED))
    [light] = file.resources.color_specification_collection.color_specification
    assert light.tristimulus_spec.illuminant_or_custom_illuminant.value.value == "D65"


def read(text: str, said: Said = ALL_SAID) -> MarksFile:
    return read_marks(text.encode(), said)


@pytest.mark.parametrize(
    "text",
    [
        "Code,L*,a*,b*\n12,50,-3,7.5\n",
        "Nr;Farbnummer;L*;a*;b*\n1;12;50,0;-3;7,5\n",
        "numéro\tCIE-L\tCIE-a\tCIE-b\n12\t50\t-3\t7.5\n",
        "code,L,C,h\n12,50,8.07774721,111.801409486\n",
        'code,L,a,b\n12,"50,0",-3,"7,5"\n',
        "Measured marks\nInstrument: mine\n\nColour Code;Name;L*;a*;b*\n12;One;50;-3;7.5\n",
        f"{CGATS}12 50\n-3 7.5\nEND_DATA\n".replace("BEGIN_DATA\n12", "NUMBER_OF_SETS 1\nBEGIN_DATA\n12"),
        f'{CGATS}"12" 50 -3 7.5 # last\nEND_DATA\n',
    ],
)
def test_the_headings_of_others_are_understood(text: str) -> None:
    file = read(text)
    assert (file.problems, file.asks) == ((), ())
    [one] = file.records
    assert (one.range_name, one.code, one.paper, one.pressure) == ("Lane", "12", "Laid", Pressure.MEDIUM)
    np.testing.assert_allclose(one.lab, [50, -3, 7.5], atol=1e-6)


def test_it_is_said_which_field_is_read_as_what() -> None:
    waves = ";".join(f"R_{w}" for w in range(380, 740, 10))
    file = read(f"Nr;Farbnummer;L*;a*;b*;Glanz;{waves}\n", Said())
    said = {one.heading: one.meaning for one in file.read_as}
    assert said == {
        "Nr": "number", "Farbnummer": "code", "L*": "L*", "a*": "a*", "b*": "b*",
        "R_380 … R_730": "reflectance, 380 to 730 nm",
    }  # fmt: skip
    assert file.ignored == ("Glanz",)


def test_what_a_file_does_not_say_is_asked_and_never_guessed() -> None:
    text = "code,L,a,b\n12,50,-3,7.5\n"
    assert read(text, Said()).asks == (Ask.RANGE, Ask.PAPER, Ask.PRESSURE, Ask.WHITE)
    assert read(text, Said("Lane", "Laid", Pressure.HEAVY)).asks == (Ask.WHITE,)
    assert read(text, Said()).records == ()
    # A spectrum tells its colour under any light; a hex is sRGB.
    spectral = f"code,{','.join(f'nm{b:.0f}' for b in BANDS)}\n12,{','.join(map(str, RED))}\n"
    assert Ask.WHITE not in read(spectral, Said()).asks
    assert Ask.WHITE not in read("code,hex\n12,#aa2211\n", Said()).asks


def test_d50_is_adapted_and_another_observer_refused() -> None:
    text = "code,L,a,b,white,observer\n12,50,20,30,D50,2\n"
    file = read(text)
    assert file.adapted == 1
    np.testing.assert_allclose(file.records[0].lab, adapt_d50_to_d65([50, 20, 30]))
    [wrong] = read(text.replace("D50,2", "D65,10 degree")).problems
    assert (wrong.line, wrong.field) == (2, "OBSERVER")
    for said in (
        "code,L* (D50/2°),a* (D50/2°),b* (D50/2°)\n12,50,20,30\n",
        "code,L,a,b,illuminant\n12,50,20,30,D50/2°\n",
    ):
        file = read(said, Said("Lane", "Laid", Pressure.HEAVY))
        assert (file.asks, file.problems, file.adapted) == ((), (), 1)
        assert read(said.replace("2°", "10°")).problems[0].field == "OBSERVER"
    head = 'CGATS.17\nWEIGHTING_FUNCTION "ILLUMINANT, D50"\nWEIGHTING_FUNCTION "OBSERVER, 2 degree"\n'
    file = read(head + DATA, Said("Lane", "Laid", Pressure.HEAVY))
    assert (file.asks, file.adapted) == ((), 1)
    assert read(head.replace("2 degree", "10 degree") + DATA).problems[0].field == "OBSERVER"


def test_what_is_adapted_is_doubted_as_much_as_its_spectrum_would_have_changed_it() -> None:
    """Over both 24-patch charts that colour-science carries, summed at 1 nm under D50 and D65."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # colour-science warns of optional packages when it is imported
        import colour

        observer, off = "CIE 1931 2 Degree Standard Observer", []
        charts = (colour.SDS_COLOURCHECKERS[name] for name in ("BabelColor Average", "ColorChecker N Ohta"))
        for patch in (patch for chart in charts for patch in chart.values()):
            D50, D65 = (
                colour.XYZ_to_Lab(
                    colour.sd_to_XYZ(patch, colour.MSDS_CMFS[observer], colour.SDS_ILLUMINANTS[light]) / 100,
                    colour.CCS_ILLUMINANTS[observer][light],
                )
                for light in ("D50", "D65")
            )
            off.append(adapt_d50_to_d65(D50) - D65)
    assert np.sqrt(np.mean(np.square(off))) == pytest.approx(ADAPTED_DOUBT, abs=0.005)
    [one] = read("code,L,a,b,white\n12,50,20,30,D50\n").records
    assert one.doubt == ADAPTED_DOUBT
    [one] = read("code,L,a,b,white,doubt\n12,50,20,30,D50,1.5\n").records
    assert one.doubt == pytest.approx(np.hypot(1.5, ADAPTED_DOUBT))
    [one] = read("code,L,a,b,white\n12,50,20,30,D65\n").records
    assert one.doubt is None


def test_a_colour_of_a_screen_is_not_taken_for_measured_and_a_slip_not_for_per_cent() -> None:
    [one] = read("code,hex\n12,#aa2211\n").records
    assert one.source == Source.TYPED
    names, factors = ",".join(f"nm{b:.0f}" for b in BANDS), ",".join(map(str, RED))
    slip = factors.replace("0.05", "5", 1)
    [wrong] = read(f"code,{names}\n12,{factors}\n13,{factors}\n14,{slip}\n").problems
    assert (wrong.line, wrong.field) == (4, "SPECTRAL")


def test_spectra_in_per_cent_and_on_other_bands_are_put_on_ours() -> None:
    waves = np.arange(380, 731, 10)
    values = np.interp(waves, BANDS, RED)
    heading = ",".join(f"R_{w}" if w < 500 else f"{w}.0 nm" if w < 600 else f"Refl {w} nm (%)" for w in waves)
    factors = read(f"code,{heading}\n12,{','.join(map(str, values))}\n")
    # In a dark row of a file in per cent no value is above 2 either.
    cents = read(
        f"code,{heading}\n12,{','.join(str(100 * v) for v in values)}\n13,{','.join(str(v) for v in values)}\n"
    )
    for file in (factors, cents):
        assert file.problems == ()
        np.testing.assert_allclose(spectra(file)[0], RED, atol=1e-12)
        np.testing.assert_allclose(file.records[0].lab, reflectance_to_lab(RED), atol=1e-9)
    assert (factors.regridded, cents.regridded) == (1, 2)
    np.testing.assert_allclose(spectra(cents)[1], RED / 100, atol=1e-12)
    short = read(f"code,{','.join(f'nm{w}' for w in waves[4:])}\n12,{','.join(map(str, values[4:]))}\n")
    assert "nothing is made up" in short.problems[0].message


@pytest.mark.parametrize(
    ("said", "meant"), [("fest", "heavy"), ("Léger", "light"), ("M", "medium"), ("heavy", "heavy")]
)
def test_how_hard_is_understood_in_other_words(said: str, meant: str) -> None:
    [one] = read(f"code,L,a,b,druck\n12,50,1,1,{said}\n", Said("Lane", "Laid", None, White.D65)).records
    assert one.pressure == meant


@pytest.mark.parametrize(
    ("text", "line", "field", "words"),
    [
        ("code,L,a,b\n12,x,1,1\n", 2, "LAB_L", "not a number"),
        ("code,L,a,b\n12,50,,1\n", 2, "LAB_L, LAB_A, LAB_B", "no measured value"),
        ("code,L,a,b\n12,150,1,1\n", 2, "LAB_L, LAB_A, LAB_B", "L*"),
        ("code,L,a,b\n,50,1,1\n", 2, "CODE", "empty"),
        ("code,L,a,b,pressure\n12,50,1,1,hard\n", 2, "PRESSURE", "none of light, medium, heavy"),
        ("code,L,a,b,layers\n12,50,1,1,99999\n", 2, "LAYERS", "1 to 12"),
        ("code,L,a,b,made_on\n12,50,1,1,28.11.2026\n", 2, "MADE_ON", "2026-11-27"),
        ("code,L,a,b,doubt\n12,50,1,1,-1\n", 2, "DOUBT", "above 0"),
        ("code,L,a,b,L\n12,50,1,1,1\n", 1, "LAB_L", "twice"),
        ("code,name\n12,One\n", 1, "LAB_L", "No measured values"),
        ("L,a,b\n50,1,1\n", 1, "CODE", "which pencil"),
        ("code,L,a,b\n", 2, "", "no mark below"),
        ('code,L,a,b\n"12,50,1,1\n', 2, "", "quotation marks"),
        (CGATS + "12 50 1\nEND_DATA\n", 6, "", "3 values for 4"),
        (CGATS + "12 50 1 1\n", 6, "", "END_DATA is missing"),
        ("CGATS.17\nNUMBER_OF_SETS 2\n" + DATA, 7, "", "NUMBER_OF_SETS says 2"),
        ("code,paper,L,a,b\n12,Laid, old,50,1,1\n", 2, "", "6 cells for 5 fields"),
        ("code,L,a,b,white\n12,50,1,1,D55\n", 2, "WHITE", "“D55” is not known"),
        (f'CGATS.17\nWEIGHTING_FUNCTION "ILLUMINANT, A"\n{DATA}', 7, "WHITE", "“ILLUMINANT, A” is not known"),
        ("<CxF><Resources>", 1, "", "not a whole CxF3"),
        ('<!DOCTYPE a [<!ENTITY b "c">]><CxF>&b;</CxF>', 1, "", "document type"),
        ("", 1, "", "empty"),
        ("code,L,a,b\n12,50,1,\x00\n", 2, "", "not a text file"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_by_line_and_field(text: str, line: int, field: str, words: str) -> None:
    file = read(text)
    assert file.records == ()
    wrong = file.problems[0]
    assert (wrong.line, wrong.field) == (line, field)
    assert words in wrong.message
    assert len(wrong.message) < 200


@given(st.binary(max_size=400) | st.text(max_size=400).map(str.encode))
@example(b"\r\x01")
@example(b"code,L\r101,50\r\n\x00")
def test_any_bytes_end_in_marks_questions_or_problems(content: bytes) -> None:
    for before in (
        b"",
        b"code,L,a,b\n",
        CGATS.encode(),
        b"<CxF>",
    ):
        file = read_marks(before + content, ALL_SAID)
        assert file.records or file.problems or file.asks


def test_so_many_marks_are_too_many_for_one_file() -> None:
    [wrong] = read("code,L,a,b\n" + "12,50,1,1\n" * 20_001).problems
    assert (wrong.line, "at most 20,000" in wrong.message) == (20_002, True)
    with pytest.raises(UnreadableError, match=r"5,001.*CGATS"):
        write_cxf([mark()] * 5_001, DAY)
    [wrong] = read("<cc:CxF>" + "<cc:Object Name='1'/>" * 5_001 + "</cc:CxF>").problems
    assert "5,001 marks" in wrong.message


def test_an_endless_heading_is_refused_at_once() -> None:
    file = read("LAB_L,LAB_A,LAB_B,CODE" + ",x" * 300_000 + "\n", Said())
    assert [(one.line, "at most 2,000" in one.message) for one in file.problems] == [(1, True)]
    # Every open bracket looks for its end: without a limit this takes minutes.
    assert read("LAB_L,LAB_A,LAB_B,CODE," + "(" * 100_000 + "\n", Said()).asks != ()
