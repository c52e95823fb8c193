"""What is known of a phone's picture before it is measured: how cameras render colours and tones, as a mean and a
spread.

Many cameras are made at random: sensitivities as bells about the peaks that sensors have, under the lamps of a home
(CIE D series, A and the LED series, as colour-science carries them), each with the 3 × 3 matrix that its maker would
fit to the published chart of ISO 17321-1, fitted to the lamp at hand or to daylight or between; pictures more
vivid than the world, some a little, some much; tone curves from none to a strong S. Each is described by the terms of
core/sheet/correction; mean and covariance of the terms are kept. The bells' spreads are ours, wide on purpose. So is
what a phone does to the brightness alone, all channels by one share: it evens out dark and light parts (above 0), or
lays its curve there instead of on each channel (below 0).

Run: python -m tools.derive_camera_prior
"""

from __future__ import annotations

import json
from pathlib import Path

import colour
import numpy as np
from colour.quality.cfi2017 import load_TCS_CIE2017
from numpy.typing import NDArray

from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import (
    encode_srgb,
    lab_to_linear_rgb,
    linear_rgb_to_lab,
    reflectance_to_lab,
)
from tidy_tinder.core.sheet.correction import COLOUR_TERMS, LUMINANCE, colour_parts, tone_parts

TARGET = Path(__file__).parents[1] / "src/tidy_tinder/core/sheet/camera_prior.json"
CAMERAS = 1500
LAMPS = (
    "D50", "D55", "D65", "D75", "A", "LED-B1", "LED-B2", "LED-B3", "LED-B4", "LED-B5", "LED-BH1", "LED-V1", "LED-V2",
    "FL2", "FL11",
)  # fmt: skip
PEAKS, PEAKS_SD = (600.0, 538.0, 460.0), 9.0
WIDTHS, WIDTHS_SD = (33.0, 38.0, 28.0), 5.0
LEAK = 0.06  # of a channel, what it takes of the whole visible range, at most
VIVID = (0.08, 0.10)  # mean and spread of the saturation that is added
EVENED = (0.02, 0.08)  # mean and spread of the power of the brightness that undoes what was done to it alone
STRONGEST_S = 0.6
GAMMA_SD = 0.08
LIFT = (-0.008, 0.02)  # black below and above 0: crushed shadows, light scattered in the lens

Array = NDArray[np.float64]


def spectrum_of(name: str) -> Array:
    """A lamp's light at the bands, (31,)."""
    shape = colour.SpectralShape(400, 700, 10)
    return np.asarray(colour.SDS_ILLUMINANTS[name].copy().align(shape).values, dtype=np.float64)


def chart() -> Array:
    """The reflectances of ISO 17321-1, (24, 31)."""
    shape = colour.SpectralShape(400, 700, 10)
    patches = colour.SDS_COLOURCHECKERS["ISO 17321-1"].values()
    return np.array([patch.copy().align(shape).values for patch in patches])


def sensor(rng: np.random.Generator) -> Array:
    """Sensitivities of a camera, (31, 3)."""
    peaks, widths = rng.normal(PEAKS, PEAKS_SD), np.maximum(rng.normal(WIDTHS, WIDTHS_SD), 18.0)
    bells = np.exp(-0.5 * ((BANDS[:, None] - peaks) / widths) ** 2)
    return np.asarray(bells + rng.uniform(0, LEAK, 3), dtype=np.float64)


def matrix_under(lamp: Array, sensitivities: Array, patches: Array) -> Array:
    """The matrix that brings white-balanced responses nearest to linear sRGB, grey staying grey."""
    seen = patches @ (lamp[:, None] * sensitivities)
    seen = seen / (lamp @ sensitivities)
    wanted = lab_to_linear_rgb(reflectance_to_lab(patches))
    # Grey stays grey: what a row adds of one channel it takes of its own.
    free = np.stack([seen - seen[:, [i]] for i in range(3)])
    rows = np.zeros((3, 3))
    for i in range(3):
        terms = np.linalg.lstsq(free[i], wanted[:, i] - seen[:, i], rcond=None)[0]
        rows[i] = terms
        rows[i, i] = 1 - terms.sum() + terms[i]
    return rows


def pigments() -> tuple[Array, Array]:
    """Reflectances and Lab of the 99 real samples of CIE 224:2017 that a screen can show."""
    samples = load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).copy().align(colour.SpectralShape(400, 700, 10))
    spectra = np.asarray(samples.values.T, dtype=np.float64)
    lab = reflectance_to_lab(spectra)
    shown = ((linear := lab_to_linear_rgb(lab)) > 0.006).all(-1) & (linear < 1).all(-1)
    return spectra[shown], lab[shown]


def colour_terms(rng: np.random.Generator, patches: Array, spectra: Array, lab: Array) -> tuple[Array, Array]:
    """The terms that bring one camera's picture to the truth, and what they leave, in Lab."""
    lamp, eye = spectrum_of(str(rng.choice(LAMPS))), sensor(rng)
    own, daylight = matrix_under(lamp, eye, patches), matrix_under(spectrum_of("D65"), eye, patches)
    share = rng.uniform()
    vivid = rng.normal(*VIVID)
    matrix = ((1 + vivid) * np.eye(3) - vivid * LUMINANCE) @ (share * own + (1 - share) * daylight)
    seen = np.maximum(spectra @ (lamp[:, None] * eye) / (lamp @ eye) @ matrix.T, 1e-3)
    true = lab_to_linear_rgb(lab)
    parts = colour_parts(seen)  # (n, 3, 5)
    step = 1e-4
    slopes = np.stack(
        [(linear_rgb_to_lab(true + step * axis) - linear_rgb_to_lab(true - step * axis)) / (2 * step)
         for axis in np.eye(3)], -1,
    )  # fmt: skip
    rows = np.einsum("nlc,nck->nlck", slopes, parts).reshape(len(seen) * 3, COLOUR_TERMS)
    wanted = np.einsum("nlc,nc->nl", slopes, true - seen).reshape(-1)
    held = 0.3 * np.eye(COLOUR_TERMS)
    terms = np.linalg.solve(rows.T @ rows + held * len(rows) * 1e-3, rows.T @ wanted)
    told = seen + (parts.reshape(len(seen), 3, -1) * terms.reshape(3, -1)).sum(-1)
    return terms, linear_rgb_to_lab(np.maximum(told, 0)) - lab


def tone_terms(rng: np.random.Generator) -> Array:
    """The terms that undo one tone curve."""
    paper = rng.uniform(0.55, 0.95) ** 2.4
    truth = np.geomspace(0.02, 1.0, 60)
    encoded = encode_srgb(paper * truth)
    strength, gamma, lift = rng.uniform(0, STRONGEST_S), np.exp(rng.normal(0, GAMMA_SD)), rng.uniform(*LIFT)

    def curve(e: Array) -> Array:
        bent = np.clip(e, 0, 1) ** gamma
        return np.asarray(np.clip((1 - strength) * bent + strength * bent**2 * (3 - 2 * bent) + lift, 0.008, 1))

    log, parts = tone_parts(curve(encoded)[:, None])
    log_paper, parts_paper = tone_parts(curve(encoded[-1:])[:, None])
    rows = (parts - parts_paper)[:, 0]
    wanted = np.log(truth) - (log - log_paper)[:, 0]
    weight = np.cbrt(truth)  # a step in lightness, as a share of the light
    held = 1e-3 * np.eye(rows.shape[1])
    return np.asarray(np.linalg.solve((rows * weight[:, None]).T @ rows + held, (rows * weight[:, None]).T @ wanted))


def main() -> None:
    """Make the cameras, write what they have in common."""
    rng = np.random.default_rng(20261126)
    patches, (spectra, lab) = chart(), pigments()
    colours, left = zip(*(colour_terms(rng, patches, spectra, lab) for _ in range(CAMERAS)), strict=True)
    tones = np.array([tone_terms(rng) for _ in range(CAMERAS)])
    found = np.array(colours)
    kept = {
        "note": "derived by tools/derive_camera_prior.py",
        "colour_mean": found.mean(0).round(5).tolist(),
        "colour_covariance": np.cov(found.T).round(7).tolist(),
        "evened_mean": EVENED[0],
        "evened_sd": EVENED[1],
        "tone_mean": tones.mean(0).round(5).tolist(),
        "tone_covariance": np.cov(tones.T).round(6).tolist(),
        "left_sd": np.sqrt((np.concatenate(left) ** 2).mean(0)).round(3).tolist(),
    }
    TARGET.write_text(json.dumps(kept, indent=1) + "\n", encoding="utf-8")
    print(kept["tone_mean"], np.sqrt(np.diag(np.cov(tones.T))), kept["left_sd"])
    print(found.mean(0).reshape(3, -1).round(3), np.sqrt(np.diag(np.cov(found.T))).reshape(3, -1).round(3))


if __name__ == "__main__":
    main()
