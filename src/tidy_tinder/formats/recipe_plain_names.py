"""Names without capitals and without a word of colour, where a colour is laid: “finish with gorse bloom”.

Nothing in the words says that a colour is meant; only their place does, and that they are none of the tools, strokes
and places that recipes speak of in it. English alone: the lists are of its words (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_colour_nouns import beside, is_small, with_grade
from tidy_tinder.formats.recipe_colour_words import BESIDE_PENCILS, TONES
from tidy_tinder.formats.recipe_words import FINISHES, ROLES

# Words of such a name, and letters of one that has a single word.
_MOST, _LONG = 3, 4
# What is laid follows these; “of” only after what one takes of a colour: “a touch of gorse bloom”.
_LAID_BY = frozenset("with w using use used add apply glaze mix try".split())
TAKEN_OF = frozenset(
    "touch bit bits hint hints dab dabs dot dots speck specks dash pinch drop blush little trace veil "
    "layer layers coat wash glaze base film whisper".split()
)
# “I'm grabbing my sea glass”
_TAKEN_UP = frozenset("grab grabbing grabbed take taking took pick picked up out for".split())
# So far back it is looked what a part goes on with: in a line of thousands of parts each would else read all before it.
_BACK = 80
# A further name after one that is laid: “with kelp and hollow reed”.
_FURTHER = re.compile(
    rf"\b(?:{'|'.join(sorted(_LAID_BY))})\s(?:[\w’'-]+\s){{0,3}}?[\w’'-]+\s*(?:and|,|\+|&)\s*$", re.IGNORECASE
)
# Tools, materials, ways of working, and whatever else goes on after “with”.
_BESIDE = BESIDE_PENCILS | frozenset(
    (
        "tortillon cotton swab bud wool finger fingertip fingernail thumb sandpaper emery blade scalpel razor needle "
        "stylus embosser ruler mask masking frisket fixative spray varnish spirit oil alcohol thinner turpentine gesso "
        "primer gouache paint ink pen marker pastel chalk graphite charcoal wax powder putty tack adhesive glue film "
        "foil plastic glass glassine board card canvas vellum easel lamp daylight magnifier loupe camera photo "
        "photograph picture reference grid tracing sketch drawing outline line stroke circle dot dash hatch pressure "
        "hand touch grip wrist arm point tip nib lead core corner care patience caution confidence practice time ease "
        "luck love rest break motion movement direction angle rhythm speed way method technique approach help rule "
        "idea stage start finish detail texture grain pattern form shape mass volume contour highlight tone value hue "
        "colour color contrast temperature saturation depth gradient transition half everything anything nothing "
        "something other one same both each that those these this what which them it her him me you us day night hour "
        "minute week session more less much most enough little few lot bit pair set range brand box tin page notes "
        "note list recipe version sample swatch test chart wash coat tool signature name date"
    ).split()
)
# What is drawn: as much as such words are names of colours (“peach stone”), one by itself is a place.
DRAWN = frozenset(
    (
        "eye eyelid brow pupil iris nose nostril muzzle beak ear mouth lip tongue face head neck throat chin cheek "
        "breast chest rump flank mane hoof horn antler fin body back belly tail leg paw claw foot wing feather fur "
        "hair whisker skin leaf petal stem stalk branch twig bark trunk tree root cap gill flower fruit seed grass "
        "sky ground earth soil stone rock water wave cloud horizon distance background foreground middle centre center "
        "bottom left right front rear inside outside part place spot section"
    ).split()
)
# Words before a noun that make it a way of working or a place, whatever the noun is.
OF_WORK = frozenset(
    (
        "circular directional overlapping parallel vertical horizontal diagonal curved straight short long small tiny "
        "large big broad thin thick fine sharp sharpened pointed blunt clean kneaded mechanical tracing workable "
        "odourless odorless gentle careful patient steady quick slow even uneven loose tight relaxed left right upper "
        "lower inner outer main basic simple whole entire other another different similar any every all your my his "
        "their our low high matte gloss bare harder softer heavier lighter darker paler warmer cooler"
    ).split()
)
# “Highlights in paper white”, “a layer of wax builds up”: what is there before any colour.
GROUND = frozenset("paper papel papier wax wachs cire cera".split())
_CONJUNCTIONS = frozenset("because since though although before after once so".split())
# What is done next: “with 106 and blend well”.
DONE = frozenset(
    (
        "blend move leave fill repeat lift keep work build let wait come make switch return finish start stop turn "
        "wipe clean check compare look draw erase press push pull drag sweep brush spray dry shade soften smooth go "
        "goes gets looks turns becomes is was are were"
    ).split()
)


def is_beside(word: str) -> bool:
    """Whether a folded word is what is used beside pencils, or what is drawn: one or many of it."""
    return is_drawn(word) or not {word, word.removesuffix("s")}.isdisjoint(_BESIDE)


def is_drawn(word: str) -> bool:
    """Whether a folded word is what is drawn: one or many of it."""
    one = "leaf" if word == "leaves" else word.removesuffix("s")
    return not {word, one}.isdisjoint(DRAWN)


def plain_names(line: str, tokens: Sequence[re.Match[str]]) -> Iterator[tuple[int, int]]:
    """Where a part of a line may name colours by nothing but their place: start and end of each, in the line.

    tokens: the words of the part that were not read as anything else, in their order.
    """
    for at in range(len(tokens)):
        begins = tokens[at].start()
        further = at == 0 and bool(_FURTHER.search(line[max(begins - _BACK, 0) : begins]))
        if not further and not _lays(line, tokens, at):
            continue
        end = at
        while end < len(tokens) and (end == at or beside(line, tokens, end)) and not ends_a_name(tokens[end].group()):
            end += 1
        words = [token.group() for token in tokens[at:end]]
        # “with bridge of nose”: a part of something.
        if end < len(tokens) and fold(tokens[end].group()) == "of":
            continue
        if may_be_a_name(words) and not (further and (len(words) == 1 or fold(words[0]) in DONE)):
            yield tokens[at].start(), tokens[with_grade(line, tokens, end) - 1].end()


def ends_a_name(word: str) -> bool:
    """Whether a name is over before a word."""
    return is_small(word) or fold(word) in _CONJUNCTIONS


def _lays(line: str, tokens: Sequence[re.Match[str]], at: int) -> bool:
    """Whether what stands at a place is laid by the word before it."""
    if at == 0 or not beside(line, tokens, at):
        return False
    before = fold(tokens[at - 1].group())
    if before == "of":
        return at > 1 and fold(tokens[at - 2].group()) in TAKEN_OF
    if before == "little":
        return at > 1 and fold(tokens[at - 2].group()) == "a"
    if before == "my":
        return at > 1 and fold(tokens[at - 2].group()) in _LAID_BY | _TAKEN_UP
    return before in _LAID_BY or (before == "layer" and at == 1)


def may_be_a_name(words: Sequence[str]) -> bool:
    """Whether words are none that are known to be something else."""
    if not 0 < len(words) <= _MOST or any(not word.islower() for word in words):
        return False
    first, last = fold(words[0]), fold(words[-1])
    if (
        last in _BESIDE
        or first in OF_WORK | GROUND
        or (len(words) == 1 and (last in DRAWN | TONES or len(last) < _LONG))
    ):
        return False
    if any(known.fullmatch(last) for known in (*FINISHES.values(), *ROLES.values())):
        return False
    # “small petals”, “shading”: many of something, and what is done.
    several, done = re.fullmatch(r".*[^s]s", last), re.fullmatch(r".*(?:ing|[^e]ed)", last)
    return not several and not done
