"""Write the list of the core's public functions into docs/core.md, between its two marks.

Run: python -m tools.write_core_page (a test holds the page to the code)
"""

from __future__ import annotations

import ast
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src/tidy_tinder/core"
PAGE = ROOT / "docs/core.md"
BEGIN, END = "<!-- functions: written by tools/write_core_page.py -->", "<!-- end of functions -->"


def main() -> None:
    """Write it."""
    PAGE.write_text(with_functions(PAGE.read_text(encoding="utf-8")), encoding="utf-8")


def with_functions(page: str) -> str:
    """The page with the list as the code has it now."""
    head, rest = page.split(BEGIN)
    return f"{head}{BEGIN}\n\n{functions()}\n{END}{rest.split(END)[1]}"


def functions() -> str:
    """A table for each module that has public functions."""
    parts = []
    for path in sorted(CORE.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        public = [node for node in tree.body if isinstance(node, ast.FunctionDef) and not node.name.startswith("_")]
        if public:
            module = path.relative_to(CORE.parents[1]).with_suffix("").as_posix().replace("/", ".")
            lines = [f"| `{node.name}({_arguments(node)})` | {_first_line(node)} |" for node in public]
            parts.append("\n".join([f"### `{module}`", "", "| function | what |", "|---|---|", *lines, ""]))
    return "\n".join(parts)


def _arguments(node: ast.FunctionDef) -> str:
    given = node.args
    names = [argument.arg for argument in (*given.posonlyargs, *given.args)]
    return ", ".join([*names, *(f"*{given.vararg.arg}" for _ in [0] if given.vararg)])


def _first_line(node: ast.FunctionDef) -> str:
    """The docstring's first sentence, on one line."""
    text = " ".join((ast.get_docstring(node) or "").split("\n\n")[0].split())
    return text.replace("|", "\\|")


if __name__ == "__main__":
    main()
