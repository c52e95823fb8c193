"""What a command needs is loaded without looking for garbage meanwhile.

Loading some thousand modules makes objects that all stay; the collector went over them again and again, which took
a tenth of the time until the first page (measured with `make benchmark PARTS=start`).
"""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def loading() -> Iterator[None]:
    """Import in this block what stays as long as the program."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()
