"""When a strip in the light is to be read again."""

from __future__ import annotations

AGAIN_DAYS = (30, 90, 180)
"""After so many days in the light it is time (the design's)."""


def next_reading(last_read: int | None) -> int | None:
    """After how many days in the light a strip is to be read again; None once it was read after the last of them.

    last_read: days in the light when it was read last, None where it was not.
    """
    return next((days for days in AGAIN_DAYS if last_read is None or last_read < days), None)
