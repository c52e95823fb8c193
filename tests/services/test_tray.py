"""The tray: in order of value, with the holes of its ladder."""

from __future__ import annotations

import pytest
from tests.services.at_home import VELLUM, colour_id

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.tray import empty_tray, put_in_tray, tray


def test_the_tray_stands_in_order_of_value_with_its_gaps(demo: Collection) -> None:
    ids = [colour_id(demo, "Heron", code) for code in ("119", "102", "129")]
    done = put_in_tray(demo, ids, True)
    found = tray(demo, VELLUM)
    values = [c.order.value for c in found.cards if c.order]
    assert values == sorted(values, reverse=True)
    assert all(g.lighter - g.darker >= 2 for g in found.gaps)
    assert found.gaps
    assert put_in_tray(demo, ids[:1], True) is None
    put_in_tray(demo, ids[:1], False)
    assert len(tray(demo, VELLUM).cards) == 2
    empty_tray(demo)
    assert tray(demo, VELLUM).cards == ()
    assert done is not None
    assert done.label == "3 colours into the tray"
    with pytest.raises(RefusedError, match="72"):
        put_in_tray(demo, list(range(1, 90)), True)
