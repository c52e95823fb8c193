"""What stands near a colour: twins, grades, neighbours, the same pencil in other clothes."""

from __future__ import annotations

from tests.services.at_home import VELLUM, colour_id

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.tidy.kin import colour_kin
from tidy_tinder.services.tidy.shelves import shelves


def test_kin_knows_twins_grades_neighbours_and_sisters(demo: Collection) -> None:
    haw = colour_kin(demo, colour_id(demo, "Steadfast", "1240"), VELLUM)
    measured = [t for t in haw.twins if t.compared == "heavy on Vellum board"]
    assert measured
    assert all(t.relation.difference is not None and t.relation.difference.delta_e <= 5 for t in measured)
    # What parts two pencils is never less than what was seen where they were compared.
    assert all(t.relation.difference and t.parting.delta_e >= t.relation.difference.delta_e for t in measured)
    assert any(t.parts != t.compared for t in measured)
    assert [t.compared == "by chart" for t in haw.twins] == sorted(t.compared == "by chart" for t in haw.twins)
    tint = next(
        c.colour.id
        for c in shelves(demo, VELLUM)[0].by_id.values()
        if c.colour.range_name == "Steadfast" and c.colour.name.endswith("30 %")
    )
    family = colour_kin(demo, tint, VELLUM).family
    assert len(family) == 3
    assert {f.colour.range_name for f in family} == {"Steadfast"}
    fly_cap = colour_kin(demo, colour_id(demo, "Heron", "119"), VELLUM)
    assert [s.colour.range_name for s in fly_cap.sisters] == ["Wader"]
    for n in fly_cap.neighbours:
        assert n.difference is not None
        assert {"a step lighter": n.difference.delta_L > 0, "a step darker": n.difference.delta_L < 0}.get(
            n.words, True
        )
