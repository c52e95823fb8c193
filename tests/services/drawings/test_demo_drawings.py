"""The demo's drawings: what belongs to each, and picks that are what the core finds in the pictures today."""

from __future__ import annotations

import json
from importlib import resources

import numpy as np
import pytest
from tools.demo_pictures.__main__ import MAIN
from tools.demo_pictures.picked import CAP, main_ones, picked_at

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.demo.drawings import DRAWINGS
from tidy_tinder.demo.loader import load_demo
from tidy_tinder.formats.picture.decoding import decode_picture
from tidy_tinder.formats.picture.kinds import REFERENCE
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.view import drawing_cards
from tidy_tinder.services.reference.sections import sections_of
from tidy_tinder.services.reference.view import reference_cards
from tidy_tinder.storage.models import PictureState, SectionState

FOLDER = resources.files("tidy_tinder.demo").joinpath("data/pictures")


def test_four_drawings_with_their_pictures_and_recipes_and_one_at_hand(empty: Collection) -> None:
    load_demo(empty)
    cards = drawing_cards(empty)
    assert [card.said.name for card in cards] == [one.name for one in reversed(DRAWINGS)]
    assert [card.at_hand for card in cards] == [True, False, False, False]
    assert all(len(card.recipes) == 1 for card in cards)
    picks = {card.said.name: reference_cards(empty, card.id)[0] for card in cards}
    assert {name: card.picks for name, card in picks.items()} == {
        "Scarlet cap": 12, "Brackets on bark": 10, "Chanterelle gills": 8, "Moss and slate": 0,
    }  # fmt: skip
    # They are opened once the program serves: the first start waits for none of them.
    assert {card.state for card in picks.values()} == {PictureState.WAITING}
    states = [s.state for s in sections_of(empty, cards[1].id).sections]
    assert states[:5] == [SectionState.DONE] * 3 + [SectionState.BUILDING, SectionState.TO_DO]


@pytest.mark.parametrize("name", ["scarlet-cap", "brackets-on-bark", "gills-from-below"])
def test_the_demos_picks_are_what_is_found_in_its_pictures(name: str) -> None:
    kept = json.loads(FOLDER.joinpath("picks.json").read_text(encoding="utf-8"))[name]
    pixels = decode_picture(FOLDER.joinpath(f"{name}.jpg").read_bytes(), REFERENCE).pixels
    found = picked_at(pixels, CAP) if name == "scarlet-cap" else main_ones(pixels, MAIN[name])
    assert len(found) == len(kept)
    for one, other in zip(found, kept, strict=True):
        assert float(delta_e_2000(np.array(one["lab"]), np.array(other["lab"]))) < 0.5
        assert (one["x"], one["y"]) == pytest.approx((other["x"], other["y"]), abs=0.02)
