"""What the checks of recipes send and get."""

from __future__ import annotations

from tidy_tinder.core.planning.checks.finding import Rule
from tidy_tinder.core.vocabulary import Material
from tidy_tinder.web.shared.base import Id, Out, Schema


class RemedyOut(Out):
    """A change that does what is advised, as a button says it."""

    words: str


class FindingOut(Out):
    """One thing that will not work, where, why, and what to do."""

    rule: Rule
    step: int
    call: int | None
    saw: str
    why: str
    advice: str
    remedy: RemedyOut | None


class CautionOut(Out):
    """What is to be minded with one material."""

    material: Material
    words: str


class StepCautionsOut(Out):
    """What is to be minded at one step."""

    step: int
    cautions: list[CautionOut]


class CheckedOut(Out):
    """What the checks of a recipe find; first: what comes before every caution; rules: all checks there are."""

    findings: list[FindingOut]
    cautions: list[StepCautionsOut]
    off_here: list[Rule]
    off_everywhere: list[Rule]
    working: bool
    first: str
    rules: list[Rule]


class SwitchIn(Schema):
    """A check switched off or on, for this recipe or everywhere."""

    rule: Rule
    off: bool
    everywhere: bool


class FollowAdviceIn(Schema):
    """The advice that is followed: the check, and where it found what it found."""

    paper_id: Id
    rule: Rule
    step: Id
    call: Id | None = None
