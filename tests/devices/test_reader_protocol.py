"""The client of the reader's protocol against a device that says anything, and the simulated device itself."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.devices.colour_reader import ReaderReading, TcpColourReader
from tidy_tinder.devices.errors import (
    CalibrationOldError,
    ConnectionLostError,
    GarbageError,
    NotCalibratedError,
    NotConnectedError,
    NotSimulatedError,
    ReaderError,
    SilentError,
)
from tidy_tinder.devices.simulated_reader import FAULTS, Placed, SimulatedReader, measure
from tidy_tinder.devices.truth.world import demo_world

COMMAND = Path(sys.executable).parent / "tidy-tinder"
MOSS = {"paper": "Vellum board", "passes": [["Heron 161", "heavy"]]}
GREY = {"ok": True, "reflectance": [0.5] * 31, "lab": [76.07, 0.0, 0.0]}


class Device:
    """A device on a port of its own that answers each line with what it is told to."""

    def __init__(self, answer: Callable[[dict[str, object]], bytes]) -> None:
        self._listener = socket.create_server(("127.0.0.1", 0))
        self.port = self._listener.getsockname()[1]
        self._answer = answer
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def _serve(self) -> None:
        while True:
            try:
                connection, _ = self._listener.accept()
            except OSError:
                return
            with connection, connection.makefile("rb") as lines:
                for line in lines:
                    said = self._answer(json.loads(line))
                    if said == b"":
                        break
                    connection.sendall(said)

    def close(self) -> None:
        self._listener.shutdown(socket.SHUT_RDWR)
        self._listener.close()
        self._thread.join(5)


@pytest.fixture
def device() -> Iterator[Callable[[Callable[[dict[str, object]], bytes]], TcpColourReader]]:
    running: list[tuple[Device, TcpColourReader]] = []

    def start(answer: Callable[[dict[str, object]], bytes]) -> TcpColourReader:
        made = Device(answer)
        running.append((made, TcpColourReader("127.0.0.1", made.port, answer_within=0.4)))
        return running[-1][1]

    yield start
    for made, reader in running:
        reader.close()
        made.close()


def says(**what: object) -> Callable[[dict[str, object]], bytes]:
    return lambda question: json.dumps({"id": question["id"], **what}).encode() + b"\n"


Start = Callable[[Callable[[dict[str, object]], bytes]], TcpColourReader]


def test_a_true_reading_is_taken(device: Start) -> None:
    reading = device(says(**GREY)).read()
    assert isinstance(reading, ReaderReading)
    # Y .5 is L* 76.07 (CIE 15).
    assert reading.lab[0] == pytest.approx(76.07, abs=0.01)


class Dripping(Device):
    """It sends its answer byte by byte, each well within the time of an answer, the whole not."""

    def _serve(self) -> None:
        connection, _ = self._listener.accept()
        with connection, connection.makefile("rb") as lines:
            question = json.loads(lines.readline())
            for byte in says(**GREY)(question):
                time.sleep(0.02)
                try:
                    connection.sendall(bytes([byte]))
                except OSError:
                    return


def test_a_reader_that_drips_its_answer_is_given_up_as_a_whole() -> None:
    """The limit held for each byte: three hundred bytes took six seconds, and 64 kB would take an hour."""
    dripping = Dripping(says(**GREY))
    reader = TcpColourReader("127.0.0.1", dripping.port, answer_within=0.3)
    with pytest.raises(SilentError, match="no whole answer"):
        reader.read()
    reader.close()
    dripping.close()


@pytest.mark.parametrize(
    "answer",
    [
        lambda q: b"\x00\xff\xfe not json\n",
        lambda q: b"[1, 2]\n",
        lambda q: b"[" * 20_000 + b"]" * 20_000 + b"\n",
        lambda q: b"x" * 70_000,
        says(ok=True),
        says(ok=True, reflectance=[0.5] * 30, lab=[76, 0, 0]),
        says(ok=True, reflectance=[0.5] * 30 + [-1], lab=[76, 0, 0]),
        says(ok=True, reflectance=[0.5] * 30 + ["x"], lab=[76, 0, 0]),
        says(ok=True, reflectance=[0.5] * 31, lab=[20, 0, 0]),
        says(ok=True, reflectance=[float("nan")] * 31, lab=[76, 0, 0]),
        lambda q: json.dumps({"id": 99, **GREY}).encode() + b"\n",
    ],
)
def test_what_makes_no_sense_is_garbage(device: Start, answer: Callable[[dict[str, object]], bytes]) -> None:
    with pytest.raises(GarbageError, match="Nothing was stored"):
        device(answer).read()


@given(noise=st.binary(min_size=1, max_size=200))
@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
def test_any_bytes_end_in_a_reader_error(device: Start, noise: bytes) -> None:
    with pytest.raises(ReaderError):
        device(lambda q: noise + b"\n").read()


def test_silence_and_a_broken_line_are_told_apart_and_taken_up_again(device: Start) -> None:
    plan = iter([None, b'{"id": ', b"", "good"])

    def answer(question: dict[str, object]) -> bytes:
        what = next(plan)
        if what is None:
            return b" "
        return says(**GREY)(question) if what == "good" else bytes(what)  # type: ignore[arg-type] # bytes here

    reader = device(answer)
    with pytest.raises(SilentError):
        reader.read()
    with pytest.raises(SilentError):
        reader.read()
    with pytest.raises(ConnectionLostError):
        reader.read()
    assert reader.read().lab[0] == pytest.approx(76.07, abs=0.01)


def test_a_late_answer_is_passed_over(device: Start) -> None:
    def answer(question: dict[str, object]) -> bytes:
        late = json.dumps({"id": int(str(question["id"])) - 1, "ok": False, "error": "lifted"}).encode() + b"\n"
        return late + says(**GREY)(question)

    assert device(answer).read().lab[0] == pytest.approx(76.07, abs=0.01)


def test_another_version_and_a_real_device_are_understood(device: Start) -> None:
    with pytest.raises(GarbageError, match="version 2"):
        device(says(ok=True, protocol=2)).info()
    with pytest.raises(NotSimulatedError):
        device(says(ok=False, error="unknown")).fault("lifted")
    with pytest.raises(NotConnectedError, match="not this machine"):
        TcpColourReader("192.0.2.1", 1)
    with pytest.raises(NotConnectedError, match="Nothing answers"):
        TcpColourReader("127.0.0.1", 9).info()


def simulated(now: list[float]) -> SimulatedReader:
    reader = SimulatedReader(demo_world(), lambda: now[0])
    reader.answer({"do": "place", **MOSS})
    return reader


def read(reader: SimulatedReader) -> np.ndarray:
    said = reader.answer({"do": "read"})
    assert isinstance(said, dict)
    return np.array(said["reflectance"])


def test_the_simulated_reader_wants_to_be_calibrated_and_that_grows_old() -> None:
    now = [0.0]
    reader = simulated(now)
    assert reader.answer({"do": "read"}) == {"ok": False, "error": "not-calibrated"}
    reader.answer({"do": "calibrate"})
    assert read(reader).shape == (31,)
    now[0] += 9 * 3600
    assert reader.answer({"do": "read"}) == {"ok": False, "error": "calibration-old"}


def test_it_drifts_until_it_is_calibrated_again() -> None:
    reader = simulated([0.0])
    reader.answer({"do": "calibrate"})
    first = np.mean([read(reader) for _ in range(40)], axis=0)
    for _ in range(280):
        read(reader)
    late = np.mean([read(reader) for _ in range(40)], axis=0)
    reader.answer({"do": "calibrate"})
    again = np.mean([read(reader) for _ in range(40)], axis=0)
    assert np.mean(late / first) > 1.015
    assert np.mean(again / first) == pytest.approx(1.0, abs=0.004)


def test_its_noise_is_about_a_third_of_a_delta_e() -> None:
    reader = simulated([0.0])
    reader.answer({"do": "calibrate"})
    labs = np.array([reader.answer({"do": "read"})["lab"] for _ in range(60)])  # type: ignore[index,call-overload] # a reading
    spread = float(np.mean(delta_e_2000(labs, labs.mean(axis=0))))
    assert 0.1 < spread < 0.5


def test_it_reads_the_truth_and_nothing_else() -> None:
    reader = simulated([0.0])
    reader.answer({"do": "calibrate"})
    placed = Placed("Vellum board", (("Heron 161", "heavy"),))
    assert np.max(np.abs(read(reader) - measure(demo_world(), placed).reflectance)) < 0.02
    assert reader.answer({"do": "place", "paper": "Moon dust", "passes": []})["error"] == "unknown-place"  # type: ignore[index,call-overload] # a refusal
    assert reader.answer({"do": "fault", "kind": "explodes"})["error"] == "unknown-fault"  # type: ignore[index,call-overload] # a refusal


def test_the_command_serves_one_and_the_client_speaks_to_it() -> None:
    process = subprocess.Popen([COMMAND, "reader"], stdout=subprocess.PIPE, text=True)
    try:
        assert process.stdout is not None
        reader = TcpColourReader("127.0.0.1", int(process.stdout.readline()))
        assert reader.info().simulated
        reader.place(**MOSS)
        with pytest.raises(NotCalibratedError):
            reader.read()
        reader.calibrate()
        assert reader.status().calibrated
        assert reader.read().lab[1] < 0
        for kind in FAULTS:
            if kind != "silent":
                reader.fault(kind)
                with pytest.raises(ReaderError):
                    reader.read()
                reader.calibrate()
        reader.fault("calibration-old")
        with pytest.raises(CalibrationOldError, match="press c"):
            reader.read()
        reader.close()
    finally:
        process.terminate()
        process.communicate(timeout=20)
