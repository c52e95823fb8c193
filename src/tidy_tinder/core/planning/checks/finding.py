"""What a check found: what it saw, why that matters, what to do, and the change that would do it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from tidy_tinder.core.vocabulary import SaidPressure


class Rule(StrEnum):
    """The checks by name."""

    THIN_FOR_SOLVENT = "thin for solvent"
    NOT_DRY = "not dry"
    PAPER_WITHOUT_SOLVENT = "paper without solvent"
    TOO_MANY_LAYERS = "too many layers"
    CLOSED_TOO_EARLY = "closed too early"
    LIGHT_OVER_DARK = "light over dark"
    OPAQUE_GLAZE = "opaque glaze"
    DARKEST_FIRST = "darkest first"
    DARKEST_MISSED = "darkest missed"
    GRAPHITE_UNDER_PALE = "graphite under pale"
    SAME_TO_THE_EYE = "same to the eye"
    WILL_FADE = "will fade"
    RESIST_TOO_LATE = "resist too late"


class Act(StrEnum):
    """What a remedy does to a recipe."""

    MOVE_BEFORE = "move before"
    MOVE_AFTER = "move after"
    WAIT = "wait"
    PRESS = "press"
    LAYERS = "layers"
    ADD_AFTER = "add after"


@dataclass(frozen=True)
class Remedy:
    """A change that does what is advised, in words as a button says it. step: what is changed; beside: where it is
    moved to; call with pressure or layers: how it is laid then; text: of a step that is added.
    """

    act: Act
    words: str
    step: int
    beside: int | None = None
    call: int | None = None
    pressure: SaidPressure = ""
    layers: int = 0
    text: str = ""


@dataclass(frozen=True)
class Finding:
    """One thing that will not work. step, call: where; saw: in words with its numbers; why; what to do about it."""

    rule: Rule
    step: int
    call: int | None
    saw: str
    why: str
    advice: str
    remedy: Remedy | None = None


def count(number: int, thing: str) -> str:
    """“one layer”, “3 layers”."""
    return f"{'one' if number == 1 else number} {thing}{'' if number == 1 else 's'}"


def passage(area: str) -> str:
    """How a passage is called in a sentence."""
    return f"“{area}”" if area else "the passage"


def sentence(words: str) -> str:
    """The same words as a sentence begins with them; names in it keep their capitals."""
    return words[:1].upper() + words[1:]
