"""What the fields of a table of marks are called, by us and by others: other languages, other spellings, a field for
each wavelength, the light in brackets.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tidy_tinder.core.errors import echoed
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.columns import Columns, Field, ReadAs, called, folded, in_brackets
from tidy_tinder.formats.swatch_file.record import MarkProblem, White

LAB = ("LAB_L", "LAB_A", "LAB_B")
FIELDS = (
    "SAMPLE_ID", "SAMPLE_NAME", "RANGE", "CODE", "PAPER", "PRESSURE", "LAYERS", "FINISH", "OVER", "BURNISHER_RANGE",
    "BURNISHER_CODE", "SOURCE", "INSTRUMENT", "MADE_ON", "NOTE", "DOUBT", "AVERAGED_OF",
    "APERTURE_MM", "WHITE", "OBSERVER", *LAB,
)  # fmt: skip
"""The fields that are written, before those of the spectrum."""
SPECTRAL_FIELDS = tuple(f"SPECTRAL_NM{band:.0f}" for band in BANDS)

# What else a field is called, folded: English, German, French, Spanish, and as instruments write it.
_CALLED = called(
    {
        "SAMPLE_ID": "sampleid id nr no number nummer",
        "SAMPLE_NAME": "samplename name label bezeichnung nom nombre",
        "RANGE": "range line serie gamme gama sortiment",
        "CODE": "code colourcode colorcode colournumber colornumber farbnummer numéro numero número",
        "PAPER": "paper substrate papier papel substrat",
        "PRESSURE": "pressure druck pression presión presion",
        "LAYERS": "layers layer lagen schichten couches capas",
        "FINISH": "finish",
        "OVER": "over ground backing grund fond fondo",
        "BURNISHER_RANGE": "burnisherrange",
        "BURNISHER_CODE": "burnishercode",
        "SOURCE": "source quelle fuente",
        "INSTRUMENT": "instrument instrumentation device gerät gerat appareil instrumento",
        "MADE_ON": "madeon date created datum fecha measured",
        "NOTE": "note notes comment notiz remarque nota",
        "DOUBT": "doubt",
        "AVERAGED_OF": "averagedof readings",
        "APERTURE_MM": "aperturemm aperture",
        "LAB_L": "labl l l* ciel ciel* cielabl",
        "LAB_A": "laba a a* ciea ciea* cielaba",
        "LAB_B": "labb b b* cieb cieb* cielabb",
        "LCH_C": "lchc c c* chroma lchc*",
        "LCH_H": "lchh h h° hue hueangle lchh°",
        "HEX": "hex srgb html",
        "WHITE": "white illuminant lichtart illuminantobserver weissart",
        "OBSERVER": "observer beobachter observateur observador",
    }
)
_MOST_FIELDS = 2_000
_FIELDS = frozenset(_CALLED.values())
_WAVELENGTH = re.compile(r"(?:spectralnm|spectral|spec|nm|r%?|refl|reflectance|lambda|λ|wl)?([3-9]\d\d)(?:nm)?%?")
# 2°, 10 deg; D65/10; observer 10: a bare number says nothing of an observer.
_OBSERVER = re.compile(
    r"(?:^|[/,=\s])(2|10)\s*(?:°|deg)|\bD(?:50|65)\s*[/,]\s*(2|10)\b|\bobserver\W+(2|10)\b", re.IGNORECASE
)
_MEANS: Mapping[str, str] = {
    "SAMPLE_ID": "number", "SAMPLE_NAME": "name", "LAB_L": "L*", "LAB_A": "a*", "LAB_B": "b*", "LCH_C": "chroma C*",
    "LCH_H": "hue angle h", "HEX": "sRGB", "WHITE": "light", "OVER": "on paper or black", "DOUBT": "± of L*, a*, b*",
    "AVERAGED_OF": "readings", "APERTURE_MM": "aperture, mm", "MADE_ON": "day",
}  # fmt: skip
# How hard, in other words: German, French, Spanish, and single letters.
PRESSED: Mapping[str, Pressure] = {
    other: pressure
    for pressure, others in {
        Pressure.LIGHT: "l leicht zart léger leger légère ligero suave",
        Pressure.MEDIUM: "m mittel moyen moyenne medio media",
        Pressure.HEAVY: "h fest stark kräftig fort forte fuerte",
    }.items()
    for other in others.split()
}


def mark_fields() -> tuple[Field, ...]:
    """All that a column can be read as, beside the bands of a spectrum."""
    return tuple(Field(name, _meaning(name)) for name in dict.fromkeys(_CALLED.values()))


def light_in(words: str) -> tuple[White | None, bool | None]:
    """The light and the observer that words such as “D50/2°” or “ILLUMINANT, D65” name: whether it is that of 2°; None
    for what they do not say.
    """
    white = next((one for one in White if re.search(rf"\b{one}\b", words, re.IGNORECASE)), None)
    observer = _OBSERVER.search(words)
    return white, None if observer is None else "2" in observer.groups()


@dataclass(frozen=True)
class Heading:
    """Where each field stands, where each wavelength in nm does, what is not read, and what is wrong with it."""

    places: Mapping[str, int]
    bands: Mapping[float, int]
    ignored: tuple[str, ...]
    problems: tuple[MarkProblem, ...]
    read_as: tuple[ReadAs, ...]


def read_heading(heading: Sequence[str], line: int, columns: Columns) -> Heading:
    """What a heading, which stands in a line, names; columns: as the artist says."""
    if len(heading) > _MOST_FIELDS:
        told = f"The heading has {len(heading):,} fields; at most {_MOST_FIELDS:,} are read."
        return Heading({}, {}, (), (MarkProblem(line, "", told),), ())
    places: dict[str, int] = {}
    bands: dict[float, int] = {}
    ignored, problems = [], []
    for place, name in enumerate(heading):
        short = folded(name)
        known = _field(short, columns)
        wave = _WAVELENGTH.fullmatch(short) if short not in columns else None
        if wave is not None:
            if float(wave[1]) in bands:
                problems.append(MarkProblem(line, echoed(name), "This wavelength stands in the heading twice."))
            bands[float(wave[1])] = place
        elif known is None:
            ignored.append(echoed(name.strip()))
        elif known in places:
            problems.append(MarkProblem(line, known, "This field stands in the heading twice."))
        else:
            places[known] = place
    if not bands and not has_colour(places):
        wanted = "LAB_L, LAB_A, LAB_B, or a spectrum as SPECTRAL_NM400 and so on"
        problems.append(MarkProblem(line, "LAB_L", f"No measured values are named. The heading names {wanted}."))
    if "CODE" not in places and not {"SAMPLE_ID", "SAMPLE_NAME"} & set(places):
        problems.append(MarkProblem(line, "CODE", "Nothing says which pencil each mark is of: a field CODE is needed."))
    read_as = tuple(
        ReadAs(echoed(heading[place].strip()), name, _meaning(name), folded(heading[place]) in columns)
        for name, place in places.items()
    )
    unread = tuple(name for name in ignored if name)
    return Heading(places, bands, unread, tuple(problems), read_as + _spectrum_as(heading, bands))


def _field(short: str, columns: Columns) -> str | None:
    """The field of a folded heading, None where it is none, or not to be read."""
    said = columns.get(short)
    return _CALLED.get(short) if said is None else said if said in _FIELDS else None


def _meaning(name: str) -> str:
    return _MEANS.get(name, name.replace("_", " ").lower())


def _spectrum_as(heading: Sequence[str], bands: Mapping[float, int]) -> tuple[ReadAs, ...]:
    if not bands:
        return ()
    first, last = min(bands), max(bands)
    named = f"{echoed(heading[bands[first]].strip())} … {echoed(heading[bands[last]].strip())}"
    return (ReadAs(named, "", f"reflectance, {first:.0f} to {last:.0f} nm"),)


def light_of(heading: Sequence[str]) -> tuple[White | None, bool | None]:
    """The light and the observer that headings say in brackets, as in “L* (D50/2°)”, as `light_in` has them."""
    said = [light_in(words) for name in heading for words in in_brackets(name)]
    white = next((white for white, _ in said if white is not None), None)
    return white, next((two for _, two in said if two is not None), None)


def names_values(heading: Sequence[str], columns: Columns) -> bool:
    """Whether a line is a heading that names measured values."""
    if len(heading) > _MOST_FIELDS:
        return False
    short = [folded(name) for name in heading]
    places = {field: i for i, name in enumerate(short) if (field := _field(name, columns)) is not None}
    return has_colour(places) or sum(_WAVELENGTH.fullmatch(name) is not None for name in short) > 2


def has_colour(places: Mapping[str, int]) -> bool:
    """Whether L*, a*, b*, or what stands for them, are named."""
    return all(name in places for name in LAB) or {"LAB_L", "LCH_C", "LCH_H"} <= set(places) or "HEX" in places
