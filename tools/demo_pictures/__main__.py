"""Draw the demo's pictures anew, and pick in them. Run: python -m tools.demo_pictures [--picks].

With --picks the pictures stay as they are. The results are data, the same on every machine.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from tools.demo_pictures.picked import CAP, main_ones, picked_at
from tools.demo_pictures.plates import PLATES
from tools.demo_pictures.relief import developed

_FOLDER = Path(__file__).parents[2] / "src/tidy_tinder/demo/data/pictures"
_QUALITY = 86
# How many main colours were asked for; none in the last one, whose colours are still to be found.
MAIN = {"gills-from-below": 8, "brackets-on-bark": 10, "moss-and-slate": 0}


def main() -> None:
    """Write each plate as a JPEG."""
    _FOLDER.mkdir(exist_ok=True)
    picks: dict[str, list[dict[str, Any]]] = {}
    for name, (plate, seed) in PLATES.items():
        rng, file = np.random.default_rng(seed), _FOLDER / f"{name}.jpg"
        if "--picks" not in sys.argv:
            Image.fromarray(developed(plate(rng), rng)).save(file, quality=_QUALITY, optimize=True)
        pixels = np.asarray(Image.open(file).convert("RGB"))
        picks[name] = picked_at(pixels, CAP) if name == "scarlet-cap" else main_ones(pixels, MAIN[name])
    (_FOLDER / "picks.json").write_text(json.dumps(picks, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
