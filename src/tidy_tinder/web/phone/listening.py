"""The phone's application served on this computer's address in its network, while phones may come in."""

from __future__ import annotations

import socket
import threading
from typing import TYPE_CHECKING, Any

from flask import Flask

from tidy_tinder.services.errors import RefusedError

if TYPE_CHECKING:
    from tidy_tinder.services.phones.pairing import Pairing

PHONE_PORT = 8732
# Asking for a way to an address of the documentation range (RFC 5737) sends nothing; it only chooses the network.
_ELSEWHERE = ("192.0.2.1", 9)
_LOOK_SECONDS = 0.2
_END_SECONDS = 5.0


def own_address() -> str:
    """This computer's address in its network. Raises RefusedError where it is in none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        try:
            asked.connect(_ELSEWHERE)
        except OSError as problem:
            raise RefusedError(
                "This computer is in no network. Connect it to the one that the phone is in."
            ) from problem
        return str(asked.getsockname()[0])


class PhoneListener:
    """Listens while phones may come in, and no longer."""

    def __init__(self, pairing: Pairing, address: str | None = None) -> None:
        self._pairing = pairing
        self._given = address
        self._ended = threading.Event()
        self._thread: threading.Thread | None = None
        self._lock = threading.Lock()
        self.host = ""

    def begin(self, app: Flask) -> None:
        """Listen. Raises RefusedError where there is no network, or no port to listen on."""
        with self._lock:
            if self._thread is not None and self._thread.is_alive():
                return
            address = self._given or own_address()
            listener = _listener(address)
            self.host = f"{address}:{listener.getsockname()[1]}"
            self._ended.clear()
            self._thread = threading.Thread(target=self._run, args=(app, listener), name="phones", daemon=True)
            self._thread.start()

    def end(self) -> None:
        """Listen no longer."""
        with self._lock:
            self._ended.set()
            if self._thread is not None:
                self._thread.join(timeout=_END_SECONDS)
            self._thread, self.host = None, ""

    def _run(self, app: Flask, listener: socket.socket) -> None:
        from waitress import wasyncore  # noqa: PLC0415 -- most who run the program let no phone in
        from waitress.server import create_server  # noqa: PLC0415

        waits: dict[int, Any] = {}
        server = create_server(app, map=waits, sockets=[listener], threads=2, ident="tidy-tinder", channel_timeout=60)
        # A server's own loop has no end; this one ends with the phones' hour, and closes what it waits on itself.
        while not self._ended.is_set() and self._pairing.state().is_open:
            wasyncore.loop(timeout=_LOOK_SECONDS, map=waits, count=1)
        server.task_dispatcher.shutdown()
        wasyncore.close_all(waits, ignore_all=True)


def _listener(address: str) -> socket.socket:
    for port in (PHONE_PORT, 0):
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((address, port))
            listener.listen(16)
        except OSError:
            listener.close()
        else:
            return listener
    raise RefusedError(f"This computer does not let the program listen on {address}. A firewall may forbid it.")
