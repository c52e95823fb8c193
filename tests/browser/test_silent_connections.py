"""A served collection and connections that are opened and say nothing, or never end what they say."""

from __future__ import annotations

import json
import socket
import urllib.request
from collections.abc import Callable
from pathlib import Path

from tests.browser.conftest import Server


def test_connections_that_say_nothing_keep_nobody_out(serve: Callable[..., Server], tmp_path: Path) -> None:
    address = serve("--data", str(tmp_path / "own")).address
    port = int(address.rstrip("/").rsplit(":", 1)[1])
    # Who opens the program first meets the door; what holds for the application itself is asked here.
    with urllib.request.urlopen(f"{address}api/openapi.json", timeout=30) as there:
        assert there.status == 200
    silent = []
    for i in range(200):
        one = socket.create_connection(("127.0.0.1", port), timeout=10)
        one.sendall(
            b"" if i % 2 else b"POST /api/tidy/owned HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 100\r\n\r\n{"
        )
        silent.append(one)
    try:
        with socket.create_connection(("127.0.0.1", port), timeout=10) as asking:
            asking.sendall(
                f"GET /api/collection HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nConnection: close\r\n\r\n".encode()
            )
            said = b""
            while more := asking.recv(65536):
                said += more
        assert said.startswith(b"HTTP/1.1 200")
        assert json.loads(said.split(b"\r\n\r\n", 1)[1])["papers"]
    finally:
        for one in silent:
            one.close()
