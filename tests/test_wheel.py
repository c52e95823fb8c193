"""The built wheel serves the demo by itself, from another place, with nothing from outside."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
# Loaded from where the wheel was unpacked, and from nowhere else.
SERVE = """
import sys, tidy_tinder
assert tidy_tinder.__file__.startswith(sys.argv.pop(1))
from tidy_tinder.cli import main
main()
"""


@pytest.mark.browser
def test_the_wheel_holds_all_that_the_program_needs(tmp_path: Path) -> None:
    source, wheels, site = tmp_path / "source", tmp_path / "wheels", tmp_path / "site"
    source.mkdir()
    shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, source / name)
    pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check"]
    run([*pip, "wheel", "--no-deps", "--no-index", "--no-build-isolation", "-w", str(wheels), str(source)])
    [wheel] = wheels.glob("tidy_tinder-*.whl")
    run([*pip, "install", "--no-deps", "--no-index", "--target", str(site), str(wheel)])
    shutil.rmtree(source)
    command = [
        sys.executable,
        "-c",
        SERVE,
        str(site),
        "serve",
        "--demo",
        "--data",
        str(tmp_path / "data"),
        "--port",
        "0",
    ]
    environment = {**os.environ, "PYTHONPATH": str(site)}
    with subprocess.Popen(command, cwd=tmp_path, env=environment, stdout=subprocess.PIPE, text=True) as server:
        try:
            assert server.stdout is not None
            address = server.stdout.readline().strip()
            assert address.startswith("http://127.0.0.1:"), address
            page = get(address).decode()
            scripts = re.findall(r'(?:src|href)="(/assets/[^"]+)"', page)
            assert scripts
            assert all(get(address.rstrip("/") + path) for path in scripts)
            context = json.loads(get(f"{address}api/collection"))
            assert (context["demo"], context["charted"]) == (True, 400)
            # Fonts for paper, tables of the core, the classes of another format.
            assert get(f"{address}api/practice/card.pdf").startswith(b"%PDF")
            assert b"CxF" in get(f"{address}api/swatches/file?kind=cxf")[:200]
        finally:
            server.terminate()
            assert server.wait(30) == 0


def run(command: list[str]) -> None:
    done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
    assert done.returncode == 0, done.stderr


def get(address: str) -> bytes:
    with urllib.request.urlopen(address, timeout=120) as answer:
        content: bytes = answer.read()
    return content
