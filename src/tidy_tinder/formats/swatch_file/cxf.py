"""Marks as CxF3 (ISO 17972-1): each mark an object with its spectrum, its Lab and its fields as tags.

Files are written and read by `colour-cxf`, which has the classes of the schema; it is loaded where such a file is.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING, Any

from tidy_tinder.core.quantities import BANDS
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.swatch_file.headings import FIELDS
from tidy_tinder.formats.swatch_file.record import MarkRecord, MarksFile, Said, refused
from tidy_tinder.formats.swatch_file.table import Table, cells_of, read_table

if TYPE_CHECKING:
    from colour_cxf import cxf3

KIND = "CxF3"
_SPEC = "D65_2"
_TAGS = "Tidy Tinder"
# What stands in elements of their own.
_NO_TAGS = frozenset({"SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B", "WHITE", "OBSERVER"})
_STEP = 10
MOST_OBJECTS = 5_000
"""So many marks such a file has at most: writing or reading them takes some five seconds (measured)."""


def is_cxf(text: str) -> bool:
    """Whether a text is such a file."""
    return text.lstrip().startswith("<") and re.search(r"<(\w+:)?CxF\b", text[:4000]) is not None


def write_cxf(records: Sequence[MarkRecord], made_on: date) -> bytes:
    """The marks as a file. Raises UnreadableError where there are too many, or `colour-cxf` is not there."""
    if len(records) > MOST_OBJECTS:
        raise UnreadableError(
            f"A CxF3 file has at most {MOST_OBJECTS:,} marks, and these are {len(records):,}. Write one paper at a "
            "time, or CGATS.17."
        )
    cxf3, _, serializer = _library()
    objects = [_object(cxf3, record, number) for number, record in enumerate(records, 1)]
    specification = cxf3.ColorSpecification(
        id=_SPEC,
        tristimulus_spec=cxf3.TristimulusSpec(
            illuminant_or_custom_illuminant=cxf3.Illuminant(cxf3.EilluminantType.D65),
            observer=cxf3.Observer(cxf3.EobserverType.VALUE_2_DEGREE),
        ),
        measurement_spec=cxf3.MeasurementSpec(
            measurement_type=cxf3.MeasurementType(cxf3.EspectrumType.SPECTRUM_REFLECTANCE),
            wavelength_range=cxf3.WavelengthRange(start_wl=int(BANDS[0]), increment=_STEP),
        ),
    )
    file = cxf3.CxF(
        file_information=cxf3.FileInformation(
            creator="Tidy Tinder", creation_date=cxf3.CreationDate(_moment(made_on)), description="Measured marks"
        ),
        resources=cxf3.Resources(
            object_collection=cxf3.ObjectCollection(object_value=objects),
            color_specification_collection=cxf3.ColorSpecificationCollection([specification]),
        ),
    )
    written: str = serializer().render(file, ns_map={"cc": "http://colorexchangeformat.com/CxF3-core"})
    return written.encode()


def read_cxf(text: str, said: Said) -> MarksFile:
    """The marks of a file; every problem is in the result."""
    if "<!" in re.sub(r"<!--.*?-->", "", text, flags=re.DOTALL):
        # No such file declares entities: a few lines of them can stand for gigabytes.
        return refused(KIND, 1, "It declares a document type or entities, which no such file needs. It was not read.")
    if (marks := text.count(":Object ") + text.count("<Object ")) > MOST_OBJECTS:
        return refused(KIND, 1, f"It holds {marks:,} marks; a file has at most {MOST_OBJECTS:,}. Divide it.")
    cxf3, parser, _ = _library()
    try:
        file = parser().from_bytes(text.encode(), cxf3.CxF)
    except Exception as error:
        return refused(KIND, 1, f"It is not a whole CxF3 file ({' '.join(str(error).split())[:120]}).")
    resources = file.resources
    objects = resources.object_collection.object_value if resources and resources.object_collection else []
    specifications = _specifications(resources)
    rows = [_row(cxf3, one, specifications) for one in objects]
    waves = sorted({wave for _, spectrum in rows for wave in spectrum})
    names = [*FIELDS, *(f"SPECTRAL_NM{wave}" for wave in waves)]
    present = [
        any(cells.get(name) or (place >= len(FIELDS) and spectrum) for cells, spectrum in rows)
        for place, name in enumerate(names)
    ]
    heading = [name for name, there in zip(names, present, strict=True) if there]
    lines = [
        (number, [cells.get(name, "") or spectrum.get(_wave(name), "") for name in heading])
        for number, (cells, spectrum) in enumerate(rows, 1)
    ]
    if not lines:
        return refused(KIND, 1, "It holds no objects with measured values.")
    return read_table(Table(KIND, heading, lines), said)


def _library() -> tuple[Any, Any, Any]:
    """The classes of the schema, what reads and what writes them. Raises UnreadableError."""
    try:
        from colour_cxf import cxf3  # noqa: PLC0415 -- some sixty modules, loaded where such a file is
        from xsdata.formats.dataclass.parsers import XmlParser  # noqa: PLC0415 -- the same
        from xsdata.formats.dataclass.parsers.config import ParserConfig  # noqa: PLC0415 -- the same
        from xsdata.formats.dataclass.serializers import XmlSerializer  # noqa: PLC0415 -- the same
    except ImportError:
        raise UnreadableError(
            "CxF3 files need the library colour-cxf, which is not made for this version of Python. Use CGATS.17."
        ) from None
    # What others add beside the schema is passed over.
    tolerant = ParserConfig(fail_on_unknown_properties=False, fail_on_unknown_attributes=False)
    return cxf3, lambda: XmlParser(config=tolerant), XmlSerializer


def _moment(day: date) -> Any:
    from xsdata.models.datatype import XmlDateTime  # noqa: PLC0415 -- as above

    return XmlDateTime.from_datetime(datetime(day.year, day.month, day.day, tzinfo=UTC))


def _object(cxf3: Any, record: MarkRecord, number: int) -> cxf3.Object:
    cells = dict(zip(FIELDS, cells_of(record, number), strict=False))
    L, a, b = (float(v) for v in record.lab)
    values: list[Any] = [cxf3.ColorCielab(l=L, a=a, b=b, color_specification=_SPEC)]
    if record.spectrum is not None:
        spectrum = [float(v) for v in record.spectrum]
        values.insert(0, cxf3.ReflectanceSpectrum(spectrum, start_wl=int(BANDS[0]), color_specification=_SPEC))
    tags = [cxf3.Tag(name, cell) for name, cell in cells.items() if cell and name not in _NO_TAGS]
    return cxf3.Object(
        creation_date=cxf3.CreationDate(_moment(record.made_on)) if record.made_on else None,
        color_values=cxf3.ColorValues(values), tag_collection=[cxf3.TagCollection(tags, _TAGS)],
        object_type="Standard", name=cells["SAMPLE_NAME"], id=f"M{number}",
    )  # fmt: skip


def _specifications(resources: Any) -> dict[str, Any]:
    collection = resources.color_specification_collection if resources else None
    return {one.id: one for one in collection.color_specification} if collection else {}


def _row(cxf3: Any, one: Any, specifications: dict[str, Any]) -> tuple[dict[str, str], dict[int, str]]:
    """The cells of an object by field, and its spectrum by wavelength, both as text."""
    cells = {"SAMPLE_ID": one.id or "", "SAMPLE_NAME": one.name or ""}
    for tags in one.tag_collection:
        cells |= {tag.name: tag.value or "" for tag in tags.tag if tag.name in FIELDS}
    spectrum: dict[int, str] = {}
    for value in one.color_values.choice if one.color_values else []:
        specification = specifications.get(getattr(value, "color_specification", None) or "")
        if isinstance(value, cxf3.ReflectanceSpectrum) and not spectrum:
            start, step = _range(value, specification)
            spectrum = {start + step * i: repr(v) for i, v in enumerate(value.value)}
        elif isinstance(value, cxf3.ColorCielab) and "LAB_L" not in cells:
            cells |= {"LAB_L": repr(value.l), "LAB_A": repr(value.a), "LAB_B": repr(value.b), **_light(specification)}
    return cells, spectrum


def _range(value: Any, specification: Any) -> tuple[int, int]:
    said = specification.measurement_spec.wavelength_range if specification and specification.measurement_spec else None
    start = value.start_wl if value.start_wl is not None else getattr(said, "start_wl", None)
    return int(start if start is not None else BANDS[0]), int(getattr(said, "increment", None) or _STEP)


def _light(specification: Any) -> dict[str, str]:
    """The light and the observer that a Lab is for, as far as they are said."""
    spec = specification.tristimulus_spec if specification else None
    light = getattr(getattr(spec, "illuminant_or_custom_illuminant", None), "value", None)
    observer = getattr(getattr(spec, "observer", None), "value", None)
    said = {}
    if light is not None:
        said["WHITE"] = light.value
    if observer is not None:
        said["OBSERVER"] = observer.value.replace("_", " ").lower()
    return said


def _wave(name: str) -> int:
    return int(name.removeprefix("SPECTRAL_NM")) if name.startswith("SPECTRAL_NM") else -1
