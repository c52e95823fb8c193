"""How zones of marks are drawn, kept by what they are of: after a swatch only what it changed is drawn again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TypeAlias

from tidy_tinder.core.vocabulary import Pressure

_Lab: TypeAlias = tuple[float, float, float]

ZoneKey: TypeAlias = tuple[_Lab, _Lab, Pressure]
"""What a zone is of: the Lab of its ground, its mean Lab, its pressure."""

DrawnZone: TypeAlias = tuple[int, str, int, str, bool]
"""Grain mask in percent and film, in colour and in the grey view; whether the screen can show it."""

# Zones kept: 2,000 colours on five papers are 30,000, of some 400 bytes each.
_MOST_KEPT = 150_000


class DrawnZones:
    """The zones that were drawn for one collection; when there are too many, all are forgotten and drawn anew."""

    def __init__(self) -> None:
        self._kept: dict[ZoneKey, DrawnZone] = {}

    def known(self, zones: Iterable[ZoneKey]) -> dict[ZoneKey, DrawnZone]:
        """Those of the zones that were drawn before."""
        kept = self._kept  # another thread may begin anew meanwhile
        return {zone: kept[zone] for zone in zones if zone in kept}

    def keep(self, drawn: Mapping[ZoneKey, DrawnZone]) -> None:
        """Keep what was drawn just now."""
        if len(self._kept) + len(drawn) > _MOST_KEPT:
            self._kept = {}
        self._kept.update(drawn)
