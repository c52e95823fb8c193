"""What is generated and committed is what would be generated now; what is documented is there."""

from __future__ import annotations

import re
import shutil
import subprocess
from pathlib import Path

import pytest
from tools.write_core_page import with_functions
from tools.write_openapi import document

ROOT = Path(__file__).parents[2]


def test_the_committed_openapi_document_is_the_applications() -> None:
    committed = (ROOT / "src/tidy_tinder/web/openapi.json").read_text(encoding="utf-8")
    assert committed == document(), "Run: python -m tools.write_openapi"


def test_the_generated_types_are_those_of_the_document(tmp_path: Path) -> None:
    generator = ROOT / "frontend/node_modules/.bin/openapi-typescript"
    assert generator.exists(), "Run: make build"
    out = tmp_path / "schema.d.ts"
    subprocess.run(
        [generator, ROOT / "src/tidy_tinder/web/openapi.json", "--default-non-nullable=false", "-o", out],
        check=True, capture_output=True,
    )  # fmt: skip
    committed = (ROOT / "frontend/src/api/schema.d.ts").read_text(encoding="utf-8")
    assert committed == out.read_text(encoding="utf-8"), "Run: npm run api, in frontend/"


@pytest.mark.parametrize("name", ["README.md", "CHANGELOG.md", "CONTRIBUTING.md", "LICENSE", "docs/glossary.md"])
def test_the_papers_of_the_project_are_there(name: str) -> None:
    assert (ROOT / name).stat().st_size > 400


def test_every_link_in_the_documents_leads_somewhere() -> None:
    for page in [*ROOT.glob("*.md"), *(ROOT / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#]+)(?:#[^)]*)?\)", page.read_text(encoding="utf-8")):
            if not target.startswith("http"):
                assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_every_screenshot_is_shown_in_the_readme_and_there_are_few() -> None:
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    shots = sorted((ROOT / "docs/screenshots").glob("*.png"))
    assert 0 < len(shots) < 20
    for shot in shots:
        assert f"docs/screenshots/{shot.name}" in readme, shot.name


def test_the_columns_of_the_catalogue_are_documented() -> None:
    from tidy_tinder.formats.csv_catalogue import COLUMNS

    text = (ROOT / "docs/formats.md").read_text(encoding="utf-8")
    for column in COLUMNS:
        assert f"`{column}`" in text


def test_every_key_in_the_help_is_in_the_readme_and_the_other_way_round() -> None:
    keys = (ROOT / "frontend/src/app/keys.ts").read_text(encoding="utf-8")
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    for does in re.findall(r'\["[^"]+", "([^"]+)"\]', keys):
        assert does in readme, does


def test_every_dependency_has_its_decision() -> None:
    listed = re.findall(r'^    "([a-z-]+)[=>]', (ROOT / "pyproject.toml").read_text(encoding="utf-8"), re.MULTILINE)
    package = (ROOT / "frontend/package.json").read_text(encoding="utf-8")
    listed += re.findall(r'^    "([@a-z/-]+)": "[\^0-9]', package, re.MULTILINE)
    decisions = "\n".join(p.read_text(encoding="utf-8") for p in (ROOT / "docs/decisions").glob("*.md"))
    missing = [name for name in listed if name not in decisions]
    assert missing == []


def test_no_package_host_is_named() -> None:
    git = shutil.which("git")
    if git is None or not (ROOT / ".git").exists():
        pytest.skip("not a git checkout")
    pattern = "regi" + "stry[.]|py" + "pi[.]org|pytho" + "nhosted"
    found = subprocess.run([git, "grep", "-nIE", pattern], cwd=ROOT, capture_output=True, text=True, check=False)
    assert found.stdout == ""


def test_the_example_of_the_model_runs(capsys: pytest.CaptureFixture[str]) -> None:
    text = (ROOT / "docs/model.md").read_text(encoding="utf-8")
    (example,) = re.findall(r"```python\n(.*?)```", text, re.DOTALL)
    exec(compile(example, "docs/model.md", "exec"), {})
    # Blue over pink is a purple.
    _, a, b = (float(v) for v in re.findall(r"-?\d+\.\d+", capsys.readouterr().out))
    assert a > 10 > b


def test_every_public_function_of_the_core_is_listed() -> None:
    page = (ROOT / "docs/core.md").read_text(encoding="utf-8")
    assert page == with_functions(page), "Run: python -m tools.write_core_page"


def test_the_examples_of_the_core_run(capsys: pytest.CaptureFixture[str]) -> None:
    text = (ROOT / "docs/core.md").read_text(encoding="utf-8")
    names: dict[str, object] = {}
    for example in re.findall(r"```python\n(.*?)```", text, re.DOTALL):
        exec(compile(example, "docs/core.md", "exec"), names)
    said = capsys.readouterr().out
    # An opaque cream is lighter than the grey paper, the more so the heavier it is laid.
    lightness = [float(line.split("[")[1].split()[0]) for line in said.splitlines() if "on grey" in line]
    assert 66 < lightness[0] < lightness[1] < lightness[2]
    # A pair says what is to be expected; of two stand-ins the nearer comes first.
    assert re.search(r"(blue|pink|cream), then (blue|pink|cream): probably \d+\.\d ΔE", said)
    first, second = (float(v) for v in re.findall(r"^\d: probably (\d+\.\d)", said, re.MULTILINE))
    assert first < second
