"""What is said of a photo and its cells."""

from __future__ import annotations

from tidy_tinder.core.sheet.judging import Flag
from tidy_tinder.core.sheet.knowledge import Guide

FLAG_WORDS = {
    Flag.REFLECTION: "A lamp may be mirrored here.",
    Flag.BLINDED: "A lamp is mirrored here: photograph this page anew, with the lamp at the side.",
    Flag.TOO_BRIGHT: "A part is as bright as the camera can say.",
    Flag.LIGHT: "The light changes fast here: the edge of a shadow?",
    Flag.ORDER: "It does not grow stronger from left to right. Coloured from the other side?",
    Flag.BARE_ZONE: "One of the three fields looks bare.",
    Flag.UNEVEN: "The two ends of a field differ much. Not filled?",
    Flag.BEYOND: "So dark or so vivid that the camera's word ends here.",
    Flag.WHITE_OR_EMPTY: "White pencil, or empty?",
    Flag.OTHERWISE: "A colour reader says otherwise.",
}

GUIDE_WORDS = {
    Guide.PAPER: "by its paper alone",
    Guide.RAMP: "by the grey ramp that you measured",
    Guide.CELLS: "by the pencils that you measured",
    Guide.CELLS_AND_RAMP: "by the pencils and the ramp that you measured",
}

GUIDE_ADVICE = {
    Guide.PAPER: "Heavy colours are told less surely. Measure the ramp, or a dozen of these pencils, with a colour "
    "reader, and read the photo again.",
    Guide.RAMP: "A dozen of these pencils measured with a colour reader would tell the colours better still.",
    Guide.CELLS: "",
    Guide.CELLS_AND_RAMP: "",
}

STEP_WORDS = {
    "decoding": "Opening the picture",
    "finding": "Looking for the page",
    "flattening": "Making it flat",
    "measuring": "Measuring the light",
    "correcting": "Working out the colours",
}
