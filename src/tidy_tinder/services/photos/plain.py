"""A reading as plain data for JSON, as it passes between two processes and is kept."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from tidy_tinder.core.sheet.judging import CellReading, ZoneReading
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.quality import Finding, Quality
from tidy_tinder.core.sheet.reading import PageReading
from tidy_tinder.core.vocabulary import Pressure


def plain_knowledge(known: PageKnowledge) -> dict[str, Any]:
    """What is known of a page."""
    return {
        "paper": list(known.paper),
        "ramp": {str(black): list(lab) for black, lab in known.ramp.items()},
        "cells": [[index, pressure.value, list(lab)] for (index, pressure), lab in known.cells.items()],
    }


def knowledge_from(data: Mapping[str, Any]) -> PageKnowledge:
    """What `plain_knowledge` wrote."""
    return PageKnowledge(
        _triple(data["paper"]),
        {float(black): _triple(lab) for black, lab in data["ramp"].items()},
        {(int(index), Pressure(pressure)): _triple(lab) for index, pressure, lab in data["cells"]},
    )


def plain_reading(reading: PageReading) -> dict[str, Any]:
    """What was read, but for the picture."""
    flat = reading.flat
    return {
        "guide": reading.guide.value,
        "patches": reading.correction.patches,
        "code": reading.code,
        "space": flat.space.name,
        "quality": plain_quality(reading.quality),
        "px_per_mm": round(flat.found.px_per_mm, 2),
        "markers": len(flat.found.seen),
        "curl_mm": round(flat.curl_mm, 2),
        "art_paper": _art_paper(reading),
        "cells": [_cell(cell) for cell in reading.cells],
    }


def plain_quality(quality: Quality) -> dict[str, Any]:
    """What was looked at before anything was measured."""
    return {
        "level": round(quality.level, 1),
        "clipped": round(quality.clipped, 4),
        "edge_mm": round(quality.edge_mm, 3),
        "light_ratio": round(quality.light_ratio, 3),
        "findings": [_finding(finding) for finding in quality.findings],
    }


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "gate": finding.gate.value,
        "value": round(finding.value, 4),
        "refused": finding.refused,
        "advice": finding.advice,
    }


def _art_paper(reading: PageReading) -> dict[str, Any] | None:
    if reading.art_paper is None:
        return None
    lab, spread = reading.art_paper
    return {"lab": lab.round(2).tolist(), "spread": round(spread, 2)}


def _cell(cell: CellReading) -> dict[str, Any]:
    return {
        "index": cell.index,
        "state": cell.state.value,
        "flags": [flag.value for flag in cell.flags],
        "zones": {pressure.value: _zone(zone) for pressure, zone in cell.zones.items()},
        "off": {pressure.value: round(off, 2) for pressure, off in cell.off.items()},
        "bar": None if cell.bar is None else _zone(cell.bar) | {"bare": cell.bar.bare},
    }


def _zone(zone: ZoneReading) -> dict[str, Any]:
    return {
        "lab": zone.lab.round(2).tolist(),
        "sd": round(float(np.sqrt(np.trace(zone.covariance) / 3)), 3),
        "spread": round(zone.spread, 2),
    }


def _triple(values: Any) -> tuple[float, float, float]:
    L, a, b = (float(v) for v in values)
    return L, a, b
