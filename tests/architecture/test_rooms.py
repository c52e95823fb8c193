"""Who may know of whom: between the rooms of the services, the parts of the core, and the features of the front end."""

from __future__ import annotations

import ast
import os
import re
from collections.abc import Iterator, Mapping
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "src/tidy_tinder"
SERVICES = PACKAGE / "services"
FRONT = ROOT / "frontend/src"
Arrows = dict[str, set[str]]

# Every arrow between two rooms of the services. A new one is a decision: it is written here first.
_SHARED = {"background", "collection", "errors", "journal"}
MAY_IMPORT: Mapping[str, set[str]] = {
    "errors": set(),
    "journal": {"errors"},
    "background": {"journal", "errors"},
    "collection": {"background", "journal", "errors"},
    "papers": _SHARED,
    "reader": {"background", "collection", "errors"},
    "tray": _SHARED,
    "predicting": {"background", "collection", "errors"},
    "layering": {"background", "collection", "errors"},
    "swatches": {*_SHARED, "reader"},
    "scraps": {*_SHARED, "reader", "swatches"},
    "standins": {"background", "collection", "errors", "scraps"},
    "recipes": {*_SHARED, "standins"},
    "tidy": {*_SHARED, "standins", "swatches"},
    "sheets": {*_SHARED, "predicting"},
    "phones": {"errors"},
    "photos": {*_SHARED, "sheets", "swatches"},
    "drawings": _SHARED,
    "reference": {*_SHARED, "drawings", "standins"},
    "exchange": {*_SHARED, "swatches", "tidy"},
    "bench": {*_SHARED, "drawings", "reference", "recipes", "tray"},
    "restock": {*_SHARED, "reference", "standins", "tidy"},
    "fading": {*_SHARED, "photos", "reader", "sheets"},
    "practice": {"background", "collection", "errors", "journal"},
}
# A new room brings its arrows to the common ones (photos: six; drawings: four; reference: six; bench: eight;
# restock: seven; fading: seven; practice: four).
MOST_ARROWS, MOST_FLAT_MODULES, MOST_LINES = 100, 10, 400
# From the ground up: each part knows only those before it.
CORE = (
    "errors", "quantities", "vocabulary", "layers", "names", "reflectance", "difference", "fading", "swatching",
    "sheet", "marks", "layering", "standins", "planning", "reference", "bench", "restocking", "practice",
)  # fmt: skip
LAYERING = ("optics", "fitting", "prediction", "collection_fit")


def imported(path: Path) -> Iterator[str]:
    """Full names of the modules that a file imports."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


def arrows_below(folder: Path) -> Arrows:
    """By the name of each room in a folder of the package: the rooms beside it that it imports from."""
    prefix = ".".join(folder.relative_to(PACKAGE.parent).parts) + "."
    rooms = {p.name.removesuffix(".py") for p in folder.iterdir() if p.suffix == ".py" or (p / "__init__.py").exists()}
    arrows: Arrows = {room: set() for room in rooms - {"__init__"}}
    for path in folder.rglob("*.py"):
        own = path.relative_to(folder).parts[0].removesuffix(".py")
        for name in imported(path):
            other = name.removeprefix(prefix).split(".")[0]
            if name.startswith(prefix) and other in rooms and other != own and own in arrows:
                arrows[own].add(other)
    return arrows


def feature_of(path: Path) -> str:
    """The feature that a file of the front end belongs to; else the folder that it stands in."""
    parts = Path(os.path.relpath(path, FRONT)).parts
    return parts[1] if parts[0] == "features" else parts[0]


def front_imports() -> Iterator[tuple[Path, Path]]:
    """Every import of one own file by another in the front end."""
    for path in (p for p in FRONT.rglob("*.ts*") if p.name != "schema.d.ts"):
        for target in re.findall(r'(?:from|import) "(\.[^"]+)"', path.read_text(encoding="utf-8")):
            yield path, (path.parent / target).resolve()


def front_arrows() -> Arrows:
    arrows: Arrows = {}
    for path, target in front_imports():
        arrows.setdefault(feature_of(path), set()).add(feature_of(target))
    return {one: others - {one} for one, others in arrows.items()}


def circle_in(arrows: Mapping[str, set[str]]) -> list[str]:
    """Rooms that lead back to themselves; empty where there are none."""
    left = {one: set(others) for one, others in arrows.items()}
    while ends := [one for one, others in left.items() if not others & left.keys()]:
        for one in ends:
            del left[one]
    return sorted(left)


def test_a_circle_would_be_found() -> None:
    assert circle_in({"a": {"b"}, "b": {"c"}, "c": {"b"}}) == ["a", "b", "c"]
    assert circle_in({"a": {"b"}, "b": {"c"}, "c": set()}) == []


def test_services_know_only_the_rooms_that_they_may() -> None:
    arrows = arrows_below(SERVICES)
    assert set(arrows) == set(MAY_IMPORT)
    for room, others in arrows.items():
        assert others <= MAY_IMPORT[room], f"{room} imports {sorted(others - MAY_IMPORT[room])}"
    assert circle_in(MAY_IMPORT) == []
    assert sum(map(len, arrows.values())) <= MOST_ARROWS


def test_few_services_stand_outside_a_package() -> None:
    assert len([p for p in SERVICES.glob("*.py") if p.stem != "__init__"]) <= MOST_FLAT_MODULES


@pytest.mark.parametrize("folder", [p for p in SERVICES.iterdir() if p.is_dir() and p.name != "__pycache__"])
def test_a_package_of_services_says_what_it_is_for_and_what_it_may_import(folder: Path) -> None:
    said = ast.get_docstring(ast.parse((folder / "__init__.py").read_text(encoding="utf-8"))) or ""
    assert 0 < len([line for line in said.splitlines() if line]) <= 3
    allowed = said.split("May import ")[1]
    assert MAY_IMPORT[folder.name] <= set(re.findall(r"\w+", allowed)) | {"errors"}, folder.name


def test_no_two_modules_of_the_package_import_each_other_in_a_circle() -> None:
    names = {".".join(p.relative_to(PACKAGE.parent).with_suffix("").parts): p for p in PACKAGE.rglob("*.py")}
    modules = {name.removesuffix(".__init__"): path for name, path in names.items()}
    arrows = {
        name: {other for other in imported(path) if other in modules and other != name}
        for name, path in modules.items()
        if path.name != "__init__.py"
    }
    assert circle_in(arrows) == []


@pytest.mark.parametrize(("folder", "direction"), [("core", CORE), ("core/layering", LAYERING)])
def test_the_parts_of_the_core_know_only_what_lies_below(folder: str, direction: tuple[str, ...]) -> None:
    arrows = arrows_below(PACKAGE / folder)
    assert set(arrows) == set(direction)
    for place, part in enumerate(direction):
        assert arrows[part] <= set(direction[:place]), part


def test_features_of_the_front_end_form_no_circle_and_what_is_shared_knows_none_of_them() -> None:
    arrows = front_arrows()
    features = {p.name for p in (FRONT / "features").iterdir()}
    assert features <= set(arrows)
    assert circle_in(arrows) == []
    assert not arrows["shared"] & features
    assert not arrows["api"] & features


def test_no_feature_borrows_another_ones_stylesheet() -> None:
    for path, target in front_imports():
        if target.name.endswith(".module.css"):
            assert feature_of(target) in (feature_of(path), "shared"), f"{path.name} borrows {target.name}"


def test_no_two_files_of_the_front_end_import_each_other_in_a_circle() -> None:
    arrows: Arrows = {}
    for path, target in front_imports():
        for module in (target.with_name(target.name + end) for end in (".ts", ".tsx")):
            if module.exists():
                arrows.setdefault(str(path), set()).add(str(module))
    assert circle_in(arrows) == []


def test_no_source_file_is_longer_than_one_can_keep_in_mind() -> None:
    files = [p for p in PACKAGE.rglob("*.py") if "versions" not in p.parts]
    files += [p for p in FRONT.rglob("*") if p.suffix in (".ts", ".tsx", ".css") and p.name != "schema.d.ts"]
    lengths = {p.name: len(p.read_text(encoding="utf-8").splitlines()) for p in files}
    assert {name: lines for name, lines in lengths.items() if lines > MOST_LINES} == {}


def test_every_path_that_contributing_names_is_there() -> None:
    """*Where is …?* answers with one path each: at least twenty, and none of them a dead end."""
    text = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
    table = text[text.index("## Where is …?") : text.index("## The rooms")]
    paths = re.findall(r"^\| [^|]+ \| `([^`]+)` \|$", table, re.MULTILINE)
    assert len(paths) >= 20
    for path in paths:
        assert (ROOT / path).exists(), path
