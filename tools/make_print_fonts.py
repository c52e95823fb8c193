"""Make the fonts that printed pages use from the ones that the interface ships.

PDF wants plain TrueType. The variable fonts of the front end (Atkinson Hyperlegible Next and Mono, SIL Open Font
License)
come in two parts, Latin and Latin Extended; each is fixed at one weight, and both parts are put together.

Run: pip install fonttools brotli; python -m tools.make_print_fonts
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

ROOT = Path(__file__).parents[1]
FONTS = ROOT / "frontend/node_modules/@fontsource-variable"
OUT = ROOT / "src/tidy_tinder/formats/fonts"
WANTED = {"Text": ("next", 400), "TextBold": ("next", 700), "Code": ("mono", 600)}


def fixed(face: str, part: str, weight: int) -> TTFont:
    """One part of a face at one weight."""
    folder = FONTS / f"atkinson-hyperlegible-{face}" / "files"
    font = TTFont(folder / f"atkinson-hyperlegible-{face}-{part}-wght-normal.woff2")
    still = instantiateVariableFont(font, {"wght": weight})
    still.flavor = None
    for table in ("GSUB", "GPOS", "GDEF"):  # reportlab shapes nothing, and the two parts' rules do not merge
        if table in still:
            del still[table]
    return still


def main() -> None:
    """Write each font."""
    OUT.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for name, (face, weight) in WANTED.items():
            parts = []
            for part in ("latin", "latin-ext"):
                file = Path(folder) / f"{name}-{part}.ttf"
                fixed(face, part, weight).save(file)
                parts.append(str(file))
            merged = Merger().merge(parts)
            for kind in (
                1,
                4,
                6,
            ):  # family, full and PostScript name: each font its own, or viewers take one for another
                merged["name"].setName(f"Tidy{name}", kind, 3, 1, 0x409)
                merged["name"].setName(f"Tidy{name}", kind, 1, 0, 0)
            merged.save(OUT / f"{name}.ttf")
            print(name, len(merged.getGlyphOrder()), "glyphs")


if __name__ == "__main__":
    main()
