"""Swatches as files: a collection's go out and come back equal, twice changes nothing, what is not here is asked."""

from __future__ import annotations

from datetime import date

import pytest
from sqlalchemy import delete, func, select
from sqlalchemy.orm import aliased

from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.swatch_file.record import Ask, Said, White
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import InvalidFileError, RefusedError
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.exchange.swatches import (
    HowMany,
    SwatchFileKind,
    export_swatches,
    import_swatches,
    preview_swatches,
)
from tidy_tinder.services.journal import undo
from tidy_tinder.storage.models import Colour, Paper, Swatch


def swatches(collection: Collection) -> list[tuple[object, ...]]:
    """All that is kept of each swatch but its number, by names."""
    columns = [
        c for c in Swatch.__table__.columns if c.name not in ("id", "revision", "colour_id", "paper_id", "burnisher_id")
    ]
    other = aliased(Colour)
    query = (
        select(Colour.code, Paper.name, other.code, *columns)
        .join(Colour, Swatch.colour_id == Colour.id)
        .join(Paper, Swatch.paper_id == Paper.id)
        .outerjoin(other, Swatch.burnisher_id == other.id)
        .order_by(Swatch.id)
    )
    with collection() as session:
        return [tuple(row) for row in session.execute(query)]


def without_swatches(collection: Collection) -> None:
    with collection() as session:
        session.execute(delete(Swatch))
        session.commit()


@pytest.mark.parametrize("kind", SwatchFileKind)
def test_what_goes_out_comes_back_equal(demo: Collection, kind: SwatchFileKind) -> None:
    before = swatches(demo)
    assert len(before) > 400
    file = export_swatches(demo, kind)
    again, change = import_swatches(demo, file, Said())
    assert (again.new, again.same, again.changes_nothing, change) == (0, len(before), True, None)
    without_swatches(demo)
    taken, change = import_swatches(demo, file, Said())
    assert (taken.new, taken.problems, taken.asks) == (len(before), (), ())
    assert change is not None
    assert (change.label, change.rows) == (f"{len(before)} swatches taken in from a file", len(before))
    assert swatches(demo) == before
    undo(demo, change.change_id)
    assert swatches(demo) == []


def test_those_on_one_paper_go_out_alone(demo: Collection) -> None:
    with demo() as session:
        paper, name = session.execute(select(Paper.id, Paper.name).where(Paper.name == "Vellum board")).one()
        count = session.scalar(select(func.count(Swatch.id)).where(Swatch.paper_id == paper))
    without = export_swatches(demo, SwatchFileKind.CSV, paper)
    without_swatches(demo)
    assert preview_swatches(demo, without, Said()).papers == (HowMany(name, count or 0),)


def test_a_file_of_somebody_else_is_asked_about_and_taken_in(empty: Collection) -> None:
    import_catalogue(empty, b"range,code,name\nLane,7,Seven\nLane,8,Eight\n")
    with empty() as session:
        paper = session.scalar(select(Paper.name))
    file = b"Code;L*;a*;b*\n7;50;1;2\n#8;40;-1;-2,5\n"
    asked = preview_swatches(empty, file, Said())
    assert asked.asks == (Ask.RANGE, Ask.PAPER, Ask.PRESSURE, Ask.WHITE)
    with pytest.raises(InvalidFileError, match="range, paper, pressure, white"):
        import_swatches(empty, file, Said())
    said = Said("lane", paper, Pressure.HEAVY, White.D65)
    assert preview_swatches(empty, file, said).ranges == (HowMany("Lane", 2),)
    import_swatches(empty, file, said)
    with empty() as session:
        rows = session.execute(
            select(Swatch.lab_L, Swatch.lab_b, Swatch.pressure, Swatch.made_on).order_by(Swatch.id)
        ).all()
    assert [tuple(row[:3]) for row in rows] == [(50.0, 2.0, "heavy"), (40.0, -2.5, "heavy")]
    assert all(isinstance(row.made_on, date) for row in rows)
    # The file says no day, so the same values are the same reading.
    assert import_swatches(empty, file, said)[1] is None


def test_names_that_are_not_here_are_said_once_for_all(demo: Collection) -> None:
    file = export_swatches(demo, SwatchFileKind.CSV).replace(b"Vellum board", b"Old vellum")
    seen = preview_swatches(demo, file, Said())
    assert {problem.field for problem in seen.problems} == {"PAPER"}
    assert "“Old vellum”" in seen.problems[0].message
    assert preview_swatches(demo, file, Said(paper="Vellum board")).changes_nothing
    with pytest.raises(InvalidFileError, match="field PAPER"):
        import_swatches(demo, file, Said())


def test_codes_that_are_not_charted_and_marks_that_cannot_be_are_problems(empty: Collection) -> None:
    import_catalogue(empty, b"range,code,name\nLane,7,Seven\n")
    with empty() as session:
        paper = session.scalar(select(Paper.name))
    head = "range,code,paper,pressure,white,L,a,b,finish,burnisher_range,burnisher_code\n"
    laid = f"{paper},heavy,D65,50,1,1"
    rows = f"Lane,9,{laid},,,\nLane,7,{laid},burnished,,\nLane,7,{laid},,Lane,9\n"
    seen = preview_swatches(empty, (head + rows).encode(), Said())
    assert [(p.line, p.field) for p in seen.problems] == [(2, "CODE"), (3, "FINISH"), (4, "BURNISHER_CODE")]
    assert seen.new == 0


def test_nothing_measured_is_nothing_to_write(empty: Collection) -> None:
    with pytest.raises(RefusedError, match="no swatches"):
        export_swatches(empty, SwatchFileKind.CXF)


def test_ranges_of_one_name_are_told_apart_by_their_makers(empty: Collection) -> None:
    import_catalogue(empty, b"maker,range,code,name\nMill,Lane,7,Seven\nFord,Lane,7,Other\n")
    with empty() as session:
        paper = session.scalar(select(Paper.name))
    head = f"range,code,paper,pressure,white,L,a,b\nX,7,{paper},heavy,D65,50,1,1\n".encode()
    [wrong] = preview_swatches(empty, head.replace(b"X", b"Lane"), Said()).problems
    assert (wrong.field, "no range “Lane”" in wrong.message) == ("RANGE", True)
    import_swatches(empty, head.replace(b"X", b"Ford Lane"), Said())
    with empty() as session:
        assert session.scalar(select(Colour.name).join(Swatch, Swatch.colour_id == Colour.id)) == "Other"
    assert b"Ford Lane,7" in export_swatches(empty, SwatchFileKind.CSV)
