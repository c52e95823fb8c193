"""Orders of layers: each once, the one asked for first, what burnishes always on top."""

from __future__ import annotations

from math import factorial

from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.layers import Layer, orders, turned
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

LAYERS = st.lists(
    st.builds(Layer, st.integers(1, 9), st.sampled_from(MARK_PRESSURES), st.integers(1, 3)),
    min_size=1, max_size=3, unique=True,
)  # fmt: skip


@given(LAYERS, st.booleans())
def test_every_order_comes_once_and_burnishing_stays_last(layers: list[Layer[int]], rubbed: bool) -> None:
    finish = [Layer(99, Pressure.BURNISH)] if rubbed else []
    each = orders([*layers, *finish])
    assert each[0] == (*layers, *finish)
    assert len(set(each)) == len(each) == factorial(len(layers))
    assert all(sorted(order, key=repr) == sorted([*layers, *finish], key=repr) for order in each)
    assert all(list(order[len(layers) :]) == finish for order in each)
    if len(layers) > 1:
        assert each[1] == turned([*layers, *finish]) == (*reversed(layers), *finish)
    assert turned(turned([*layers, *finish])) == (*layers, *finish)


def test_the_same_layer_twice_has_no_other_order() -> None:
    one = Layer(1, Pressure.LIGHT)
    assert orders([one, one]) == ((one, one),)
