"""Derive the 31 × 3 weights that turn reflectance into XYZ (2°, 400 to 700 nm step 10): under D65, and under lamps.

The CIE 1931 2° observer and an illuminant at 1 nm, as colour-science carries them (CIE 15; CIE S 014; the LED
illuminants of CIE 15:2018), are folded onto the grid by the transpose of linear interpolation: the weights give
what a 1 nm summation of the linearly interpolated reflectance would. Beyond 400 and 700 nm the end bands are held.
They are scaled so that Y of a perfect white is 1.

Run: python tools/derive_weights.py (writes src/tidy_tinder/core/reflectance/weights_d65_2deg.json and
weights_lamps_2deg.json)
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

FOLDER = Path(__file__).parents[1] / "src/tidy_tinder/core/reflectance"
LAMPS = ("A", "LED-B3")


def derive(illuminant_name: str = "D65") -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    """W (31, 3)."""
    import colour  # noqa: PLC0415 -- takes seconds to import; only this script needs it

    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
    fine = np.arange(360.0, 831.0)
    observer.align(colour.SpectralShape(360, 830, 1))
    illuminant = colour.SDS_ILLUMINANTS[illuminant_name].copy().align(colour.SpectralShape(360, 830, 1))
    spectral = np.asarray(observer.values) * np.asarray(illuminant.values)[:, None]
    bands = np.arange(400.0, 701.0, 10.0)
    unit = np.eye(bands.size)
    interpolate = np.stack([np.interp(fine, bands, row) for row in unit])
    folded = interpolate @ spectral
    result: np.ndarray[tuple[int, ...], np.dtype[np.float64]] = folded / folded[:, 1].sum()
    return result


def rows_of(illuminant_name: str) -> str:
    """The rows of one table as JSON."""
    rows = [[round(float(v), 9) for v in row] for row in derive(illuminant_name)]
    return ",\n".join("  " + json.dumps(row) for row in rows)


def main() -> None:
    """Write the tables."""
    note = "derived by tools/derive_weights.py; rows 400 to 700 nm step 10; columns X, Y, Z; D65, 2 degree observer"
    text = f'{{"note": "{note}",\n"weights": [\n{rows_of("D65")}\n]}}\n'
    (FOLDER / "weights_d65_2deg.json").write_text(text, encoding="utf-8")
    lamps = ",\n".join(f'"{name}": [\n{rows_of(name)}\n]' for name in LAMPS)
    note = note.replace("; D65,", "; by illuminant;")
    (FOLDER / "weights_lamps_2deg.json").write_text(f'{{"note": "{note}",\n{lamps}}}\n', encoding="utf-8")


if __name__ == "__main__":
    main()
