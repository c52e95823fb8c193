"""The real command with a clock that jumps: by so many seconds as a file says, looked at anew each time.

JUMP=FILE python -m tests.soak.jumping serve …
"""

from __future__ import annotations

import os
from datetime import datetime, timedelta
from pathlib import Path

from tidy_tinder.services import journal

_FILE = Path(os.environ["JUMP"])
_real_now = journal.now


def now() -> datetime:
    """The time of the machine, and the jump."""
    return _real_now() + timedelta(seconds=float(_FILE.read_text(encoding="ascii")))


# Before anything else is loaded that takes the time from there.
journal.now = now

if __name__ == "__main__":
    from tidy_tinder.cli import main

    main()
