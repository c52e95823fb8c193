"""Squinting: a picture seen through half-closed eyes, blurred in linear light as an eye blurs it."""

from __future__ import annotations

import numpy as np

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.working import Light

# Standard deviation of the blur as a share of the picture's width: from a slight to a hard squint.
LEAST_SHARE, MOST_SHARE = 0.003, 0.04
# A blur of this many pixels needs no larger picture; what is smaller is blurred on fewer pixels.
_SIGMA_PIXELS = 14.0


def squint(light: Light, share: float) -> Light:
    """Light (h, w, 3) blurred by a Gauss whose standard deviation is this share of the width.

    A wide blur is laid on a smaller picture: averaging over n pixels adds a variance of (n² - 1)/12, and drawing it
    large again linearly (n² - 1)/6, which the Gauss is given less. Raises OutOfRangeError for another share.
    """
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    if not LEAST_SHARE <= share <= MOST_SHARE:
        raise OutOfRangeError(f"A squint blurs by {LEAST_SHARE:.1%} to {MOST_SHARE:.0%} of the width, not {share:.1%}.")
    height, width = light.shape[:2]
    sigma = share * width
    step = max(1, int(sigma / _SIGMA_PIXELS))
    if step == 1:
        return np.asarray(cv2.GaussianBlur(light, (0, 0), sigma, borderType=cv2.BORDER_REPLICATE), dtype=np.float32)
    left = sigma**2 - (step**2 - 1) / 12.0 - (step**2 - 1) / 6.0
    small = cv2.resize(light, (-(-width // step), -(-height // step)), interpolation=cv2.INTER_AREA)
    across, down = width / small.shape[1], height / small.shape[0]
    blurred = cv2.GaussianBlur(
        small, (0, 0), left**0.5 / across, sigmaY=left**0.5 / down, borderType=cv2.BORDER_REPLICATE
    )
    return np.asarray(cv2.resize(blurred, (width, height), interpolation=cv2.INTER_LINEAR), dtype=np.float32)
