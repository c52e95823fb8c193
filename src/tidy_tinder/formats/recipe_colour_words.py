"""Words by which recipes name colours, of English, German, French, Spanish and Dutch, folded: no capitals, no accents.

Common words of these languages (common practice, no source). What they are taken for is in `recipe_colour_nouns` and
`recipe_capitals`.
"""

from __future__ import annotations

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_words import OR, OVER, UNDER

PIGMENTS = frozenset(
    (
        "umber sienna ochre ocher sepia ultramarine vermilion vermillion crimson scarlet carmine indigo viridian "
        "magenta turquoise teal maroon beige taupe khaki umbra siena ocker ultramarin zinnober karmin turkis "
        "sienne ocre outremer vermillon ecarlate dombre bermellon carmin anil escarlata omber oker ultramarijn "
        "vermiljoen karmijn scharlaken"
    ).split()
)
# Hues of languages in which the noun comes last, and of those in which what tells which comes after it.
HUES_LAST = frozenset(
    (
        "green red blue yellow brown grey gray orange pink purple violet grun rot blau gelb braun grau rosa lila "
        "violett groen rood blauw geel bruin grijs oranje roze paars"
    ).split()
)
HUES_FIRST = frozenset(
    "vert rouge bleu jaune brun marron gris verde rojo azul amarillo pardo naranja violeta morado".split()
)
NEUTRALS = frozenset("white black weiss schwarz blanc noir blanco negro wit zwart".split())
HUES = HUES_LAST | HUES_FIRST
NOUNS = PIGMENTS | HUES | NEUTRALS
# Things whose names are colours as well: by themselves among colours, or after “with”, they are meant as such.
THINGS = frozenset(
    (
        "peach cream plum rose lemon olive navy ivory canary coral salmon rust sand wine mustard charcoal slate "
        "apricot lavender lilac mint sage tan gold silver bronze copper chestnut chocolate coffee caramel honey "
        "amber aqua mauve fawn buff flesh straw terracotta mahogany pfirsich creme pflaume zitrone flieder lachs "
        "senf aubergine peche prune citron corail saumon moutarde ivoire lilas crema ciruela limon salmon mostaza "
        "marfil perzik pruim citroen zalm mosterd ivoor elfenbein koralle rost kupfer bernstein honig schokolade "
        "kastanie schiefer anthrazit mahagoni rouille cuivre miel chocolat chataigne ardoise anthracite oxido "
        "cobre castana pizarra koraal roest koper honing leisteen antraciet"
    ).split()
)
# German and Dutch write the tone before the hue, in one word. So short an ending asks for more before it: “parrot”.
_SHORT_ENDINGS = "rot rood weiss schwarz zwart ocker oker"
_LONG_ENDINGS = (
    "grun blau gelb braun grau rosa purpur violett turkis beige lila groen blauw geel bruin grijs roze paars"
)
ENDINGS = {**dict.fromkeys(_LONG_ENDINGS.split(), 3), **dict.fromkeys(_SHORT_ENDINGS.split(), 4)}
TONES = frozenset(
    (
        "dark pale light deep warm cool cold burnt raw bright dull muted soft mid medium olive moss sap navy ivory "
        "lemon dunkles helles warmes kaltes gebrannte gebrannter lichter fonce clair chaud froid brule brulee pale "
        "citron divoire natur naturel naturelle natural oscuro claro calido frio tostado tostada oliva limon donker "
        "licht koel koud gebrande olijf"
    ).split()
)
# What goes before a colour that was laid already and is meant by it, or that is asked for in words.
THE = frozenset("the this that which what der die das den dem welches le la les quel el los las de het welk".split())
DO = frozenset("add mix use lay put apply shade fill build start begin take try lighten darken deepen".split())
# Words that begin something new after a colour, or stand before one: what is no such word is what has the colour. A
# wash or an outline is the colour itself, laid.
SMALL = DO | THE | frozenset(map(fold, OVER | UNDER | OR)) | frozenset(
    (
        "a an on onto in into to at by for from with without along around across near behind between beside "
        "beneath below above where when while until till as and but not no is are be it its so everywhere there "
        "here again first next last instead only too also all then if wash washes tint base line lines outline "
        "outlines hatching ein eine einen auf im am an in mit ohne bei wo bis und nicht uberall etwas wenig "
        "bisschen schicht lasur un une des du dans avec sans pour vers ou et partout en peu couche lavis con sin "
        "para por hasta y todo poco capa op met een zonder voor bij waar tot overal beetje laag very quite rather "
        "really ganz sehr recht daruber hierauf tres assez muy bastante heel erg vrij"
    ).split()
)  # fmt: skip
# What a colour follows that is laid: “with Gorse Bloom”, “a touch of green”.
LAYING = frozenset(
    (
        "with w using use used add added apply applied lay laid layer glaze burnish mix mixed of then try tried take "
        "took put chose picked call avec con met gebruik prends pris usa toma"
    ).split()
)
# The same in German, where any noun has a capital.
LAYING_IN_GERMAN = frozenset("mit nimm aus zuletzt danach daruber schliesslich abschliessend".split())
# What may stand between one of these and a hue: “with a green”, “mit etwas Blau”.
SOME = frozenset("a an some the ein etwas un une le la el een".split())
IN = frozenset("in en".split())
# What is to be done with a colour, when and where: a hue beside nothing else is one to lay.
BARE = DO | frozenset(
    "first last again here there everywhere zuerst zuletzt uberall dabord partout eerst laatst".split()
)
# A hue that goes on with one of these is spoken of, not laid.
OTHERWISE = frozenset("is are of was".split())
# What is used beside pencils, and what is drawn: no colour ends so.
DAYS = frozenset(
    (
        "monday tuesday wednesday thursday friday saturday sunday montag dienstag mittwoch donnerstag freitag samstag "
        "sonntag lundi mardi mercredi jeudi vendredi samedi dimanche lunes martes miercoles jueves viernes sabado "
        "domingo maandag dinsdag woensdag donderdag vrijdag zaterdag zondag"
    ).split()
)
TOOLS = frozenset(
    "eraser towel tape knife paper pencil pencils brush solvent blender stump tissue cloth sharpener".split()
)
BESIDE_PENCILS = TOOLS | frozenset(
    "side edge area areas light shadow shadows layer layers step sheet book board".split()
)
# What is told of a drawing and is no colour: “Paper: Hot Pressed”.
ABOUT = frozenset(
    (
        "paper surface support board size format artist author by photo photographer reference source time hours "
        "duration medium media materials technique title tools tool brand brands date week day note notes tip tips "
        "level difficulty subject thanks copyright tag mood music place keyword "
        "tutorial project theme lesson video skill animal chapter supply supplies credit link style "
        "papier format grosse zeit kunstler foto vorlage werkzeug titel "
        "datum notiz material taille temps artiste modele outils titre remarque papel tamano tiempo artista "
        "herramientas titulo nota papier formaat tijd kunstenaar gereedschap"
    ).split()
)
