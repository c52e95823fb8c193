"""Papers: added, changed against what was looked at, copied as a batch, removed unless something hangs on them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tidy_tinder.core.vocabulary import Tooth
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import ChangedMeanwhileError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.papers import PaperAs, add_paper, copy_paper, edit_paper, paper_pages, remove_paper

KRAFT = PaperAs("Kraft card", "", "brown", (63.0, 8.0, 24.0), Tooth.MEDIUM, 6, False, True, "")


def named(collection: Collection) -> list[str]:
    return [p.said.name for p in paper_pages(collection)]


def test_a_paper_is_added_changed_and_removed(empty: Collection) -> None:
    number, _ = add_paper(empty, KRAFT)
    page = next(p for p in paper_pages(empty) if p.id == number)
    assert (page.said, page.swatches) == (KRAFT, 0)
    edit_paper(empty, number, page.revision, replace(KRAFT, tooth=Tooth.ROUGH, notes="dusty"))
    with pytest.raises(ChangedMeanwhileError) as told:
        edit_paper(empty, number, page.revision, replace(KRAFT, tooth=Tooth.SMOOTH))
    assert {(v.field, v.yours, v.theirs) for v in told.value.versions} == {
        ("tooth", "smooth", "rough"), ("notes", "", "dusty"),
    }  # fmt: skip
    done = remove_paper(empty, number)
    assert named(empty) == ["White paper"]
    undo(empty, done.change_id)
    assert named(empty) == ["White paper", "Kraft card"]


def test_a_new_batch_is_the_same_but_for_its_swatches(demo: Collection) -> None:
    vellum = paper_pages(demo)[0]
    number, _ = copy_paper(demo, vellum.id)
    again, _ = copy_paper(demo, number)
    pages = {p.id: p for p in paper_pages(demo)}
    assert (pages[number].said.name, pages[again].said.name) == ("Vellum board, batch 2", "Vellum board, batch 3")
    assert (pages[number].swatches, pages[number].copied_from) == (0, "Vellum board")
    assert pages[number].said.lab == vellum.said.lab


def test_a_paper_with_swatches_and_the_last_one_stay(demo: Collection, empty: Collection) -> None:
    with pytest.raises(RefusedError, match=r"Vellum board stays: on it hang \d+ swatches"):
        remove_paper(demo, 1)
    with pytest.raises(RefusedError, match="the only paper"):
        remove_paper(empty, 1)


@pytest.mark.parametrize("wrong", [{"name": " "}, {"tooth": "hairy"}, {"most_layers": 0}, {"name": "White paper"}])
def test_what_no_paper_can_be_is_refused(empty: Collection, wrong: dict[str, Any]) -> None:
    with pytest.raises(RefusedError):
        add_paper(empty, replace(KRAFT, **wrong))
