"""The page of benchmarks: a part replaces its own section, and nothing else is lost."""

from __future__ import annotations

from pathlib import Path

import pytest
from benchmarks.page import TARGET, merge, section
from benchmarks.part import machine_ticks, measured, stolen_between

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


def test_what_the_host_took_is_said_where_it_is_worth_a_word(tmp_path: Path) -> None:
    """The columns of proc(5): user, nice, system, idle, iowait, irq, softirq, steal, guest."""
    first, second = tmp_path / "first", tmp_path / "second"
    first.write_text("cpu  10 0 5 80 0 0 0 5 3\ncpu0 1 1 1 1 1 1 1 1 1\n", encoding="ascii")
    second.write_text("cpu  30 0 15 120 0 0 0 35 9\ncpu0 1 1 1 1 1 1 1 1 1\n", encoding="ascii")
    stolen = stolen_between(machine_ticks(first), machine_ticks(second))
    assert stolen == pytest.approx(0.3)
    assert "the host took 30% of the machine" in section("One", "", [], 1.0, "all of it", stolen)
    assert "host" not in section("One", "", [], 1.0, "all of it", 0.004)
    nowhere = machine_ticks(tmp_path / "nowhere")
    assert stolen_between(nowhere, nowhere) == 0


def test_how_fast_the_machine_was_is_said_where_a_clock_was_read() -> None:
    timed = measured(lambda: [("a thing", "1 s", "")])
    assert timed.loop_ms > 0
    assert "a million additions took 212 ms" in section("One", "", timed.rows, 1.0, "all of it", 0.0, 212.4)
    untimed = measured(None)
    assert "additions" not in section("One", "", untimed.rows, 1.0, "all of it", 0.0, untimed.loop_ms)
