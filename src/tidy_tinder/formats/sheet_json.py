"""The layout of a printed page as JSON, in mm from the upper left corner, so that anybody can check a page against it.

docs/formats.md describes it. What is read is checked: every part is there and is of its kind.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tidy_tinder.core.sheet.layout import Box, Cell, GreyPatch, Layout, LayoutKind, Marker, PageSize, Zone
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.sheet_page import Label, PrintedPage

FORMAT = "tidy-tinder sheet"
VERSION = 1
DICTIONARY = "ArUco MIP 36h12"


def page_as_json(page: PrintedPage) -> dict[str, Any]:
    """A page as plain data for JSON."""
    layout = page.layout
    width, height = layout.page_mm
    return {
        "format": FORMAT,
        "version": VERSION,
        "kind": layout.kind.value,
        "token": page.token,
        "page": page.page,
        "pages": page.pages,
        "title": page.title,
        "paper_size": layout.size.value,
        "page_mm": [width, height],
        "page_slot": layout.slot,
        "marker_dictionary": DICTIONARY,
        "markers": [{"number": m.number, "box": _box(m.box)} for m in layout.markers],
        "cells": [_cell(cell, page.labels.get(cell.index)) for cell in layout.cells],
        "dot_mm": layout.dot_mm,
        "dots": [[_mm(x), _mm(y)] for x, y in layout.dots],
        "ramp": [{"black": patch.black, "box": _box(patch.box)} for patch in layout.ramp],
        "light_sites": [_box(site) for site in layout.light_sites],
        "windows": [_box(window) for window in layout.windows],
        "code": _box(layout.code),
        "code_text": page.said_in_code,
        "texts": [_box(text) for text in layout.texts],
    }


def page_from_json(data: Any) -> PrintedPage:
    """The page that `page_as_json` wrote. Raises UnreadableError, which says what is missing."""
    try:
        if data["format"] != FORMAT or data["version"] != VERSION:
            raise UnreadableError(f"This is no {FORMAT}, version {VERSION}.")
        first, second, third, fourth = (_boxed(text) for text in data["texts"])
        layout = Layout(
            kind=LayoutKind(data["kind"]),
            size=PageSize(data["paper_size"]),
            slot=int(data["page_slot"]),
            markers=tuple(Marker(int(m["number"]), _boxed(m["box"])) for m in data["markers"]),
            cells=tuple(_celled(cell) for cell in data["cells"]),
            dots=tuple((float(x), float(y)) for x, y in data["dots"]),
            dot_mm=float(data["dot_mm"]),
            ramp=tuple(GreyPatch(float(p["black"]), _boxed(p["box"])) for p in data["ramp"]),
            light_sites=tuple(_boxed(site) for site in data["light_sites"]),
            code=_boxed(data["code"]),
            texts=(first, second, third, fourth),
            windows=tuple(_boxed(window) for window in data["windows"]),
        )
        labels = {
            int(c["index"]): Label(str(c["code"]), str(c["name"]), int(c.get("layers", 1)))
            for c in data["cells"]
            if "code" in c
        }
        return PrintedPage(
            layout, str(data["token"]), int(data["page"]), int(data["pages"]), str(data["title"]), labels
        )
    except (KeyError, TypeError, ValueError) as problem:
        raise UnreadableError(f"The layout of a printed page is not whole: {problem!r}.") from problem


def _mm(value: float) -> float:
    return round(value, 4)


def _box(box: Box) -> list[float]:
    """x, y, width, height."""
    return [_mm(box.x), _mm(box.y), _mm(box.width), _mm(box.height)]


def _boxed(values: Any) -> Box:
    x, y, width, height = (float(v) for v in values)
    return Box(x, y, width, height)


def _cell(cell: Cell, label: Label | None) -> dict[str, Any]:
    said: dict[str, Any] = {
        "index": cell.index,
        "box": _box(cell.box),
        "label": _box(cell.label),
        "zones": [{"pressure": zone.pressure.value, "box": _box(zone.box)} for zone in cell.zones],
        "bar": _box(cell.bar) if cell.bar is not None else None,
        "bare": cell.bare,
    }
    return said if label is None else said | {"code": label.code, "name": label.name, "layers": label.layers}


def _celled(data: Mapping[str, Any]) -> Cell:
    return Cell(
        index=int(data["index"]),
        box=_boxed(data["box"]),
        label=_boxed(data["label"]),
        zones=tuple(Zone(Pressure(zone["pressure"]), _boxed(zone["box"])) for zone in data["zones"]),
        bar=_boxed(data["bar"]) if data["bar"] is not None else None,
        bare=bool(data["bare"]),
    )
