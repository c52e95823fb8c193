"""Words that recipes are written in and that name no colour by themselves, folded: what is left is looked at twice.

Common words of English, and the smaller ones of German, French, Spanish and Dutch (common practice, no source). No word
stands here that is as often a colour as anything else: “straw”, “moss” and “slate” are asked about.
"""

from __future__ import annotations

import re
from functools import lru_cache

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_capitals import NUMBERS_AND_NOTES
from tidy_tinder.formats.recipe_colour_words import (
    ABOUT,
    BESIDE_PENCILS,
    DAYS,
    HUES,
    LAYING,
    LAYING_IN_GERMAN,
    NEUTRALS,
    PIGMENTS,
    SMALL,
    THINGS,
)
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_beside
from tidy_tinder.formats.recipe_words import FINISHES, LEADS, OF_LAYERS, REPEAT, ROLES, UNITS, is_qualifier

# Verbs in their first form; “blended”, “blending” and “blends” are found by it.
_VERBS = frozenset(
    (
        "accentuate achieve add adjust allow appear apply approach ask avoid balance be become begin bend blend blot "
        "blow blur breathe bring brighten brush build burnish buy call carry catch change check choose circle clean "
        "close colour color combine come compare complete connect consider continue control cool copy correct cover "
        "create cross curve cut dab darken dampen decide deepen define describe detail dilute dip direct disappear do "
        "dot drag draw drop dry dull ease emphasise emphasize end enhance enjoy ensure erase establish even expect "
        "explain fade feather feel fill find finish fit fix flatten flick flip flow focus fold follow forget form "
        "freshen frame get give glaze go grade gradate grab happen hatch have hear help highlight hint hit hold "
        "increase indicate inspect intensify join keep know lay layer learn leave let lie lift lighten like line load "
        "look loosen lose make map mark mask match mean merge mind mist mix model move mute need neutralise "
        "neutralize notice outline overlap overlay paint pass paste pat pay photograph pick pin place plan point "
        "polish post practise practice prefer prepare press pull push put raise reach read refine reinforce remain "
        "remember remove repeat replace rest restate rework rinse roll rotate rough round rub rule run save scan "
        "scratch scribble scrape seal see seem separate set shade shadow shape share sharpen shift show sign signal "
        "sit sketch skip smooth smudge soak soften spatter spray spread stand start stay steam step stick stipple "
        "stop store strengthen stretch stroke suggest swatch swap sweep swirl switch take tell tend test texture "
        "thank think tidy tilt tint tone touch trace transfer transition trim try turn twist understand unify use "
        "vary wait want warm wash watch wear wipe work worry wrap write"
    ).split()
)
# Forms that no ending tells.
_IRREGULAR = frozenset(
    (
        "am is are was were been being had has did done does went gone goes got gotten gave given kept knew known "
        "laid left lost made meant met mixt put read ran saw seen set shown took taken taught thought tried "
        "understood wore wrote written held found felt drew drawn began begun became brought built bought chose "
        "chosen cut came can could may might must shall should will would cannot can't couldn't don't doesn't didn't "
        "won't wouldn't isn't aren't wasn't it's i'm i've i'd i'll you're you've you'll you'd we're we've we'll "
        "that's there's let's they're what's here's"
    ).split()
)
PRONOUNS = frozenset(
    (
        "i you he she we they it me him her us them my your his our their mine yours its this that these those who "
        "which what whatever someone anyone everyone nobody oneself myself yourself itself themselves one ones"
    ).split()
)
_SMALL_WORDS = frozenset(
    (
        "a an the and or but nor so yet if then than as at by for from in into of off on onto out over per to toward "
        "towards under up upon with within without about above across after against along among around before behind "
        "below beneath beside besides between beyond down during except inside near next opposite outside past round "
        "since through throughout till until via while because though although unless whether when where why how "
        "whenever wherever again already also almost always anyway away back both each either else enough especially "
        "ever every everything everywhere exactly far few finally first fine forward further generally hardly hence "
        "here however instead just last later least less likewise little long lot lots many maybe meanwhile more most "
        "mostly much neither never no not nothing nowhere now often once only other others otherwise own part partly "
        "perhaps please possibly pretty probably quite rather really same several simply slightly some somehow "
        "something sometimes somewhat somewhere soon still straight such sure there therefore thing things thus "
        "together too twice very well whole yes ok okay hi hello etc eg ie vs nb ps btw w yep oh wow all any none "
        "nope half quarter third thirds two three four five six seven eight nine ten dozen couple pair bit hundred "
        "second secondly thirdly lastly overall ahead apart aside sideways upwards downwards inwards outwards upward "
        "downward inward outward today tomorrow yesterday overnight tonight everyday tiny"
    ).split()
)
# How things are, and what they are like, but not in a word of colour.
_QUALITIES = frozenset(
    (
        "able abrupt accurate bad best better big blotchy blunt bold brief broad broken busy careful circular clean "
        "clear close coarse complete consistent correct crisp curved deep deeper deepest dense different difficult "
        "distinct double dry early easy edge empty entire equal even extra faint fast fat final firm flat free fresh "
        "full fun furthest fuzzy general good great grainy happy hard harder hardest heavy heaviest high higher "
        "highest hot humid important irregular key large larger largest late left lightest lighter light loose low "
        "lower lowest main messy middle mild minimal missing narrow nearest neat new nice normal obvious old opaque "
        "open original overworked patchy perfect plain pointed pointy possible quick ready real right rough same "
        "scratchy seamless separate shaded sharp sharper shiny short shorter similar simple single slick slight slow "
        "small smaller smallest smooth smoother soft softer softest solid special steady sticky stiff straight strong "
        "stronger strongest subtle tacky tender thick thin thinner tidy tight top total translucent transparent true "
        "ugly under uneven uniform usual various visible vivid wavy waxy weak wet wide wider wrong damp dark darker "
        "darkest pale paler palest bright brighter brightest dull warm warmer warmest cool cooler coolest cold muted "
        "rich intense saturated neutral local muddy smudged worth"
    ).split()
)
# Of the work and the picture, and of whatever is told in passing; tools and parts of a drawing are known already.
ABOUT_THE_WORK = frozenset(
    (
        "advice angle area art artist artwork attempt background base beginner border bottom bristle centre center "
        "class coat colouring coloring comment contour contrast corner course cover crosshatch day depth detail "
        "difference direction distance dozen drawing dust edge effect element end example exercise experience face "
        "fibre finger fingers focal folder foreground form freehand friend fun gap gradient grain grip ground halo "
        "hand hatching hatch hour hours home house idea image information item job kind kit layer layering length "
        "lesson level light lighting line list look lot luck mark mask match mess message method middle minute "
        "minutes mistake moisture month motif movement name negative notebook number object option order outline page "
        "pad palette paper part patch path patience pattern pencil people person phone photo picture piece place "
        "plenty point position positive post pressure print problem process project question range reason recipe "
        "reference reflection rest result room row rule sample scene scrap season section sense series shade shadow "
        "shadows shape sheet side sign silhouette size sketch sketchbook sort source space spot spots square stage "
        "step steps stripe stripes stroke strokes studio style subject surface surround swatch table technique "
        "texture theme time times tin tip tips title tone tooth touch transition trick tutorial type value values "
        "variation version view viewer way week weeks weight width word words workshop world year years dabs daylight "
        "lamp window hands wrist elbow desk clip fan music break lunch dinner supper mail "
        "email link video strength intensity lightness darkness coverage buildup build-up underpainting underlayer "
        "undertone undercoat midtone midtones halftone highlight highlights pressure-free colour-free crosshatching "
        "catchlight glint underdrawing whisker lash eyelash wart wrinkle crease ridge groove hollow crack hole pit "
        "scale barb vein rib bump knot rim ring disc disk tick fold pleat seam hem roof wall door handle hill hills "
        "field teeth hull calyx stamen pistil sepal underside topside upside bg fg midground lid socket skull "
        "nail owl bird fish cat dog horse petal owner shop somebody code legend substitution "
        "instruction instructions intro shopping whole sitting sittings hot-pressed cold-pressed cast reflected "
        "complementary discontinued optional welcome alone squint breath dark darks lights whites shine shiny "
        "oval ovals untouched tired sunny shady furry hairy wrinkled cracked smidge speck specks veil veils whisper"
    ).split()
)
_OF_OTHERS = frozenset(
    (
        # German
        "aber abends alle alles als also am an auch auf aus bei beide beim bevor bis bisschen da dabei dadurch dafur "
        "damit danach dann daran darauf darin daruber darum darunter das dass dazu dem den der des deshalb deutlich "
        "die dies diese diesem diesen dieser dieses doch dort drei du durch ein eine einem einen einer eines einmal "
        "er erst erste ersten es etwas euch fertig fest fur ganz ganze ganzen gegen gehen geht gleich gut hab habe "
        "haben hat helle hellen heute hier hinten hinter ich ihr im immer in ins ist ja jede jeden jeder jedes jetzt "
        "kann kein keine keinen klein kleine kleinen kommt konnen kraftig kreisen kreisend langsam lassen lasst "
        "leicht leichte leichtem leichten letzte machen macht man mehr mehrere mein meine mich mir mit muss nach "
        "nachher nah neben nehmen nicht nichts nie nimm noch nochmal nun nur ob oben oder ohne rand rander mitte "
        "schatten flache flachen stellen stelle bereich bereiche seite papier weiss schicht schichten druck blatt "
        "blatter stift stifte farbe farben licht lichter sehr seid sein setzen sich sie sieht sind so sobald spater "
        "stark statt tief tiefen trocknen trocken uber uberall um und uns unten unter viel vom von vor vorn vorne "
        "vorsichtig warten was weg weich weiche weichen weiter wenig weniger wenn wer werden wie wieder wir wird wo "
        "zart ziehen zu zuerst zuletzt zum zur zwei zweite zweiten zwischen verblenden vermalen nachziehen polieren "
        "auslaufen anlegen schraffieren spitze spitzen spitzer schluss beginnen arbeiten ubergang ubergange dunkel "
        "dunkle dunklen hell grundschicht schattenseite lichtseite tiefste tiefster tiefstes aussparen ausgespart "
        "freilassen freigelassen "
        # French
        "a afin ainsi alors apres assez au aussi autour autre aux avant avec bas beaucoup bien bord bords bout ca car "
        "ce cela celle ces cet cette chaque comme commencer couche couches crayon crayons couleur couleurs dans de "
        "dedans dehors deja depuis dernier derniere derriere des dessous dessus deux deuxieme devant doit donc "
        "doucement droite du elle en encore enfin ensuite entre est et etape etre fait faire feuille fin fine finir "
        "fois fond fort forte frotter gauche haut il ils jamais je jusqu jusque la laisser laissez le leger legere "
        "legerement les leur lisser lumiere lumieres main mais meme mettre mieux milieu moins mon ne nos notre nous "
        "ombre ombres on ou par partie partout pas passer pendant petit petite petites petits peu plus point pointe "
        "poser pour pression premier premiere puis quand que quelques qui quoi rien sa sans se sec secher ses si son "
        "sont sous sur surtout tous tout toute toutes tres trois trop un une vers vite voila votre vous zone zones "
        "estomper polir appuyer appuye appuyez melanger melangez lustrer lustrez reflet reflets estompez passez prenez "
        "remplir contours contour "
        # Spanish
        "al algo alli antes aplicar aqui asi aunque bajo bien borde bordes cada capa capas casi claro color colores "
        "como con contra cual cuando cuidado dar de debajo dejar del derecha desde despues detras donde dos el ella "
        "ellos encima entonces entre es esa ese eso esta estas este esto fin final fondo fuerte hacer hacia hasta hay "
        "hoja igual izquierda la lado lapiz lapices las lo los luego luz luces mano mas mejor menos mientras mismo "
        "mucho muy nada ni no nos nunca o otra otro para parte pasar poco por porque presion primera primero pulir "
        "punta que quien se seco si sin sobre sola solo sombra sombras suave suavemente sus tambien tan te toda todas "
        "todo todos trazo trazos tres tu un una unas uno unos usar ya zona zonas segunda tercera difuminar "
        # Dutch
        "aan achter af alle alleen alles als andere bij binnen boven buiten daar daarna dan dat de deze die dit "
        "donker door drie droog dus een eerst eerste elke en er erg goed hand heb hebben heel het hier hoe iets ik in "
        "is ja kan klein kleine kleur kleuren kleurpotlood laag laat laatste laten lagen langs licht lichte lijn maak "
        "maar maken meer met midden mijn minder moet naar na naast nat niet niets nog nu of om onder ook op over "
        "overal paar per potlood potloden punt rand randen rustig samen schaduw schaduwen snel stap stevig stuk te "
        "tegen terug toe toen tot tussen twee uit van veel vlak vlakken voor vooral voorzichtig waar wat we weer weg "
        "weinig werk wel wil worden wordt zacht zachtjes zal ze zijn zo zoals zonder zwaar polijst polijsten laagje "
        "laagjes gebruik "
        # what is drawn
        "auge augen nase ohr ohren himmel wolke wolken baum baume berg berge horizont wasser haar haare fell schnauze "
        "flugel brust bauch kopf stangel stiel blute richtung kurze kurzen dunne dunnen wechsel adern kanten falten "
        "oeil yeux nez oreille oreilles ciel nuage nuages arbre arbres feuilles tige herbe eau mer cheveux pelage "
        "corps coeur petale petales nervure nervures levres joues tronc troncs horizon creux pli ojo ojos nariz oreja "
        "cielo nube nubes arbol arboles hojas tallo hierba agua mar pelo piel cuerpo petalos labios reflejos "
        "horizonte cerca flores centro oog ogen neus oor lucht boom bomen stam blad bladeren gras vacht huid kop "
        "hoofd borst buik poten veer veren slagschaduw grond schors"
    ).split()
)
_FAMILIAR = (
    _VERBS
    | frozenset(map(fold, _IRREGULAR))
    | PRONOUNS
    | _SMALL_WORDS
    | _QUALITIES
    | ABOUT_THE_WORK
    | _OF_OTHERS
    | frozenset(map(fold, LEADS | UNITS | OF_LAYERS))
    | SMALL
    | LAYING
    | LAYING_IN_GERMAN
    | ABOUT
    | BESIDE_PENCILS
    | DAYS
    | DONE
    | OF_WORK
    | NUMBERS_AND_NOTES
)
# Whatever else they are, these are colours as well.
_COLOURS = (
    THINGS | HUES | NEUTRALS | PIGMENTS | frozenset("chalk ink kreide tinte craie encre tiza tinta krijt inkt".split())
)
_ENDINGS = re.compile(r"(?P<stem>.{2,}?)(?P<doubled>(?P<last>[bdglmnprt])(?P=last))?(?:ing|ed|es|s)")
_COMPARED = re.compile(r"(?P<stem>.{2,}?)(?:er|est)")
# “Carefully” says how; “holly” and “barley” are things.
_ADVERB = re.compile(r".{3,}[^f\W]ly")
_FIGURES = re.compile(r"[\d.,%:/×x-]+(?:st|nd|rd|th)?", re.IGNORECASE)


# Verbs that a colour may be called by as well.
_NAMES_AS_WELL = frozenset("mist steam shadow shade line".split())


def joins_only(word: str) -> bool:
    """Whether a word is a verb or a small word, which is a colour nowhere: “just”, “flick”. German has capitals for its
    nouns, English for what it names.
    """
    folded = fold(word)
    if folded in _COLOURS or folded in _NAMES_AS_WELL:
        return False
    verb = folded in _VERBS or not _VERBS.isdisjoint(_stems(folded)) or folded in _IRREGULAR
    return folded in _OF_OTHERS or (word.islower() and (verb or folded in _SMALL_WORDS or folded in PRONOUNS))


@lru_cache(maxsize=4096)
def is_familiar(word: str) -> bool:
    """Whether a word, as it is written, is one that recipes are written in and names no colour by itself."""
    folded = fold(word)
    if folded in _COLOURS:
        return False
    if len(folded) < 2 or folded in _FAMILIAR or is_beside(folded) or is_qualifier(word) or _ADVERB.fullmatch(folded):
        return True
    if _FIGURES.fullmatch(word) or any(said.fullmatch(word) for said in (*FINISHES.values(), *ROLES.values(), REPEAT)):
        return True
    compared = _COMPARED.fullmatch(folded)
    if compared and not {compared["stem"], f"{compared['stem']}e"}.isdisjoint(_QUALITIES):
        return True
    return folded.removesuffix("s") in _FAMILIAR or any(stem in _VERBS for stem in _stems(folded))


def _stems(word: str) -> list[str]:
    """The first forms that a verb may have."""
    found = _ENDINGS.fullmatch(word)
    if found is None:
        return []
    stem = found["stem"] + (found["last"] or "")
    stems = [stem, found["stem"] + (found["doubled"] or ""), f"{stem}e"]
    return [*stems, f"{stem[:-1]}y"] if stem.endswith("i") else stems
