"""Words of a recipe that were read as nothing and may name a colour: said, so that none is lost in silence.

The names are made up, as everywhere; that such words are written so is common practice, no source.
"""

from __future__ import annotations

from importlib import resources

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.formats.test_recipe_text import CHARTS, read

from tidy_tinder.formats.recipe_familiar import is_familiar
from tidy_tinder.formats.recipe_figures import mask_figures
from tidy_tinder.formats.recipe_left import words_left
from tidy_tinder.formats.recipe_ranges import ranges_at
from tidy_tinder.formats.recipe_reading import ReadStep
from tidy_tinder.formats.recipe_words import TOKEN


def left(step: ReadStep) -> list[str]:
    return [step.text[start:end] for start, end in step.left]


def left_in(line: str, taken: tuple[str, ...] = ()) -> list[str]:
    """The words left in a line where some were read."""
    places = [(line.index(words), line.index(words) + len(words)) for words in taken]
    return [line[start:end] for start, end in words_left(line, places, CHARTS)]


@pytest.mark.parametrize(
    ("line", "read", "asked"),
    [
        ("Deepen with periwinkle + dove near the stalk", ("periwinkle",), ["dove"]),
        ("wing: (1) ash bark (2) copper moth hard (3) moonmilk over all", (), ["ash bark", "copper moth", "moonmilk"]),
        ("hills near: pine needle, cocoa nib in the shade", (), ["pine needle", "cocoa nib"]),
        ("burnish: rice paper", (), ["rice paper"]),
        ("Cordovan – spots", (), ["Cordovan", "spots"]),
        # What is drawn is a colour where colours stand.
        ("stalk – Twig", (), ["Twig"]),
        ("dimple – Grass Snake & Twig mixed", ("Grass Snake",), ["dimple", "Twig"]),
        ("rows: Iris, then 119", ("119",), ["Iris"]),
        ("dimple – Twig & Grass Snake mixed", ("Grass Snake",), ["dimple", "Twig"]),
        ("Then Bone Handle on the dark side", (), ["Bone Handle"]),
        # A hue, and what is a colour as well.
        ("the lemon gets some blue in it, with 119", ("119",), ["lemon", "blue"]),
        ("in the end dove, then 119", ("119",), ["dove"]),
        ("a touch of the copper beech, 119", ("119",), ["copper beech"]),
        ("Hauch Eisblume auf dem Himmel", (), ["Hauch Eisblume"]),
    ],
)
def test_what_may_name_a_colour_is_asked_about(line: str, read: tuple[str, ...], asked: list[str]) -> None:
    assert left_in(line, read) == asked


@pytest.mark.parametrize(
    ("line", "read"),
    [
        ("Work in small circles and keep the pressure even.", ()),
        ("Blend carefully, then leave it to dry for 10 minutes", ()),
        ("Map the cap with 119, light, leaving the warts bare", ("119",)),
        # Where it is laid.
        ("119 along the soft furry muzzle, 107 into the sooty corners", ("119", "107")),
        ("Quarry wall: 119", ("119",)),
        # The names of ranges, papers' sizes, dates and links.
        ("Heron pencils, Vellum board", ()),
        ("Heron pencils, A4, 3/11/2024, see www.example.org/oat-straw", ()),
        ("Mit leichtem Druck über den ganzen Himmel", ()),
        ("Passez une deuxième couche très légère sur les feuilles", ()),
        ("Una segunda capa muy suave en las hojas", ()),
        ("Nog een laagje op de bladeren", ()),
    ],
)
def test_what_recipes_are_written_in_is_not(line: str, read: tuple[str, ...]) -> None:
    assert left_in(line, read) == []


def test_a_heading_over_colours_names_none_and_one_over_nothing_may() -> None:
    steps = read(
        "Study\n\nHeron\n\nMoonmilk\n119 light\n107\n\nthistledown\n119\n\n"
        "Saffron\n119\n\nDriftwood:\nleave it and saffron\n"
    ).steps
    said = {step.text: left(step) for step in steps if step.kind == "heading"}
    assert (said["Moonmilk"], said["Driftwood:"]) == ([], ["Driftwood"])
    # Without a capital, and where the recipe has it for a colour elsewhere.
    assert (said["thistledown"], said["Saffron"]) == (["thistledown"], ["Saffron"])


def test_what_a_letter_stands_for_is_read_where_the_letter_is_laid() -> None:
    steps = read("Study\n\nHeron\nthen 119, and P = Oat\nP all over\nQ = Moonmilk\n").steps
    assert [left(step) for step in steps] == [[], [], [], ["Moonmilk"]]


def test_what_is_named_again_is_not_what_was_laid_before() -> None:
    """“Moonmilk again” laid what the step before it had, without a question."""
    step = read("Study\n\nHeron\n- 119 light\n- rim: moonmilk again, softly\n- the gills again\n").steps
    assert [call.as_written for call in step[2].calls] == []
    assert left(step[2]) == ["moonmilk"]
    assert [call.key for call in step[3].calls] == [call.key for call in step[1].calls]


def test_a_long_first_line_that_may_name_a_colour_is_no_title() -> None:
    reading = read("ok so first im grabbing my sea glass and just scribbling that all over the iris\nthen 119 light\n")
    assert left(reading.steps[0]) == ["sea glass"]


def test_a_list_in_one_line_is_no_title() -> None:
    reading = read("1 Driftwood 2 Moonmilk 3 Cinder Toffee\nLeaf 119 light\n")
    assert "Driftwood" in " ".join([*left(reading.steps[0]), *(call.as_written for call in reading.steps[0].calls)])


def test_in_the_demos_recipes_there_is_nothing_to_look_through() -> None:
    for text in (resources.files("tidy_tinder.demo") / "data/recipes").iterdir():
        for step in read(text.read_text(encoding="utf-8")).steps:
            assert left(step) == [], step.text


@pytest.mark.parametrize(
    "word", ["straw", "slate", "moss", "Linen", "Amber", "Raven", "ginger", "clover", "holly", "ink"]
)
def test_no_name_of_a_colour_passes_for_a_common_word(word: str) -> None:
    """Endings must not make them verbs: “linen” is no form of “line”, “copper” none of “copy”."""
    assert not is_familiar(word)


@pytest.mark.parametrize(
    "word", ["blended", "hatching", "applies", "tidied", "softest", "firmer", "Don’t", "slowly", "2nd"]
)
def test_forms_of_common_words_are_known(word: str) -> None:
    assert is_familiar(word)


LINES = st.lists(
    st.sampled_from(
        "the in with over and 119 107 M12 Heron moonmilk driftwood Twig leaf light , . : – + & / ( ) 50% x2 Oat".split()
    ),
    max_size=14,
).map(" ".join)


@given(LINES)
def test_every_word_is_read_or_left_or_known(line: str) -> None:
    for step in read(f"Study\n\n- {line}\n107 light").steps:
        calls = [(call.start, call.end) for call in step.calls]
        spans = sorted([*calls, *step.left])
        assert list(step.left) == sorted(step.left)
        assert all(0 <= start < end <= len(step.text) for start, end in step.left)
        assert not any(a < end and start < b for a, b in calls for start, end in step.left)
        known = [(start, end) for start, end, _ in ranges_at(step.text, CHARTS)]
        for token in TOKEN.finditer(mask_figures(step.text, CHARTS).line):
            inside = any(start <= token.start() < end for start, end in (*spans, *known))
            assert inside or is_familiar(token.group()) or _has_its_place(step.text, token.start()), (step, token)


def _has_its_place(line: str, at: int) -> bool:
    """Whether a word stands after an article, or before a colon."""
    return "the " in line[:at] or ":" in line[at:]


MADE_UP = st.lists(
    st.sampled_from("moonmilk driftwood cordovan periwinkle thicket quill ember raven linen sorrel".split()),
    min_size=1, max_size=2, unique=True,
).map(" ".join)  # fmt: skip
SAYING = (
    "{n}", "then {n} and smooth it out", "stalk – {n}", "wing: (1) {n} (2) 119", "119, {n}; blend", "a bit of {n} here",
    "once more {n} in the gaps", "mix 119 + {n}", "for the shade I went for {n}", "und dann {n}", "{n} para el fondo",
)  # fmt: skip


@given(MADE_UP, st.sampled_from(SAYING))
def test_a_name_on_no_chart_is_read_or_left(name: str, saying: str) -> None:
    reading = read(f"Study of a cap\n\nHeron\n- {saying.format(n=name)}\n107 light")
    said = [call.as_written for call in reading.calls] + [words for step in reading.steps for words in left(step)]
    assert all(any(word in words for words in said) for word in name.split())
