"""A catalogue taken in: previewed, whole or not at all, and twice changes nothing."""

from __future__ import annotations

from importlib import resources

import pytest
from sqlalchemy import func, select

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import InvalidFileError
from tidy_tinder.services.exchange.catalogue import import_catalogue, preview_catalogue
from tidy_tinder.services.journal import collection_version, undo
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.storage.models import Colour, ColourRange, Pencil

GOOD = (
    b"maker,range,code,name,L,a,b,opacity,owned\n"
    b"Mill,Lane,1,One,50,10,10,semi,1\n"
    b"Mill,Lane,2,Two,60,10,10,,2\n"
    b"Mill,Brook,1,Three,,,,,\n"
)


def counts(collection: Collection) -> tuple[int, int, int]:
    with collection() as session:
        return tuple(session.scalar(select(func.count(t.id))) or 0 for t in (ColourRange, Colour, Pencil))  # type: ignore[return-value] # three tables, three counts


def version(collection: Collection) -> int:
    with collection() as session:
        return collection_version(session)


def test_a_preview_says_what_would_be_done_and_does_nothing(empty: Collection) -> None:
    seen = preview_catalogue(empty, GOOD)
    assert (seen.new_colours, seen.changed_colours, seen.new_pencils, seen.without_colour) == (3, 0, 3, 1)
    assert seen.ranges == ("Mill Lane", "Mill Brook")
    assert counts(empty) == (0, 0, 0)


def test_it_is_taken_in_whole_in_the_order_of_the_file(empty: Collection) -> None:
    import_catalogue(empty, GOOD)
    assert counts(empty) == (2, 3, 3)
    cards, shelved = shelves(empty, 1)
    assert [[cards.by_id[c.colour_id].colour.code for c in s.colours] for s in shelved] == [["1", "2"], ["1"]]


def test_the_same_file_twice_changes_nothing(empty: Collection) -> None:
    import_catalogue(empty, GOOD)
    before = version(empty)
    seen, change = import_catalogue(empty, GOOD)
    assert seen.changes_nothing
    assert change is None
    assert version(empty) == before


def test_the_demos_own_catalogue_changes_nothing_in_the_demo(demo: Collection) -> None:
    content = resources.files("tidy_tinder.demo").joinpath("data/catalogue.csv").read_bytes()
    seen = preview_catalogue(demo, content)
    assert (seen.changes_nothing, seen.same_colours) == (True, 400)


def test_one_bad_line_keeps_all_of_it_out(empty: Collection) -> None:
    with pytest.raises(InvalidFileError, match=r"line 3, column a"):
        import_catalogue(empty, GOOD.replace(b"60,10,10", b"60,x,10"))
    assert counts(empty) == (0, 0, 0)


def test_corrections_are_counted_and_undone(empty: Collection) -> None:
    import_catalogue(empty, GOOD)
    seen, change = import_catalogue(empty, GOOD.replace(b"Two", b"Deux"))
    assert (seen.changed_colours, seen.same_colours) == (1, 2)
    assert change is not None
    undo(empty, change.change_id)
    assert preview_catalogue(empty, GOOD).changes_nothing


def test_a_blank_cell_keeps_what_is_known(empty: Collection) -> None:
    import_catalogue(empty, GOOD)
    seen = preview_catalogue(empty, b"maker,range,code,name\nMill,Lane,1,One\n")
    assert seen.changes_nothing


def test_owned_counts_add_but_never_take_away(empty: Collection) -> None:
    import_catalogue(empty, GOOD)
    fewer = GOOD.replace(b"semi,1", b"semi,0").replace(b",,2", b",,5")
    seen, _ = import_catalogue(empty, fewer)
    assert (seen.new_pencils, seen.more_pencils_here) == (3, 1)
    assert counts(empty)[2] == 6


def test_undo_takes_a_whole_catalogue_back(empty: Collection) -> None:
    _, change = import_catalogue(empty, GOOD)
    assert change is not None
    undo(empty, change.change_id)
    assert counts(empty) == (0, 0, 0)
