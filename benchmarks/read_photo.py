"""One photo read as a process of its own: prints seconds and megabytes, imports included. Called by
`benchmarks.sheets`.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

if __name__ == "__main__":
    begun = time.perf_counter()
    from tidy_tinder.core.sheet.knowledge import PageKnowledge
    from tidy_tinder.core.sheet.layout import PageSize
    from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
    from tidy_tinder.core.sheet.reading import read_page
    from tidy_tinder.formats.picture.decoding import decode_picture

    picture = decode_picture(Path(sys.argv[1]).read_bytes())
    known = PageKnowledge((94.0, 0.0, 2.0))
    read_page(picture.pixels, [(sheet_layout(PageSize.A4, CellCount.NINETY), known)], picture.space)
    # Not ru_maxrss: that begins with what the program that began this one had.
    peak = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
    print(time.perf_counter() - begun, int(peak.split()[1]) / 1024)
