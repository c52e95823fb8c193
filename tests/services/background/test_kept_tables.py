"""Mixed tables outlive the program that mixed them, and nothing but the very same table is taken for one."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.services.at_home import keep_every

from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layers import COATS, Coat
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.standins.pairs import PairTable, mix_pairs
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.kept_tables import KeptTables, fingerprint
from tidy_tinder.services.background.runtime import Collection, fitted, mixed_pairs, open_collection
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.storage.models import Paper

PAPER = PaperModel(np.full(BANDS.size, 0.85), 0.5, 1.9, ((Pressure.LIGHT, 1.1),))
PENCILS = {
    key: PencilModel(np.linspace(0.1 * key, 2.0, BANDS.size), np.full(BANDS.size, 0.2)) for key in (3, 5, 8)
}  # fmt: skip


def same(one: PairTable | None, other: PairTable) -> bool:
    return one is not None and all(
        np.array_equal(getattr(one, part), getattr(other, part)) for part in ("L", "a", "b", "lower", "upper", "coat")
    )


def test_a_kept_table_is_read_as_it_was_mixed(tmp_path: Path) -> None:
    table, name = mix_pairs(PENCILS, PAPER), fingerprint(PENCILS, PAPER, COATS)
    kept = KeptTables(tmp_path / "worked-out")
    assert kept.read(name, tuple(PENCILS), COATS) is None
    kept.keep(name, table)
    assert same(KeptTables(tmp_path / "worked-out").read(name, tuple(PENCILS), COATS), table)
    assert [p.name for p in (tmp_path / "worked-out").iterdir()] == [f"pairs-{name}.npz"]


@pytest.mark.parametrize(
    ("pencils", "paper", "coats"),
    [
        ({3: PENCILS[3], 5: PENCILS[5]}, PAPER, COATS),
        ({**PENCILS, 8: replace(PENCILS[8], softness=1.01)}, PAPER, COATS),
        ({**PENCILS, 8: replace(PENCILS[8], absorption=PENCILS[8].absorption + 1e-9)}, PAPER, COATS),
        (PENCILS, replace(PAPER, grain=0.51), COATS),
        (PENCILS, replace(PAPER, exponent=2.0), COATS),
        (PENCILS, replace(PAPER, load_factors=()), COATS),
        (PENCILS, replace(PAPER, body=PAPER.body * 0.99), COATS),
        (PENCILS, PAPER, (*COATS, Coat(Pressure.LIGHT, 2))),
    ],
)
def test_whatever_a_table_rests_on_gives_it_another_name(
    pencils: dict[int, PencilModel], paper: PaperModel, coats: tuple[Coat, ...]
) -> None:
    assert fingerprint(pencils, paper, coats) != fingerprint(PENCILS, PAPER, COATS)


@pytest.mark.parametrize("damage", [b"", b"not a table", None])
def test_a_damaged_file_is_mixed_anew(tmp_path: Path, damage: bytes | None) -> None:
    kept = KeptTables(tmp_path)
    kept.keep("one", mix_pairs(PENCILS, PAPER))
    file = tmp_path / "pairs-one.npz"
    file.write_bytes(file.read_bytes()[:-300] if damage is None else damage)
    assert kept.read("one", tuple(PENCILS), COATS) is None
    # A whole file of other pencils is none of this table.
    kept.keep("one", mix_pairs({3: PENCILS[3], 5: PENCILS[5]}, PAPER))
    assert kept.read("one", tuple(PENCILS), COATS) is None


def test_only_the_newest_files_are_kept_and_a_full_disk_is_no_failure(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    kept, table = KeptTables(tmp_path), mix_pairs(PENCILS, PAPER)
    for number in range(9):
        kept.keep(str(number), table)
    assert len(list(tmp_path.iterdir())) == 6

    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(np, "savez", full)
    kept.keep("more", table)
    assert kept.read("more", tuple(PENCILS), COATS) is None


def test_the_next_program_finds_what_this_one_mixed(
    demo: Collection, surveys: Surveys, monkeypatch: pytest.MonkeyPatch
) -> None:
    def mixed(collection: Collection) -> PairTable:
        with collection() as session:
            known = fitted(session)
            assert known is not None
            assert session.get(Paper, 1) is not None
            table = mixed_pairs(session, known, known.survey.papers[1], 1, None).table
        assert table is not None
        return table

    few = keep_every(12, demo)
    first = mixed(few)
    few.close()

    def never(*_: object) -> None:
        raise AssertionError("it was mixed again")

    monkeypatch.setattr("tidy_tinder.services.background.pair_tables.mix_pairs", never)
    next_program = open_collection(few.database, surveys)
    assert same(mixed(next_program), first)
    next_program.close()


def test_a_table_that_cannot_be_kept_stops_nothing(tmp_path: Path, caplog: pytest.LogCaptureFixture) -> None:
    (tmp_path / "worked-out").write_bytes(b"a file where the folder should be")
    KeptTables(tmp_path / "worked-out").keep("x", mix_pairs(PENCILS, PAPER))
    assert "was not kept" in caplog.text
