"""The page of benchmarks: a part replaces its own section, and nothing else is lost."""

from __future__ import annotations

from benchmarks.page import TARGET, merge, section

PAGE = "# Old head\n\n## One\n\nfirst\n\n## The suite\n\nwritten by hand\n"


def test_a_run_replaces_its_own_section_and_keeps_the_others() -> None:
    page = merge(
        merge(PAGE, [section("Two", "How.", [("a", "1 ms", "2 ms")], 3.0, "a sample")]),
        [section("One", "", [], 1.0, "all of it")],
    )
    assert [line for line in page.splitlines() if line.startswith("## ")] == ["## One", "## Two", "## The suite"]
    assert "first" not in page
    assert "| a | 1 ms | 2 ms |" in page
    assert page.endswith("written by hand\n")
    assert merge(page, [section("One", "", [], 1.0, "all of it")]) == page


def test_the_committed_page_is_one_that_a_run_can_merge_into() -> None:
    page = TARGET.read_text(encoding="utf-8")
    assert merge(page, []) == page
