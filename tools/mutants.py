"""Puts small faults into the code, one at a time, and counts how many the tests notice.

Run: python -m tools.mutants [PART …] (`make mutants PARTS="names bench"`); all parts without any. Of each part a sample
by seed is tried, on a copy of the working tree, with that part's own tests; what survived is printed with its place.
Faults in annotations are left out: with `from __future__ import annotations` nobody evaluates them.
"""

from __future__ import annotations

import ast
import json
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

_ROOT = Path(__file__).parents[1]
_PACKAGE = "src/tidy_tinder"
_EACH = 40
"""Mutants of a part."""
_SEED = 1
# Where the demo that tests copy is built, by the run before any fault.
_TEMPLATES = ".templates"
# Plugins that take long to load and do nothing here.
_PLAIN = "-p no:cacheprovider -p no:schemathesis -p no:xdist -p no:anyio"
# Seconds for the tests of a part; a fault that goes round and round is noticed, too.
_PATIENCE = 240.0


@dataclass(frozen=True)
class Part:
    """Modules, and the tests that are to notice what is wrong with them, beside the one of frozen results; fixtures:
    whether these tests want those of all tests, which take long to load.
    """

    modules: Sequence[str]
    tests: Sequence[str]
    fixtures: bool = False


PARTS: Mapping[str, Part] = {
    "difference": Part(
        ("core/difference/ciede2000.py", "core/difference/components.py", "core/difference/lamps.py"),
        ("core/test_ciede2000.py", "core/test_components.py", "core/test_lamps.py"),
    ),
    "names": Part(
        ("core/names/finding.py", "core/names/spans.py", "core/names/grades.py", "core/names/colour_words.py"),
        ("core/test_finding.py", "core/test_code_spans.py", "core/test_colour_words.py", "core/test_arranging.py"),
    ),
    "bench": Part(
        ("core/bench/as_done.py", "core/bench/beside_plan.py", "core/bench/turns.py"),
        ("core/test_as_done.py", "core/test_turns.py"),
    ),
    "fading": Part(("core/fading/change.py", "core/fading/classes.py"), ("core/test_fading.py",)),
    "swatching": Part(
        ("core/swatching/averaging.py", "core/swatching/identification.py", "core/swatching/plausibility.py"),
        ("core/test_swatching.py", "core/test_identification.py"),
    ),
    "standins": Part(
        ("core/standins/reach.py", "core/standins/roles.py"), ("core/test_reach.py", "core/test_roles.py")
    ),
    "catalogue": Part(("formats/csv_catalogue.py", "formats/columns.py"), ("formats/test_csv_catalogue.py",)),
    "recipes": Part(
        ("formats/recipe_line.py", "formats/recipe_purposes.py"),
        ("formats/test_recipe_text.py", "formats/test_recipe_purposes.py"),
    ),
    "charts": Part(
        ("formats/chart_list/codes.py", "formats/chart_list/entries.py", "formats/gpl.py"),
        ("formats/test_chart_list.py", "formats/test_recipe_files.py"),
    ),
    "journal": Part(("services/journal.py",), ("services/test_journal.py",), fixtures=True),
    "storage": Part(
        ("storage/soundness.py", "storage/archive.py", "storage/trouble.py"),
        (
            "storage/test_lock_and_archive.py",
            "services/exchange/test_backup.py",
            "storage/test_words.py",
            "storage/test_restoring_damage.py",
        ),
        fixtures=True,
    ),
}


@dataclass(frozen=True)
class Outcome:
    """What became of one fault."""

    place: str
    diff: str
    killed: bool


def main(names: Sequence[str]) -> None:
    """Try the parts, one after another, and say what survived."""
    unknown = [name for name in names if name not in PARTS]
    if unknown:
        raise SystemExit(f"There is no part {', '.join(unknown)}; there are {', '.join(PARTS)}.")
    killed = tried = 0
    with tempfile.TemporaryDirectory() as folder:
        tree = _copied(Path(folder) / "tree")
        (tree / _TEMPLATES).mkdir()
        for name in names or PARTS:
            outcomes = _tried(PARTS[name], tree, Path(folder) / name)
            noticed = sum(outcome.killed for outcome in outcomes)
            killed, tried = killed + noticed, tried + len(outcomes)
            print(f"{name}: {noticed} of {len(outcomes)} noticed", flush=True)
            for outcome in outcomes:
                if not outcome.killed:
                    print(f"  survived at {outcome.place}\n{outcome.diff}", flush=True)
    print(f"{killed} of {tried} noticed, {100 * killed / max(tried, 1):.0f} %.")


def _copied(tree: Path) -> Path:
    """The working tree without what is built: faults are put into the copy."""
    left_out = shutil.ignore_patterns(".git", ".venv", "node_modules", "dist", ".demo", ".*_cache", "__pycache__")
    shutil.copytree(_ROOT, tree, ignore=left_out)
    return tree


def _tried(part: Part, tree: Path, folder: Path) -> list[Outcome]:
    folder.mkdir()
    session, config = folder / "session.sqlite", folder / "config.toml"
    config.write_text(_config(part), encoding="utf-8")
    _run(["cosmic-ray", "baseline", str(config)], tree)
    _run(["cosmic-ray", "init", str(config), str(session)], tree)
    _leave_out(session, tree)
    _leave(session, _EACH)
    _run(["cosmic-ray", "exec", str(config), str(session)], tree)
    return _outcomes(session)


def _config(part: Part) -> str:
    modules = json.dumps([f"{_PACKAGE}/{module}" for module in part.modules])
    tests = " ".join(f"tests/{test}" for test in ("architecture/test_results.py", *part.tests))
    command = f"{sys.executable} -m pytest -x -q {_PLAIN} {'' if part.fixtures else '--noconftest'} {tests}"
    return (
        f"[cosmic-ray]\nmodule-path = {modules}\ntimeout = {_PATIENCE}\nexcluded-modules = []\n"
        f'test-command = {json.dumps(command)}\n\n[cosmic-ray.distributor]\nname = "local"\n'
    )


def _run(command: Sequence[str], tree: Path) -> str:
    beside = Path(sys.executable).parent / command[0]
    env = {
        **os.environ, "PYTHONPATH": f"{tree / 'src'}{os.pathsep}{tree}", "CI": "1", "PYTHONDONTWRITEBYTECODE": "1",
        "TEMPLATES": str(tree / _TEMPLATES),
    }  # fmt: skip
    done = subprocess.run([str(beside), *command[1:]], cwd=tree, env=env, capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"{' '.join(command)} failed:\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}")
    return done.stdout


def _leave(session: Path, count: int) -> None:
    """Keep a sample of the faults that were found possible: by place, so that the same code has the same sample."""
    with closing(sqlite3.connect(session)) as connection:
        place = "module_path, start_pos_row, start_pos_col, operator_name, occurrence, operator_args"
        jobs = [str(job) for (job,) in connection.execute(f"SELECT job_id FROM mutation_specs ORDER BY {place}")]
    kept = set(random.Random(_SEED).sample(jobs, min(count, len(jobs))))
    _drop(session, [job for job in jobs if job not in kept])


def _leave_out(session: Path, tree: Path) -> None:
    """Drop the faults in annotations."""
    with closing(sqlite3.connect(session)) as connection:
        rows = connection.execute(
            "SELECT job_id, module_path, start_pos_row, start_pos_col, end_pos_row, end_pos_col FROM mutation_specs"
        ).fetchall()
    notes = {module: _annotations(tree / module) for module in {module for _, module, *_ in rows}}
    _drop(session, [
        job for job, module, row, column, last, end in rows
        if any(start <= (row, column) and (last, end) <= stop for start, stop in notes[module])
    ])  # fmt: skip


def _drop(session: Path, jobs: Sequence[str]) -> None:
    with closing(sqlite3.connect(session)) as connection, connection:
        for job in jobs:
            connection.execute("DELETE FROM mutation_specs WHERE job_id = ?", (job,))
            connection.execute("DELETE FROM work_items WHERE job_id = ?", (job,))


def _annotations(module: Path) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    """Where the annotations of a module that nobody evaluates begin and end, as rows and columns."""
    source = module.read_text(encoding="utf-8")
    if "from __future__ import annotations" not in source or "pydantic" in source:
        return []
    found = [
        note
        for node in ast.walk(ast.parse(source))
        for note in (getattr(node, "annotation", None), getattr(node, "returns", None))
        if isinstance(note, ast.expr)
    ]
    return [((n.lineno, n.col_offset), (n.end_lineno or 0, n.end_col_offset or 0)) for n in found]


def _outcomes(session: Path) -> list[Outcome]:
    """What cosmic-ray wrote down of each fault that it tried."""
    asked = (
        "SELECT module_path, start_pos_row, operator_name, test_outcome, diff FROM mutation_specs "
        "JOIN work_results USING (job_id) WHERE test_outcome IS NOT NULL ORDER BY module_path, start_pos_row"
    )
    with closing(sqlite3.connect(session)) as connection:
        rows = connection.execute(asked).fetchall()
    return [
        Outcome(f"{module}:{line} ({operator})", diff or "", str(outcome).casefold() != "survived")
        for module, line, operator, outcome, diff in rows
    ]


if __name__ == "__main__":
    main(sys.argv[1:])
