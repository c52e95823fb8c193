"""A colour reader as the application sees it, and the client of its protocol (docs/colour-reader.md).

Newline-delimited JSON over loopback TCP: one request a line, one answer a line, joined by their id. What
comes from outside is never trusted: a line too long, no JSON, another id, bands missing, a reflectance or a
Lab that cannot be, all become GarbageError, and the connection is begun anew.
"""

from __future__ import annotations

import contextlib
import json
import socket
import time
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import CoreError
from tidy_tinder.core.quantities import BANDS, Lab, Reflectance, check_lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.devices.errors import (
    REFUSALS,
    ConnectionLostError,
    GarbageError,
    NotConnectedError,
    NotInItsWorldError,
    NotSimulatedError,
    ReaderError,
    SilentError,
)

PROTOCOL_VERSION = 1
# A reading takes about a second on a usual instrument; one that is silent for longer than this has hung.
ANSWER_WITHIN_S = 4.0
_LONGEST_LINE = 65_536
# The Lab that a reader sends and the one of its own spectrum differ by rounding, not by this.
_OWN_LAB_WITHIN = 1.0
# Reflectance factors can exceed 1 for fluorescent colours, hardly 2.
_MOST_REFLECTANCE = 2.0
_LOOPBACK = ("127.0.0.1", "localhost", "::1")


@dataclass(frozen=True)
class ReaderInfo:
    """Which instrument this is: model, serial number, aperture in mm, whether it is a simulated one."""

    model: str
    serial: str
    aperture_mm: float
    simulated: bool


@dataclass(frozen=True)
class ReaderStatus:
    """How it is: calibrated, readings since then, battery 0 to 1."""

    calibrated: bool
    readings_since: int
    battery: float


@dataclass(frozen=True)
class ReaderReading:
    """One reading: reflectance (31,), 400 to 700 nm, and its Lab (3,), D65, 2°."""

    reflectance: Reflectance
    lab: Lab


class ColourReader(Protocol):
    """What the application asks of a colour reader; every method may raise a ReaderError."""

    def info(self) -> ReaderInfo:
        """Which instrument it is."""

    def status(self) -> ReaderStatus:
        """How it is."""

    def calibrate(self) -> None:
        """Calibrate on the white tile."""

    def read(self) -> ReaderReading:
        """Read what lies under it."""


class TcpColourReader:
    """The client: one connection, taken up again by itself after it was lost."""

    def __init__(self, host: str, port: int, answer_within: float = ANSWER_WITHIN_S) -> None:
        if host not in _LOOPBACK:
            raise NotConnectedError(f"“{host}” is not this machine: a reader is reached through 127.0.0.1 only.")
        self.address = (host, port)
        self._answer_within = answer_within
        self._socket: socket.socket | None = None
        self._rest = b""
        self._count = 0

    def info(self) -> ReaderInfo:
        """Which instrument it is; raises NotConnectedError, GarbageError, SilentError, ConnectionLostError."""
        said = self._ask("hello")
        if said.get("protocol") != PROTOCOL_VERSION:
            raise GarbageError(
                f"It speaks version {said.get('protocol')} of the protocol; version {PROTOCOL_VERSION} is understood."
            )
        try:
            return ReaderInfo(
                str(said["model"]), str(said["serial"]), float(said["aperture_mm"]), bool(said.get("simulated", False))
            )
        except (KeyError, TypeError, ValueError):
            raise self._garbage("it did not say which instrument it is") from None

    def status(self) -> ReaderStatus:
        """How it is."""
        said = self._ask("status")
        try:
            return ReaderStatus(bool(said["calibrated"]), int(said["readings_since"]), float(said["battery"]))
        except (KeyError, TypeError, ValueError):
            raise self._garbage("it did not say how it is") from None

    def calibrate(self) -> None:
        """Calibrate on the white tile; raises NotOnTileError where it does not stand on it."""
        self._ask("calibrate")

    def read(self) -> ReaderReading:
        """One reading, checked; raises the ReaderError of whatever went wrong."""
        said = self._ask("read")
        try:
            reflectance = np.asarray(said["reflectance"], dtype=np.float64)
            lab = check_lab(np.clip(said["lab"], (0, -200, -200), (100, 200, 200)))
        except (KeyError, TypeError, ValueError, CoreError):
            raise self._garbage("the reading is not a spectrum and a Lab") from None
        if reflectance.shape != BANDS.shape or not np.all((reflectance > 0) & (reflectance < _MOST_REFLECTANCE)):
            raise self._garbage(f"the spectrum is not {BANDS.size} reflectances")
        own = reflectance_to_lab(reflectance)
        if float(delta_e_2000(own, lab)) > _OWN_LAB_WITHIN:
            raise self._garbage("its Lab is not that of its spectrum")
        return ReaderReading(reflectance, own)

    def place(self, **what: Any) -> None:
        """Say what lies under a simulated reader; raises NotSimulatedError for a real one."""
        self._ask("place", **what)

    def fault(self, kind: str) -> None:
        """Let a simulated reader fail at its next reading; raises NotSimulatedError for a real one."""
        self._ask("fault", kind=kind)

    def close(self) -> None:
        """End the connection; the next question begins a new one."""
        if self._socket is not None:
            with contextlib.suppress(OSError):
                self._socket.close()
        self._socket, self._rest = None, b""

    def _ask(self, do: str, **more: Any) -> dict[str, Any]:
        """One question and its answer."""
        self._count += 1
        question = json.dumps({"id": self._count, "do": do, **more}).encode() + b"\n"
        connection = self._connected()
        # One limit for the whole answer: a reader that sends a byte now and then would else never be silent.
        until = time.monotonic() + self._answer_within
        try:
            connection.settimeout(self._answer_within)
            connection.sendall(question)
            said = self._answer(connection, until)
        except TimeoutError:
            self.close()
            raise SilentError(
                f"It gave no whole answer within {self._answer_within:.0f} s. Look whether it is switched on, then "
                "read again; the connection is begun anew. Nothing was stored."
            ) from None
        except OSError:
            raise self._lost() from None
        return self._checked(said, do)

    def _connected(self) -> socket.socket:
        if self._socket is None:
            try:
                self._socket = socket.create_connection(self.address, timeout=self._answer_within)
            except OSError:
                raise NotConnectedError(
                    f"Nothing answers at {self.address[0]}:{self.address[1]}. Switch the reader on, or start the "
                    "simulated one."
                ) from None
        return self._socket

    def _answer(self, connection: socket.socket, until: float) -> dict[str, Any]:
        """The next line that carries this question's id; a late answer to an earlier one is passed over."""
        while True:
            while b"\n" not in self._rest:
                if len(self._rest) > _LONGEST_LINE:
                    raise self._garbage("a line without an end")
                left = until - time.monotonic()
                if left <= 0:
                    raise TimeoutError
                connection.settimeout(left)
                more = connection.recv(8192)
                if not more:
                    raise self._lost()
                self._rest += more
            line, _, self._rest = self._rest.partition(b"\n")
            try:
                said = json.loads(line)
            except (ValueError, RecursionError):
                raise self._garbage("a line that is not JSON") from None
            if not isinstance(said, dict) or not isinstance(said.get("id"), int):
                raise self._garbage("a line that answers nothing")
            if said["id"] == self._count:
                return said
            if said["id"] > self._count:
                raise self._garbage("an answer to what was never asked")

    def _checked(self, said: dict[str, Any], do: str) -> dict[str, Any]:
        if said.get("ok") is True:
            return said
        code = str(said.get("error"))
        if code in REFUSALS:
            kind, detail = REFUSALS[code]
            raise kind(detail)
        if code == "unknown-place":
            raise NotInItsWorldError(
                f"{said.get('message') or 'It is not in its hidden world.'} Nothing was stored. Connect a reader of "
                "your own, or put a pencil of the demo under this one; what you measured elsewhere can be typed in."
            )
        if do in ("place", "fault"):
            raise NotSimulatedError(str(said.get("message") or "It takes no orders about what lies under it."))
        raise ReaderError(f"It refused: {str(said.get('message') or code)[:200]}. Nothing was stored.")

    def _garbage(self, what: str) -> GarbageError:
        self.close()
        return GarbageError(
            f"It sent {what}. Read again; the connection is begun anew. If it goes on, switch the reader off and on. "
            "Nothing was stored."
        )

    def _lost(self) -> ConnectionLostError:
        self.close()
        return ConnectionLostError(
            "Read again: the connection is taken up by itself. Nothing was stored, and nothing before it is lost."
        )
