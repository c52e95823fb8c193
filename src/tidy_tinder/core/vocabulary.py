"""The closed words of the trade and the limits of what is laid, said once for core, storage, files and interface.

The values are what the database and the files hold.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Literal, TypeAlias


class Pressure(StrEnum):
    """How hard a pencil is pressed; burnishing rubs what lies below smooth."""

    LIGHT = "light"
    MEDIUM = "medium"
    HEAVY = "heavy"
    BURNISH = "burnish"


MARK_PRESSURES = (Pressure.LIGHT, Pressure.MEDIUM, Pressure.HEAVY)
"""The pressures at which a mark is made and measured, from light to heavy."""

MarkPressure: TypeAlias = Literal[Pressure.LIGHT, Pressure.MEDIUM, Pressure.HEAVY]
"""One of MARK_PRESSURES."""


SaidPressure: TypeAlias = Pressure | Literal[""]
"""What a recipe says of the pressure; "" where it says nothing."""


class Opacity(StrEnum):
    """Class of cover, as a chart prints it or an opacity test finds it."""

    TRANSPARENT = "transparent"
    SEMI = "semi"
    OPAQUE = "opaque"


PrintedOpacity: TypeAlias = Opacity | Literal[""]
"""What a chart prints of the cover; "" where it prints nothing."""


class Effect(StrEnum):
    """What else a pencil does; only ordinary ones are modelled."""

    ORDINARY = "ordinary"
    METALLIC = "metallic"
    NEON = "neon"
    PEARL = "pearl"


class Finish(StrEnum):
    """What was done with a mark after it was laid."""

    DRY = "dry"
    BURNISHED = "burnished"
    SOLVENT = "solvent"
    WET = "wet"


class Ground(StrEnum):
    """What a mark lies on: the paper itself, or a black bar printed on it."""

    PAPER = "paper"
    BLACK = "black"


class Tooth(StrEnum):
    """Class of a paper's grain."""

    SMOOTH = "smooth"
    MEDIUM = "medium"
    ROUGH = "rough"


class Source(StrEnum):
    """How a colour value came in."""

    READER = "reader"
    PHOTO = "photo"
    TYPED = "typed"


class PencilState(StrEnum):
    """What has become of a pencil."""

    IN_USE = "in_use"
    SPARE = "spare"
    LOST = "lost"
    USED_UP = "used_up"


class StepKind(StrEnum):
    """What a line of a recipe is."""

    HEADING = "heading"
    NOTE = "note"
    STEP = "step"


class Role(StrEnum):
    """What a call of a recipe must do beside its colour."""

    GLAZE = "glaze"
    HIGHLIGHT = "highlight"
    BURNISHER = "burnisher"
    BASE = "base"
    DETAIL = "detail"
    BELOW = "below"


class Purpose(StrEnum):
    """What a step of a recipe is for."""

    MAP = "map"
    BASE = "base"
    BUILD = "build"
    DEEPEN = "deepen"
    BLEND = "blend"
    BURNISH = "burnish"
    GLAZE = "glaze"
    HIGHLIGHT = "highlight"
    RESIST = "resist"
    LIFT = "lift"


class Material(StrEnum):
    """What else a step takes beside pencils, where something is to be minded with it."""

    SOLVENT = "solvent"
    SPRAY = "spray"
    BLADE = "blade"
    DUST = "dust"
    GRAPHITE = "graphite"
    WHITE_INK = "white ink"


class Wetting(StrEnum):
    """What leaves a passage wet, so that it has to dry before it is worked on."""

    SOLVENT = "solvent"
    WASH = "wash"
    FIXATIVE = "fixative"


class LogKind(StrEnum):
    """What a line of the bench's log tells of."""

    PENCIL = "pencil"
    SOLVENT = "solvent"
    WASH = "wash"
    FIXATIVE = "fixative"
    ERASER = "eraser"
    BLADE = "blade"
    TOO_DARK = "too dark"
    TOO_LIGHT = "too light"
    NOTE = "note"


class StepState(StrEnum):
    """What became of a step of a recipe at the bench."""

    TO_DO = "to do"
    DONE = "done"
    SKIPPED = "skipped"


class Verdict(StrEnum):
    """What the artist says of layers that she tried on scrap."""

    GOOD = "good"
    TOO_LIGHT = "too light"
    TOO_DARK = "too dark"
    TOO_WARM = "too warm"
    TOO_COOL = "too cool"
    TOO_DULL = "too dull"
    TOO_VIVID = "too vivid"
    ANOTHER_HUE = "another hue"


class FadePlace(StrEnum):
    """Where a strip fades: behind a window by where that looks, or under a lamp."""

    SOUTH = "south window"
    EAST = "east window"
    WEST = "west window"
    NORTH = "north window"
    LAMP = "lamp"


class FadeHalf(StrEnum):
    """The half of a mark that lies in the light, or the one that is covered."""

    OPEN = "open"
    COVERED = "covered"


class Lead(StrEnum):
    """What leads in every list: codes or names."""

    CODE = "code"
    NAME = "name"


SaidRole: TypeAlias = Role | Literal[""]
"""What a recipe says of a call's role; "" where it says nothing."""

SaidPurpose: TypeAlias = Purpose | Literal[""]
"""What a step is said to be for; "" where nobody says."""

LASTING = ("I", "II")
"""The classes of lightfastness that a chart prints for what lasts; what is unrated has none."""

MOST_LAYERS = 12
"""Layers of one pencil that are laid, measured or asked for at once."""

MOST_PENCILS = 3
"""Pencils laid over one another at once: more are a passage, which a recipe holds."""

MOST_PAPER_LAYERS = 40
"""Layers that any paper takes."""

LONGEST_PENCIL_MM = 400
SHORTEST_NEW_PENCIL_MM = 20


class Blacks(StrEnum):
    """Whether a drawing uses black pencils."""

    ALLOWED = "allowed"
    SPARINGLY = "sparingly"
    NONE = "none"


class WorkOrder(StrEnum):
    """In which order of value a drawing is worked."""

    LIGHT_TO_DARK = "light to dark"
    DARK_FIRST = "dark first"
    MIDDLE_OUT = "middle out"


# A drawing's sides in mm: from a miniature to a large sheet.
SMALLEST_DRAWING_MM, LARGEST_DRAWING_MM = 40, 1500
