"""Makes changes one after another and writes down, in a file beside, which are answered: for the test of a power cut.

python -m tests.storage.power_writer DATABASE ANSWERED COUNT
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

from tidy_tinder.core.vocabulary import Tooth
from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.services.papers import PaperAs, add_papers


def main(database: Path, answered: Path, count: int) -> None:
    """Add two papers a change; close as a program does that is stopped."""
    collection = open_collection(database)
    file = os.open(answered, os.O_WRONLY | os.O_CREAT | os.O_APPEND)
    for number in range(count):
        both = [PaperAs(f"{number} {side}", "", "", (90.0, 0.0, 0.0), Tooth.MEDIUM, 8, False, True) for side in "ab"]
        add_papers(collection, both)
        os.write(file, f"{number}\n".encode())
    collection.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3]))
