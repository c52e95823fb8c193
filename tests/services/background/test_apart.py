"""Work done in a process of its own."""

from __future__ import annotations

import os
import subprocess
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tidy_tinder.services.background.apart import Apart, OutdatedError, Say


@pytest.fixture
def apart() -> Iterator[Apart]:
    other = Apart()
    yield other
    other.close()


@pytest.fixture
def begun(monkeypatch: pytest.MonkeyPatch) -> list[Any]:
    """Every process that is begun from now on."""
    processes: list[Any] = []
    popen: Any = subprocess.Popen

    def begin(*args: Any, **how: Any) -> Any:
        processes.append(popen(*args, **how))
        return processes[-1]

    monkeypatch.setattr(subprocess, "Popen", begin)
    return processes


def counted(say: Say, words: list[str]) -> int:
    """Says each word, and how long they are together."""
    for word in words:
        say(word)
    return sum(map(len, words))


def waited_for_ever(say: Say) -> None:
    say("it waits")
    threading.Event().wait(600)


def niceness(_say: Say) -> tuple[int, str]:
    """Its own, and that of its session as a whole, as Linux has it (sched(7)); in a test's process nothing changes."""
    group = Path("/proc/self/autogroup")
    return os.nice(0), group.read_text(encoding="ascii").strip() if group.exists() else ""


def test_all_others_go_before_it_those_of_other_sessions_too(apart: Apart) -> None:
    own, of_its_session = apart.ask(print, niceness)
    assert own == 19
    assert of_its_session == "" or of_its_session.endswith("nice 10")
    assert os.nice(0) < 19


def test_it_answers_again_and_again_and_what_it_says_is_heard(apart: Apart, begun: list[Any]) -> None:
    heard: list[str] = []
    assert apart.ask(heard.append, counted, ["ochre", "umber"]) == 10
    assert apart.ask(heard.append, counted, ["slate"]) == 5
    assert heard == ["ochre", "umber", "slate"]
    assert len(begun) == 1


def test_where_the_other_process_is_killed_this_one_does_its_work(apart: Apart, begun: list[Any]) -> None:
    heard: list[str] = []
    apart.ask(heard.append, counted, ["ochre"])
    begun[0].kill()
    begun[0].wait()
    assert apart.ask(heard.append, counted, ["umber", "slate"]) == 10
    assert heard == ["ochre", "umber", "slate"]
    apart.ask(heard.append, counted, ["moss"])
    assert len(begun) == 2  # and the next question begins another
    apart.close()
    assert begun[1].returncode is not None


def test_who_does_not_want_the_answer_any_more_ends_the_other_process(apart: Apart, begun: list[Any]) -> None:
    class EnoughError(ValueError):
        pass

    def enough(word: str) -> None:
        raise EnoughError(word)

    with pytest.raises(EnoughError, match="ochre"):
        apart.ask(enough, counted, ["ochre", "umber"])
    assert begun[0].returncode is not None


def test_closed_from_another_thread_it_does_not_begin_the_work_here(apart: Apart, begun: list[Any]) -> None:
    closing = threading.Thread(target=apart.close)
    with pytest.raises(OutdatedError):
        apart.ask(lambda _word: closing.start(), waited_for_ever)
    closing.join()
    assert begun[0].returncode is not None
    with pytest.raises(OutdatedError):
        apart.ask(print, counted, ["ochre"])
    assert len(begun) == 1


def test_it_ends_with_the_program_that_began_it(apart: Apart, begun: list[Any]) -> None:
    apart.ask(print, counted, [])
    begun[0].stdin.close()  # as the system closes it for a program that was killed
    assert begun[0].wait(timeout=20) == 0
