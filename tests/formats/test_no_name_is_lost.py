"""Whatever a colour is called, and wherever a recipe lays it, it is read or asked for: none is lost in silence."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.test_recipe_text import CHARTS, read

from tidy_tinder.core.names.finding import Entry

# How colours are laid in sentences, lists and labels of five languages (common practice, no source).
SAID = """
- {n}, light
Use {n} on the cap.
Use {n} lightly on the cap, then 119.
Start with {n} and finish with 119.
119, then {n}, then 107
119, {n}, 107
119 / {n} / 107
119 + {n}
119 over {n}
{n} over 119
{n} under 119
119 first, {n} last
Cap: {n}
Cap: {n}, 119
Cap: 119, {n}
Cap: 119 light, {n} heavy
Cap = {n}
Cap → {n} → 119
1. {n} everywhere
2) {n} x2
Layer 1: {n} (light)
The shadows are {n} with a little 119.
Shade the left side with {n}, pressing harder at the rim.
A light layer of {n} covers the whole leaf.
I love {n} for this.
Glaze {n} over everything.
Glaze with {n}.
Next comes {n} along the edge.
Add a touch of {n} to the tip.
Darken with {n} and 119.
Blend {n} into 119.
Deepest darks: {n}
For the stem I used {n} and 107.
For the stem: {n} / 119
Stem {n}, 119
Stem ({n}), cap (119)
119 or {n}
{n} or 119
{n}; 119; 107
Burnish with {n}
Highlights in {n}
Outline in {n}, fill with 119
Fill with 119, outline in {n}.
{n} goes on first, 119 later.
{n} all over, then 119.
Put {n} on the left.
Two layers of {n}, one of 119
{n} and 119 mixed
mix 119 with {n}
2 x {n}
{n} 2x
119, 107 and {n}
My favourite: {n}!
Finish: {n}, burnish
Base coat {n}; second coat 119
“{n}” on the rim
Grundierung mit {n}, dann 119
Schatten: {n}
{n} leicht, 119 fest
Une couche de {n}, puis 119
Sombras con {n}
Schaduw met {n}
""".strip().split("\n")
# The same where a name in small letters has no place of its own: a capital tells.
SAID_WITH_CAPITALS = """
- {n}
{n} - light, all over
Then {n} in the folds.
Finally, {n}.
Deepest darks {n}
* {n} * 119
{n} in the middle, 119 outside
Danach {n} in den Schatten
Dann {n}, fest
Zuletzt {n} darüber
Puis {n} dans les ombres
Luego {n} en las sombras
Daarna {n} in de schaduw
""".strip().split("\n")
FIRST = "gilt tawny cinder orchid velvet marsh copperleaf thistledown saffron lunar basalt brindle juniper kelp".split()
SECOND = "reed veil lane mist hollow ridge loam bloom drift quartz meadow spire husk".split()
made_up = st.tuples(st.sampled_from(FIRST), st.sampled_from(SECOND)).map(" ".join)


def read_or_asked(name: str, said: str) -> bool:
    text = f"Study of a cap\n\nHeron\n{said.format(n=name)}\n107 light"
    return any(name.lower() in call.as_written.lower() for call in read(text).calls)


@given(made_up, st.sampled_from(SAID + SAID_WITH_CAPITALS))
def test_a_name_on_no_chart_is_asked_for(name: str, said: str) -> None:
    assert read_or_asked(name.title(), said)


@given(made_up, st.sampled_from(SAID))
def test_without_capitals_it_is_where_a_colour_has_its_place(name: str, said: str) -> None:
    assert read_or_asked(name, said)


NAMED = [
    entry
    for entry in CHARTS.entries
    if " " in entry.name and entry.name.replace(" ", "").isalpha() and len(CHARTS.resolve(entry.name).hits) == 1
]


@given(st.sampled_from(NAMED), st.sampled_from(SAID + SAID_WITH_CAPITALS), st.booleans())
def test_a_charted_name_of_several_words_is_read_or_asked_for(entry: Entry, said: str, small: bool) -> None:
    name = entry.name.lower() if small else entry.name
    text = f"Study of a cap\n\nHeron\n{said.format(n=name)}\n107 light"
    assert any(entry.key in (call.key, call.other, *call.candidates) for call in read(text).calls)


# What recipes say beside their colours, in which none is named.
SAID_OF_NONE = """
Work in small circles and keep the pressure even.
Then turn the paper and go over the shadow side.
Finally, step back and look.
Blend everything with a stiff brush.
Shadows are soft on the left.
Base: smooth and even, no streaks.
Finish: fixative, two light coats.
Outline in pencil first.
Add whiskers with a sharp point.
Two layers of tissue under your hand.
Put a clean sheet under your hand.
Use a blender pencil on the cheeks.
Stem (left side) comes later.
Cap: same as before.
Cap: see photo.
Eyes: leave for last.
Sky: let it dry overnight.
Then details, whiskers and claws.
Dann Details und Schnurrhaare.
Danach Pause machen.
Zuletzt Glanzlichter setzen.
Mit wenig Druck in Kreisen arbeiten.
Schatten: weich, ohne Kanten.
Puis fondre avec un pinceau sec.
Ombres : du côté gauche.
Avec une main légère.
Luego difuminar con algodón.
Sombras con poca presión.
Daarna rustig mengen.
I love this paper for fur.
Next comes the tail.
My favourite: the eyes!
Press harder at the base, lighter toward the tip.
Deepest darks last.
Step 3: texture.
Layer 2: follow the contour.
Drying: ten minutes
Time: about two hours
Level: easy
We draw from the Old Mill reference by Anna Berg.
""".strip().split("\n")


@pytest.mark.parametrize("said", SAID_OF_NONE)
def test_where_none_is_named_none_is_asked_for(said: str) -> None:
    calls = read(f"Study of a fox\n\nHeron\n119 light\n{said}").calls
    assert [call.as_written for call in calls if call.key is None] == []


BESIDE_ONE = """
119 over the whole leaf
119 over the lines
119 or skip it
119 / lightly
119 + solvent
119 → stop
119 in the creases, soft edges elsewhere
119 everywhere but the rim
119 then rest
119 plus patience
119 with a sharp tip, hatching
119 and breathe
119 (lower half)
119 for body colour
Start at the top with 119 and work down
""".strip().split("\n")


@pytest.mark.parametrize("said", BESIDE_ONE)
def test_beside_a_colour_other_words_are_none(said: str) -> None:
    assert [call.as_written for call in read(f"Study of a fox\n\nHeron\n{said}\n107 light").calls] == ["119", "107"]
