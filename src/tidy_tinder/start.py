"""The way into the command: what it needs is loaded without looking for garbage meanwhile.

Loading some thousand modules makes objects that all stay; the collector went over them again and again, which took
a tenth of the time until the first page (measured with `make benchmark PARTS=start`).
"""

from __future__ import annotations

import gc


def main() -> None:
    """Load the command line and run it."""
    gc.disable()
    from tidy_tinder.cli import main as run  # noqa: PLC0415 -- loaded only once the collector is still

    gc.freeze()
    gc.enable()
    run()
