"""Derive the 31 × 3 weights that turn reflectance into XYZ (D65, 2°, 400 to 700 nm step 10).

The CIE 1931 2° observer and illuminant D65 at 1 nm, as colour-science carries them (CIE 15; CIE
S 014), are folded onto the grid by the transpose of linear interpolation: the weights give what a 1 nm
summation of the linearly interpolated reflectance would. Beyond 400 and 700 nm the end bands are held.
They are scaled so that Y of a perfect white is 1.

Run: python tools/derive_weights.py (writes src/tidy_tinder/core/reflectance/weights_d65_2deg.json)
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

TARGET = Path(__file__).parents[1] / "src/tidy_tinder/core/reflectance/weights_d65_2deg.json"


def derive() -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    """W (31, 3)."""
    import colour  # noqa: PLC0415 -- takes seconds to import; only this script needs it

    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
    fine = np.arange(360.0, 831.0)
    observer.align(colour.SpectralShape(360, 830, 1))
    illuminant = colour.SDS_ILLUMINANTS["D65"].copy().align(colour.SpectralShape(360, 830, 1))
    spectral = np.asarray(observer.values) * np.asarray(illuminant.values)[:, None]
    bands = np.arange(400.0, 701.0, 10.0)
    unit = np.eye(bands.size)
    interpolate = np.stack([np.interp(fine, bands, row) for row in unit])
    folded = interpolate @ spectral
    result: np.ndarray[tuple[int, ...], np.dtype[np.float64]] = folded / folded[:, 1].sum()
    return result


def main() -> None:
    """Write the table."""
    rows = [[round(float(v), 9) for v in row] for row in derive()]
    lines = ",\n".join("  " + json.dumps(row) for row in rows)
    note = "derived by tools/derive_weights.py; rows 400 to 700 nm step 10; columns X, Y, Z; D65, 2 degree observer"
    TARGET.write_text(f'{{"note": "{note}",\n"weights": [\n{lines}\n]}}\n', encoding="utf-8")


if __name__ == "__main__":
    main()
