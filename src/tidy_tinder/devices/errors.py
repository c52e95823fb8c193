"""What can be wrong with a colour reader; each says what to do."""

from __future__ import annotations

from tidy_tinder.core.errors import TidyTinderError


class ReaderError(TidyTinderError):
    """Root of the errors of colour readers. again: whether reading once more can help as it is."""

    title = "The colour reader did not read"
    code = "reader"
    again = False


class NotConnectedError(ReaderError):
    """No reader is connected, or it cannot be reached."""

    title = "No colour reader is connected"
    code = "not-connected"


class NotCalibratedError(ReaderError):
    """It has not seen its white tile since it was switched on."""

    title = "The reader is not calibrated"
    code = "not-calibrated"


class CalibrationOldError(ReaderError):
    """Its last calibration is too long ago."""

    title = "The calibration is too old"
    code = "calibration-old"


class NotOnTileError(ReaderError):
    """It was to be calibrated but does not stand on its white tile."""

    title = "The reader is not on its white tile"
    code = "not-on-tile"


class LampLowError(ReaderError):
    """Its lamp has become too weak."""

    title = "The reader's lamp is too weak"
    code = "lamp-low"


class BatteryLowError(ReaderError):
    """Its battery is nearly empty."""

    title = "The reader's battery is low"
    code = "battery-low"


class LiftedError(ReaderError):
    """It was lifted before the reading was done."""

    title = "The reader was lifted too early"
    code = "lifted"
    again = True


class SilentError(ReaderError):
    """It did not answer in time."""

    title = "The reader does not answer"
    code = "silent"
    again = True


class GarbageError(ReaderError):
    """What it sent makes no sense."""

    title = "The reader sent something that makes no sense"
    code = "garbage"
    again = True


class ConnectionLostError(ReaderError):
    """The connection ended half-way."""

    title = "The connection to the reader was lost"
    code = "lost"
    again = True


class NotSimulatedError(ReaderError):
    """Something only a simulated reader can do was asked of another one."""

    title = "This reader is not simulated"
    code = "not-simulated"


class NotInItsWorldError(ReaderError):
    """The simulated reader was to find something under it that its hidden world does not hold."""

    title = "The simulated reader does not know this pencil or paper"
    code = "not-in-its-world"


# What a reader may answer instead of a reading (docs/colour-reader.md), and what to do about it.
REFUSALS: dict[str, tuple[type[ReaderError], str]] = {
    "not-calibrated": (NotCalibratedError, "Put it on its white tile and press c to calibrate; nothing was stored."),
    "calibration-old": (
        CalibrationOldError,
        "It drifts with time. Put it on its white tile and press c to calibrate; nothing was stored.",
    ),
    "not-on-tile": (NotOnTileError, "Put it on its white tile and calibrate again."),
    "lamp-low": (LampLowError, "Let it rest, or have the lamp changed; then read again. Nothing was stored."),
    "battery-low": (BatteryLowError, "Charge it or plug it in; then read again. Nothing was stored."),
    "lifted": (LiftedError, "Hold it down until it signals, then read again. Nothing was stored."),
}
