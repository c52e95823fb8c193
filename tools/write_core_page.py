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
            lines = [f"| `{_signature(node)}` | {_first_line(node)} |" for node in public]
            parts.append("\n".join([f"### `{module}`", "", "| function | what |", "|---|---|", *lines, ""]))
    return "\n".join(parts)


def _signature(node: ast.FunctionDef) -> str:
    """The function with the types of what it takes and gives, as they are written; keyword-only ones after a star."""
    given = node.args
    taken = [_typed(argument) for argument in (*given.posonlyargs, *given.args)]
    if given.vararg:
        taken.append(f"*{_typed(given.vararg)}")
    elif given.kwonlyargs:
        taken.append("*")
    taken += [_typed(argument) for argument in given.kwonlyargs]
    gives = f" → {ast.unparse(node.returns)}" if node.returns else ""
    # A bar would end the cell of the table.
    return f"{node.name}({', '.join(taken)}){gives}".replace("|", "\\|")


def _typed(argument: ast.arg) -> str:
    return f"{argument.arg}: {ast.unparse(argument.annotation)}" if argument.annotation else argument.arg


def _first_line(node: ast.FunctionDef) -> str:
    """The docstring's first sentence, on one line."""
    text = " ".join((ast.get_docstring(node) or "").split("\n\n")[0].split())
    return text.replace("|", "\\|")


if __name__ == "__main__":
    main()
