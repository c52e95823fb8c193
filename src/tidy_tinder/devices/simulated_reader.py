"""The simulated colour reader: its measuring function, the device round it, and the server it ships as.

It knows the hidden world of the demo and nothing of the application (docs/colour-reader.md).
"""

from __future__ import annotations

import hashlib
import json
import socketserver
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from tidy_tinder.core.quantities import BANDS, Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.devices.truth.fading import DAILY
from tidy_tinder.devices.truth.world import TrueWorld, demo_world

# Spread of the load from one making of a patch to the next, and of a reading, band by band and as a
# whole. Together the reading's own part is about 0.3 ΔE00 (tests/devices/test_simulated_reader.py).
_HAND_SPREAD = 0.06
_BAND_NOISE = 0.0012
_LEVEL_NOISE = 0.004


@dataclass(frozen=True)
class Placed:
    """What lies under the reader: passes of (pencil key, pressure) on a paper, and which making of it; dose: the light
    that fell on it since.
    """

    paper: str
    passes: tuple[tuple[str, str], ...]
    over_black: bool = False
    solvent: bool = False
    wet: bool = False
    making: int = 0
    # Not part of what chance depends on: both halves of a fade test are one making, and marks read before stay as read.
    dose: float = field(default=0.0, repr=False)


@dataclass(frozen=True)
class Reading:
    """One reading: reflectance (31,) and its Lab (3,), D65, 2°."""

    reflectance: Reflectance
    lab: Lab


def measure(world: TrueWorld, placed: Placed, reading: int = 0) -> Reading:
    """Read a patch once. The same patch, making and reading number always give the same values.

    Raises KeyError for a pencil or paper that is not of this world.
    """
    hand = float(np.exp(_HAND_SPREAD * _random(placed, "hand").standard_normal())) if placed.passes else 1.0
    true = world.reflectance(
        placed.paper,
        placed.passes,
        hand=hand,
        over_black=placed.over_black,
        solvent=placed.solvent,
        wet=placed.wet,
        dose=placed.dose,
    )
    noise = _random(placed, f"reading {reading}")
    level = 1.0 + _LEVEL_NOISE * noise.standard_normal()
    seen = np.clip(true * level + _BAND_NOISE * noise.standard_normal(true.shape), 1e-4, 1.6)
    return Reading(seen, reflectance_to_lab(seen))


def _random(placed: Placed, purpose: str) -> np.random.Generator:
    """A generator that depends on the patch and the purpose only, on every machine alike."""
    digest = hashlib.sha256(f"{placed!r} {purpose}".encode()).digest()
    return np.random.default_rng(int.from_bytes(digest[:8], "big"))


# What the simulated reader can be told to do at its next reading.
FAULTS = ("not-calibrated", "calibration-old", "lamp-low", "battery-low", "lifted", "silent", "garbage", "lost")

# How much the level drifts with each reading until the next calibration, and after how many readings or
# seconds a calibration is too old. Ours, of the size that instruments' makers warn of.
_DRIFT_A_READING = 0.00008
_READINGS_A_CALIBRATION = 400
_SECONDS_A_CALIBRATION = 8 * 3600
_BATTERY_A_READING = 0.0004
_APERTURE_MM = 8.0
_MODEL = "simulated reader"
_SERIAL = "SIM-0001"


class SimulatedReader:
    """The device round the measuring function: white tile, calibration, drift, battery, faults.

    It reads only from the hidden world; `clock` gives seconds. Answers are dicts of the protocol; None means
    silence, bytes mean garbage, and ConnectionResetError that the line breaks half-way.
    """

    def __init__(self, world: TrueWorld, clock: Callable[[], float]) -> None:
        self._world = world
        self._clock = clock
        self._placed: Placed | None = None
        self._calibrated_at: float | None = None
        self._readings = 0
        self._since = 0
        self._fault = ""
        self._lock = threading.Lock()

    def answer(self, question: dict[str, Any]) -> dict[str, Any] | bytes | None:
        """What it answers to one question; raises ConnectionResetError where it breaks off."""
        with self._lock:
            act = {
                "hello": self._hello, "status": self._status, "calibrate": self._calibrate, "read": self._read,
                "place": self._place, "fault": self._set_fault,
            }.get(str(question.get("do")))  # fmt: skip
            if act is None:
                return {"ok": False, "error": "unknown", "message": "hello, status, calibrate, read, place, fault"}
            return act(question)

    def _hello(self, _question: dict[str, Any]) -> dict[str, Any]:
        return {
            "ok": True, "protocol": 1, "model": _MODEL, "serial": _SERIAL, "aperture_mm": _APERTURE_MM,
            "bands": [int(b) for b in BANDS], "simulated": True,
        }  # fmt: skip

    def _status(self, _question: dict[str, Any]) -> dict[str, Any]:
        battery = max(0.0, 1.0 - _BATTERY_A_READING * self._readings)
        return {
            "ok": True, "calibrated": not self._needs_calibration(), "readings_since": self._since, "battery": battery,
        }  # fmt: skip

    def _calibrate(self, question: dict[str, Any]) -> dict[str, Any]:
        if self._placed is not None and not question.get("tile", True):
            return {"ok": False, "error": "not-on-tile"}
        self._calibrated_at, self._since = self._clock(), 0
        return {"ok": True}

    def _needs_calibration(self) -> str:
        if self._calibrated_at is None:
            return "not-calibrated"
        old = self._clock() - self._calibrated_at > _SECONDS_A_CALIBRATION or self._since >= _READINGS_A_CALIBRATION
        return "calibration-old" if old else ""

    def _read(self, _question: dict[str, Any]) -> dict[str, Any] | bytes | None:
        fault, self._fault = self._fault, ""
        if fault in ("not-calibrated", "calibration-old"):
            self._calibrated_at = None if fault == "not-calibrated" else self._clock() - _SECONDS_A_CALIBRATION - 1
        if fault == "silent":
            return None
        if fault == "garbage":
            return b"\x7f{ref::,,\n"
        if fault == "lost":
            raise ConnectionResetError
        refusal = self._needs_calibration() or (fault if fault in ("lamp-low", "battery-low", "lifted") else "")
        if refusal:
            return {"ok": False, "error": refusal}
        if self._placed is None:
            return {"ok": False, "error": "nothing", "message": "nothing lies under the simulated reader"}
        return self._measured(self._placed)

    def _measured(self, placed: Placed) -> dict[str, Any]:
        self._readings += 1
        self._since += 1
        true = measure(self._world, placed, self._readings)
        drifted = np.clip(true.reflectance * (1.0 + _DRIFT_A_READING * self._since), 1e-4, 1.9)
        lab = reflectance_to_lab(drifted)
        return {
            "ok": True, "reflectance": [round(float(v), 5) for v in drifted], "lab": [round(float(v), 3) for v in lab],
        }  # fmt: skip

    def _place(self, question: dict[str, Any]) -> dict[str, Any]:
        try:
            passes = tuple((str(pencil), str(pressure)) for pencil, pressure in question["passes"])
            placed = Placed(
                str(question["paper"]), passes, bool(question.get("over_black")), bool(question.get("solvent")),
                bool(question.get("wet")), int(question.get("making", 0)), _dose(question.get("light")),
            )  # fmt: skip
            measure(self._world, placed)
        except KeyError as missing:
            message = f"The simulated reader knows the demo's pencils and papers only, and not {missing}."
            return {"ok": False, "error": "unknown-place", "message": message}
        except (TypeError, ValueError):
            return {"ok": False, "error": "unknown-place", "message": "Say paper and passes."}
        self._placed = placed
        return {"ok": True}

    def _set_fault(self, question: dict[str, Any]) -> dict[str, Any]:
        kind = str(question.get("kind"))
        if kind not in FAULTS:
            return {"ok": False, "error": "unknown-fault", "message": f"Faults are {', '.join(FAULTS)}."}
        self._fault = kind
        return {"ok": True}


def _dose(light: Any) -> float:
    """The dose of light that is said as a place and days. Raises ValueError."""
    if light is None:
        return 0.0
    place, days = light
    return DAILY[str(place)] * max(float(days), 0.0)


class _Line(socketserver.StreamRequestHandler):
    """One connection: a question a line."""

    def handle(self) -> None:
        """Answer until the other side goes away."""
        reader: SimulatedReader = self.server.reader  # type: ignore[attr-defined] # set by serve_simulated below
        for line in self.rfile:
            try:
                question = json.loads(line)
                said = reader.answer(question)
            except ValueError:
                said, question = {"ok": False, "error": "unreadable", "message": "one JSON object a line"}, {"id": 0}
            except ConnectionResetError:
                self.wfile.write(b'{"id": ')
                return
            if isinstance(said, dict):
                said = json.dumps({"id": question.get("id", 0), **said}).encode() + b"\n"
            if said is not None:
                self.wfile.write(said)


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def serve_simulated(world: TrueWorld, port: int, clock: Callable[[], float]) -> socketserver.ThreadingTCPServer:
    """A simulated reader listening on 127.0.0.1; port 0 takes a free one. Call its serve_forever."""
    server = _Server(("127.0.0.1", port), _Line)
    server.reader = SimulatedReader(world, clock)  # type: ignore[attr-defined] # read back by _Line.handle above
    return server


def serve_demo_reader(port: int) -> socketserver.ThreadingTCPServer:
    """A simulated reader of the demo's hidden world, on this machine's clock."""
    return serve_simulated(demo_world(), port, time.monotonic)
