"""What the words of a step say beside its colours: what it is for, whether something dries, and what else it takes.

English, German, French, Spanish and Dutch. What a word could mean otherwise is left out rather than guessed: “sand” is
a beach as often as it is paper.
"""

from __future__ import annotations

import re

from tidy_tinder.core.vocabulary import Material, Purpose, SaidPurpose
from tidy_tinder.formats.recipe_negations import what_is_done

# In the order in which they are asked: “blend with solvent” blends, “burnish the highlights” burnishes.
_PURPOSES = (
    (
        Purpose.RESIST,
        r"resist|impress\w*|indent\w*|white first|weiß zuerst|blanc d'abord|blanco primero|wit eerst|reserve the white",
    ),
    (Purpose.BURNISH, r"burnish\w*|polier\w*|lustr\w*|bruñ\w*|polijst\w*"),
    (
        Purpose.BLEND,
        r"blend\w*|solvent|dissolve|verblend\w*|lösungsmittel|estomp\w*|solvant|difumin\w*|disolvente|"
        r"oplosmiddel|meng\w*",
    ),
    (Purpose.LIFT, r"lift(?:s|ed|ing)? (?:out|off|the|a|some|with|it|them)\b.*|heb\w* .*heraus|levant\w*|erase[sd]?"),
    (Purpose.GLAZE, r"glaz\w*|lasur\w*|lasier\w*|glacis|veladura\w*|glacer\w*"),
    (Purpose.HIGHLIGHT, r"highlights?|glanzlicht\w*|reflets?|brillos?|hooglicht\w*"),
    (Purpose.DEEPEN, r"deepen\w*|darken\w*|vertief\w*|abdunkel\w*|fonc(?:er|ez|é\w*)|oscure\w*|verdiep\w*|donkerder"),
    (Purpose.MAP, r"map(?:s|ped|ping)?|block in|anlegen|esquiss\w*|mancha\w*|opzet\w*"),
    (
        Purpose.BASE,
        r"base(?: layer| coat)?|undercoat|underlayer|first layer|grundschicht|sous-couche|capa base|"
        r"onderlaag",
    ),
    (Purpose.BUILD, r"build(?:s|ing)?(?: up)?|body|local colou?r|aufbau\w*|aufbauen|monter|construi\w*|opbouw\w*"),
)
_MATERIALS = {
    Material.SOLVENT: r"solvents?|(?:mineral|white|odou?rless) spirits?|turpentine|lösungsmittel|terpentin\w*|solvant|"
    r"essence|disolvente|trementina|oplosmiddel|terpentijn",
    Material.SPRAY: r"fixatives?|spray\w*|fixativ|fixier\w*|fixatif|aérosol|fijador|fixatief|sprühen|besprüh\w*",
    Material.BLADE: r"blades?|scalpel|craft knife|knife|scratch(?:ed|es|ing)? (?:out|in|back|off)|scrap(?:e|ed|ing) "
    r"(?:out|back|off)|klinge|skalpell|messer|lame|cuchilla|bisturí|mesje",
    Material.DUST: r"sandpaper|sanding|sand(?:ed)? (?:down|back|off)|powdered pigments?|pigment powder|pencil dust|"
    r"shavings|schleifpapier|schmirgel\w*|papier de verre|ponc(?:er|age)|lija|schuurpapier",
    Material.GRAPHITE: r"graphite|pencil (?:outlines?|lines?|sketch)|graphit\w*|bleistift\w*|mine de plomb|grafito|"
    r"grafiet|potlood(?:lijn|schets)\w*",
    Material.WHITE_INK: r"gel pen|white (?:ink|pen|gouache|paint|acrylic|marker)|gelstift|"
    r"weiße (?:tusche|tinte|gouache)|encre blanche|gouache blanche|tinta blanca|witte inkt",
}
# Leaves and grass have blades, too: where one is a place, or of a plant, it is no tool.
_GROWING = (
    r"(?:on|along|over|across|at|into|in|down|up|round|under) (?:the|each|every|both|a) (?:\w+ )?blades?|"
    r"(?:grass|leaf|leaves'?|reed|iris|corn) blades?|blades? of (?:\w+ ){0,2}(?:grass|leaf|leaves|reeds?|iris|corn)"
)
_WAITS = (
    r"(?:let|leave|allow)\b.{0,30}\bdry|dry (?:overnight|completely|first)|until (?:it(?:'s| is) )?dry|"
    r"wait\b.{0,20}\b(?:minutes?|hours?|dry|overnight)|trocknen|laisser sécher|dejar secar|laten drogen"
)
_PLACES = (
    r"(?:in|into|on|at|along|under|round|toward|towards|over) the \w*\s?(?:gaps?|cracks?|hollows?|folds?|creases?|"
    r"grooves?|veins?|tips?|edges?|rims?|foot|top|bottom|sides?|corners?|spots?|shadows?|centre|center|darks?|lights?)|"
    r"(?:shadow|light|sunny|far|near|left|right|under|dark) ?side|turn of the|here and there|in places|only|"
    r"deep folds?|stellenweise|in den (?:lücken|ritzen|falten|tiefen)|am rand|par endroits|dans les (?:creux|plis)|"
    r"en zonas|hier en daar|in de (?:plooien|hoeken)"
)


def _words(pattern: str) -> re.Pattern[str]:
    return re.compile(rf"(?<!\w)(?:{pattern})(?!\w)", re.IGNORECASE)


_PURPOSE_OF = tuple((purpose, _words(pattern)) for purpose, pattern in _PURPOSES)
_MATERIAL_OF = {material: _words(pattern) for material, pattern in _MATERIALS.items()}
_GROWS = _words(_GROWING)
_WAITING = _words(_WAITS)
_IN_PLACES = _words(_PLACES)


def purpose_in(text: str) -> SaidPurpose:
    """What the words of a step say that it is for; "" where they do not."""
    done = what_is_done(text)
    return next((purpose for purpose, pattern in _PURPOSE_OF if pattern.search(done)), "")


def waits_in(text: str) -> bool:
    """Whether the words say that it is left to dry."""
    return _WAITING.search(text) is not None


def in_places(text: str) -> bool:
    """Whether the words say that it goes only in places: the gaps, an edge, the shadow side."""
    return _IN_PLACES.search(text) is not None


def materials_in(text: str) -> frozenset[Material]:
    """What the words name that something is to be minded with: in “no solvent”, too, since a caution too many does no
    harm.
    """
    tools = _GROWS.sub(" ", text)
    return frozenset(material for material, pattern in _MATERIAL_OF.items() if pattern.search(tools))
