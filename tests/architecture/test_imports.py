"""Imports run one way, and the core is pure (docs: src/tidy_tinder/core/README.md)."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "src/tidy_tinder"
MODULES = sorted(PACKAGE.rglob("*.py"))

# Each part may import itself and what stands right of it.
MAY_IMPORT = {
    "cli": {"commands", "storage", "core"},
    "commands": {"demo", "web", "services", "storage", "settings", "core"},
    "demo": {"services", "storage", "core"},
    "web": {"services", "storage", "formats", "devices", "core"},
    "services": {"storage", "formats", "devices", "core"},
    "storage": {"core"},
    "formats": {"core"},
    "devices": {"core"},
    "settings": {"core"},
    "core": set(),
}
FORBIDDEN_IN_CORE = {
    "flask",
    "sqlalchemy",
    "pydantic",
    "logging",
    "time",
    "datetime",
    "random",
    "secrets",
    "os",
    "pathlib",
}


def imports(path: Path) -> set[str]:
    """Full names of all modules that a file imports, at the top or inside a function."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found.update(alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


def part(path: Path) -> str:
    return path.relative_to(PACKAGE).parts[0].removesuffix(".py")


@pytest.mark.parametrize("path", MODULES, ids=lambda p: str(p.relative_to(PACKAGE)))
def test_imports_run_one_way(path: Path) -> None:
    own = part(path)
    if own == "__init__":
        return
    for name in imports(path):
        pieces = name.split(".")
        if pieces[0] == "tidy_tinder" and len(pieces) > 1:
            assert pieces[1] == own or pieces[1] in MAY_IMPORT[own], f"{path.name} imports {name}"


@pytest.mark.parametrize("path", [p for p in MODULES if part(p) == "core"], ids=lambda p: p.name)
def test_the_core_is_pure(path: Path) -> None:
    used = {name.split(".")[0] for name in imports(path)}
    assert not used & FORBIDDEN_IN_CORE
    text = path.read_text(encoding="utf-8")
    assert "np.random" not in text
    assert "open(" not in text


def test_only_the_simulated_devices_read_the_truth() -> None:
    readers = {
        p.relative_to(PACKAGE).as_posix()
        for p in MODULES
        if any(name.startswith("tidy_tinder.devices.truth") for name in imports(p)) and "truth" not in p.parts
    }
    cameras = {"devices/simulated_camera/colouring_in.py", "devices/simulated_camera/drawn_picture.py"}
    assert readers == {"devices/simulated_reader.py", *cameras}


def test_the_web_knows_of_devices_only_what_can_be_wrong_with_them() -> None:
    for path in (p for p in MODULES if part(p) == "web"):
        used = {name for name in imports(path) if name.startswith("tidy_tinder.devices")}
        assert used <= {"tidy_tinder.devices.errors"}, path


def test_no_two_schemas_share_a_name() -> None:
    """The document knows schemas by name: a second one of the same name would silently take the first one's place."""
    names = [
        node.name
        for path in (PACKAGE / "web").rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.ClassDef)
    ]
    assert sorted(names) == sorted(set(names))


def test_flask_openapi_is_kept_in_one_place() -> None:
    users = {
        p.relative_to(PACKAGE).as_posix() for p in MODULES if any(n.startswith("flask_openapi") for n in imports(p))
    }
    assert users == {"web/endpoint.py"}


def test_no_file_is_a_rag_bag() -> None:
    names = {p.stem for p in MODULES} | {p.stem for p in (ROOT / "frontend/src").rglob("*.ts*")}
    assert not names & {"utils", "helpers", "common", "misc", "util"}


def test_a_feature_has_one_name() -> None:
    web = {p.name for p in (PACKAGE / "web").iterdir() if p.is_dir() and (p / "routes.py").exists()}
    front = {p.name for p in (ROOT / "frontend/src/features").iterdir()}
    assert web == front


def test_typescript_recomputes_no_colour() -> None:
    """No formula of colour in the front end: its figures come from the core, through the API."""
    for path in (ROOT / "frontend/src").rglob("*.ts*"):
        if path.name == "schema.d.ts":
            continue
        text = path.read_text(encoding="utf-8")
        for sign in ("Math.pow", "Math.cbrt", "** 2.4", "/ 116", "12.92", "Math.atan2", "Math.hypot"):
            assert sign not in text, f"{path.name}: {sign}"


def test_routes_only_parse_call_and_return() -> None:
    """A view has at most a dozen statements; what is longer belongs into a service."""
    for path in (PACKAGE / "web").rglob("routes.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef):
                assert len(node.body) <= 7, f"{path}: {node.name}"
