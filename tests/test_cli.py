"""The command line: what it prints, what it refuses in words, one program on one collection."""

from __future__ import annotations

import errno
import json
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import closing
from http import HTTPStatus
from pathlib import Path
from urllib.request import Request

import pytest

from tests.conftest import demo_copy
from tidy_tinder.cli import main
from tidy_tinder.web.kept_answers import KeptAnswers

COMMAND = Path(sys.executable).parent / "tidy-tinder"
GOOD = "range,code,name,L,a,b,owned\nLane,1,Red Gate,45,60,35,1\nLane,2,Old Gate,42,52,30,0\nLane,3,Brick,48,50,30,1\n"

Run = Callable[..., "subprocess.CompletedProcess[str]"]


def await_that(holds: Callable[[], bool]) -> None:
    """Look until something holds; fails after a minute without it."""
    for _ in range(600):
        if holds():
            return
        time.sleep(0.1)
    raise AssertionError("it did not come to hold within a minute")


@pytest.fixture
def data(demo_file: Path, tmp_path: Path) -> Path:
    """A folder with a copy of the demo."""
    folder = tmp_path / "demo"
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    return folder


@pytest.fixture
def process() -> Run:
    """The installed command, in a process of its own."""

    def command(*arguments: object, code: int = 0) -> subprocess.CompletedProcess[str]:
        done = subprocess.run([COMMAND, *map(str, arguments)], capture_output=True, text=True, timeout=120, check=False)
        assert done.returncode == code, done.stderr
        assert "Traceback" not in done.stderr
        return done

    return command


@pytest.fixture
def run(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> Run:
    """The command's own entry point, called here: starting a process takes longer than what most commands do."""

    def command(*arguments: object, code: int = 0) -> subprocess.CompletedProcess[str]:
        monkeypatch.setattr(sys, "argv", ["tidy-tinder", *map(str, arguments)])
        capsys.readouterr()
        ended: object = 0
        try:
            main()
        except SystemExit as end:
            ended = end.code
        said = capsys.readouterr()
        assert ended == code, said.err
        return subprocess.CompletedProcess(sys.argv, code, said.out, said.err)

    return command


@pytest.fixture
def served(data: Path) -> Iterator[str]:
    """The demo's copy, served by the real command; its address."""
    process = subprocess.Popen(
        [COMMAND, "serve", "--demo", "--data", data, "--port", "0"],
        stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
    )  # fmt: skip
    assert process.stdout is not None
    yield process.stdout.readline().strip()
    process.terminate()
    process.communicate(timeout=20)


def test_stand_ins_in_words_and_as_json(process: Run, run: Run, data: Path) -> None:
    said = process("standins", "Heron 126", "--on", "vellum", "--demo", "--data", data).stdout
    assert said.startswith("Heron 126 Cherry Stone, heavy, on Vellum board, closest overall")
    assert "measured or predicted on this paper" in said
    asked = ("standins", "Heron 126", "--on", "vellum", "--closest", "value", "--json", "--data", data)
    found = json.loads(run(*asked).stdout)
    ranked = [one["ranked_by"] for one in found["on_this_paper"]]
    assert ranked == sorted(ranked)
    assert found["closest"] == "value"


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["standins", "119", "--on", "vellum"], "can mean"),
        (["standins", "Bracken M12", "--on", "vellum"], "do not belong together"),
        (["standins", "Heron 119", "--on", "parchment"], "No paper is called"),
        (["standins", "Heron 119", "--on", "board"], "can mean"),
        (["standins", "nothing like it", "--on", "vellum"], "No colour is called"),
    ],
)
def test_what_is_not_clear_is_said_in_words(run: Run, data: Path, arguments: list[str], said: str) -> None:
    assert said in run(*arguments, "--data", data, code=1).stderr


def test_a_catalogue_is_previewed_taken_in_and_changes_nothing_twice(run: Run, tmp_path: Path) -> None:
    file, mine = tmp_path / "mine.csv", tmp_path / "mine"
    file.write_text(GOOD, encoding="utf-8")
    assert "Would add 3 colours" in run("import-catalogue", file, "--preview", "--data", mine).stdout
    assert "Added 3 colours, 0 corrections, 2 pencils (Lane)" in run("import-catalogue", file, "--data", mine).stdout
    assert "nothing changed" in run("import-catalogue", file, "--data", mine).stdout
    file.write_text(GOOD.replace("45,60", "450,60").replace("Brick", ""), encoding="utf-8")
    told = run("import-catalogue", file, "--data", mine, code=1).stderr
    assert "line 2, column L, a, b" in told
    assert "line 4, column name" in told
    assert "was not taken in" in told


def test_backup_and_restore_by_command(run: Run, tmp_path: Path) -> None:
    data, target, new = tmp_path / "mine", tmp_path / "all.zip", tmp_path / "new"
    (tmp_path / "mine.csv").write_text(GOOD, encoding="utf-8")
    run("import-catalogue", tmp_path / "mine.csv", "--data", data)
    assert "Backed up into" in run("backup", target, "--data", data).stdout
    assert "exists already" in run("backup", target, "--data", data, code=1).stderr
    assert "There is no collection" in run("backup", tmp_path / "x.zip", "--data", tmp_path / "none", code=1).stderr
    assert "Restored the backup of" in run("restore", target, "--data", new).stdout
    asked = ("standins", "Old Gate", "--on", "paper", "--data")
    assert "Red Gate" in (before := run(*asked, data).stdout)
    assert run(*asked, new).stdout == before
    assert "before-restore" in run("restore", target, "--data", new).stdout
    as_json, third = tmp_path / "all.json", tmp_path / "third"
    assert "as JSON" in run("backup", as_json, "--json", "--data", data).stdout
    run("restore", as_json, "--data", third)
    assert run(*asked, third).stdout == before
    target.write_bytes(target.read_bytes()[:2000])
    told = run("restore", target, "--data", new, code=1).stderr
    assert "This backup cannot be restored" in told
    assert "Nothing was changed" in told


def test_a_served_collection_is_backed_up_but_not_written_by_others(
    process: Run, run: Run, data: Path, served: str, tmp_path: Path
) -> None:
    assert served.startswith("http://127.0.0.1:")
    file, target = tmp_path / "mine.csv", tmp_path / "all.zip"
    file.write_text(GOOD, encoding="utf-8")
    for arguments in (["import-catalogue", file], ["serve", "--port", "0"]):
        told = process(*arguments, "--data", data, code=1).stderr
        assert "The collection is in use" in told
        assert served in told
    run("backup", target, "--data", data)
    assert "The collection is in use" in run("restore", target, "--data", data, code=1).stderr
    # Reading needs no lock.
    assert "Cherry Stone" in run("standins", "Heron 126", "--on", "vellum", "--data", data).stdout


def test_a_port_that_is_taken_and_one_that_is_none(process: Run, served: str, tmp_path: Path) -> None:
    port = served.rstrip("/").rsplit(":", 1)[1]
    assert f"Port {port} is taken" in process("serve", "--port", port, "--data", tmp_path / "x", code=1).stderr
    assert f"Port {port} is taken" in process("reader", "--port", port, code=1).stderr
    for command in (["serve", "--data", tmp_path / "x"], ["reader"]):
        for wrong in ("99999", "-1", "seven"):
            assert "--port" in process(*command, "--port", wrong, code=2).stderr


def test_a_port_that_may_not_be_used_is_said_to_be_so(
    run: Run, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    def forbidden(*_: object) -> None:
        raise PermissionError(errno.EACCES, "Permission denied")

    monkeypatch.setattr(socket.socket, "bind", forbidden)
    for command in (["serve", "--data", tmp_path / "x"], ["reader"]):
        assert "Port 80 may not be used by this account" in run(*command, "--port", "80", code=1).stderr


COMMANDS = (
    ["serve", "--port", "0"],
    ["standins", "x", "--on", "y"],
    ["import-catalogue", __file__],
    ["backup", "b.zip"],
)


@pytest.mark.parametrize("command", [*COMMANDS, ["restore", __file__]], ids=lambda command: command[0])
def test_a_folder_that_cannot_be_used_is_said_in_words_by_every_command(
    run: Run, tmp_path: Path, command: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    file = tmp_path / "letters.txt"
    file.write_text("Dear aunt", encoding="utf-8")
    if command[0] != "backup":
        assert "a file stands where a folder is needed" in run(*command, "--data", file, code=1).stderr
        assert "cannot be used" in run(*command, "--data", "/proc/nowhere", code=1).stderr
    else:
        assert "There is no collection in" in run(*command, "--data", file, code=1).stderr
    assert file.read_text(encoding="utf-8") == "Dear aunt"


@pytest.mark.parametrize("command", COMMANDS, ids=lambda command: command[0])
@pytest.mark.parametrize(
    ("error", "said"),
    [
        (OSError(errno.ENOSPC, "No space left on device"), "There is no room left on the disk"),
        (OSError(errno.EROFS, "Read-only file system", "/there"), "/there may not be written"),
        (PermissionError(errno.EACCES, "Permission denied", "/there"), "/there may not be written"),
    ],
    ids=["full", "read-only", "forbidden"],
)
def test_a_disk_that_takes_nothing_is_said_in_words_by_every_command(
    run: Run, data: Path, command: list[str], error: OSError, said: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whatever is opened first fails as the system lets it fail: the tests run as a user who may write everywhere."""

    def fails(*_: object, **__: object) -> None:
        raise error

    monkeypatch.chdir(data)
    for place in ("commands.opening.open_collection", "storage.archive.tempfile.TemporaryDirectory"):
        monkeypatch.setattr(f"tidy_tinder.{place}", fails)
    assert said in run(*command, "--data", data, code=1).stderr


def test_a_file_that_is_no_collection_is_refused_by_every_command(process: Run, tmp_path: Path) -> None:
    folder = tmp_path / "letters"
    folder.mkdir()
    (folder / "collection.sqlite").write_bytes(b"Dear aunt, thank you for the pencils. " * 60)
    for arguments in (["serve", "--port", "0"], ["standins", "Heron 126", "--on", "vellum"]):
        assert "something else than a Tidy Tinder collection" in process(*arguments, "--data", folder, code=1).stderr


@pytest.mark.parametrize("how", [signal.SIGINT, signal.SIGTERM])
def test_after_a_clean_stop_the_collection_is_its_one_file(data: Path, tmp_path: Path, how: signal.Signals) -> None:
    """Five of twelve recipes stood only in the write-ahead log, which nobody copies."""
    process = subprocess.Popen(
        [COMMAND, "serve", "--data", data, "--port", "0"], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    address = process.stdout.readline().strip()
    for number in range(5):
        body = json.dumps({"text": f"Leaf {number}\nHeron\n126, medium\n"}).encode()
        asked = urllib.request.Request(f"{address}api/recipes", body, {"Content-Type": "application/json"})
        with urllib.request.urlopen(asked, timeout=30) as answer:
            assert answer.status == 200
    process.send_signal(how)
    try:
        said = process.communicate(timeout=30)[1]
    finally:
        process.kill()
    assert "Traceback" not in said
    assert sorted(p.name for p in data.iterdir()) == ["collection.lock", "collection.sqlite", "worked-out"]
    copy = tmp_path / "copied" / "collection.sqlite"
    copy.parent.mkdir()
    shutil.copy(data / "collection.sqlite", copy)
    with closing(sqlite3.connect(copy)) as connection:
        assert connection.execute("SELECT count(*) FROM recipe").fetchone() == (12,)


def test_what_is_answered_at_the_door_is_what_the_application_answers(data: Path) -> None:
    """The first page is kept when the program stops, and no longer holds once anything was written."""

    def served(then: Callable[[str], None]) -> None:
        process = subprocess.Popen([COMMAND, "serve", "--data", data, "--port", "0"], stdout=subprocess.PIPE, text=True)
        assert process.stdout is not None
        try:
            then(process.stdout.readline().strip())
        finally:
            process.terminate()
            process.communicate(timeout=30)

    def asked(address: str) -> None:
        for part in ("collection", "tidy?paper=1", "tray?paper=1"):
            with urllib.request.urlopen(f"{address}api/{part}", timeout=30) as answer:
                said[f"/api/{part}"] = answer.read().decode()

    said: dict[str, str] = {}
    served(asked)
    first = dict(said)
    assert KeptAnswers(data / "collection.sqlite").read() == first
    served(asked)
    assert said == first
    run_standins = ["standins", "Heron 126", "--on", "vellum", "--data", str(data)]
    subprocess.run([COMMAND, *run_standins], check=True, capture_output=True)
    assert KeptAnswers(data / "collection.sqlite").read() == first
    catalogue = data / "mine.csv"
    catalogue.write_text(GOOD, encoding="utf-8")
    subprocess.run([COMMAND, "import-catalogue", catalogue, "--data", data], check=True, capture_output=True)
    assert KeptAnswers(data / "collection.sqlite").read() == {}
    served(asked)
    assert "Red Gate" in said["/api/tidy?paper=1"]


def test_who_is_killed_at_rest_leaves_the_first_page_for_the_next_start(data: Path) -> None:
    """What was written is in it; once more is written, it holds no longer."""
    process = subprocess.Popen([COMMAND, "serve", "--data", data, "--port", "0"], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    address = process.stdout.readline().strip()
    kept = KeptAnswers(data / "collection.sqlite")

    def own(owned: bool) -> None:
        body = json.dumps({"colour_ids": [1], "owned": owned}).encode()
        headers = {"Content-Type": "application/json"}
        with urllib.request.urlopen(Request(f"{address}api/tidy/owned", body, headers), timeout=30) as answer:
            assert answer.status == HTTPStatus.OK

    def tidy() -> str:
        with urllib.request.urlopen(f"{address}api/tidy?paper=1", timeout=30) as answer:
            return str(answer.read().decode())

    try:
        tidy()
        own(False)
        own(True)
        await_that(lambda: bool(kept.read()))
        assert kept.read()["/api/tidy?paper=1"] == tidy()
        own(False)
        assert kept.read() == {}
        own(True)
        await_that(lambda: bool(kept.read()))
        said = tidy()
    finally:
        process.kill()
        process.communicate(timeout=30)
    left = kept.read()
    assert list(left) == ["/api/collection", "/api/tidy?paper=1", "/api/tray?paper=1"]
    assert left["/api/tidy?paper=1"] == said


def test_help_names_every_command(process: Run) -> None:
    said = process("--help").stdout
    for name in ("serve", "import-catalogue", "standins", "backup", "restore", "reader"):
        assert name in said
