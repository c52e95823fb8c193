"""What the answers tell: how sharp the eye is by kind and hue, how that went on over weeks, and where it is biased."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy import select

from tidy_tinder.core.practice.bias import Judged, bias_by_region
from tidy_tinder.core.practice.drills import SCALES, Drill
from tidy_tinder.core.practice.threshold import LAST, Threshold, threshold_of
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.storage.models import PracticeAnswer

# Before so many answers a threshold is not told: it would say what was held likely beforehand.
_LEAST_ANSWERS = 12
_MOST_WEEKS = 26
# Steps of value that count as lighter or darker, in the mean of at least so many answers (ours).
_LEAST_VALUES = 8
_TEN_L = 10.0


@dataclass(frozen=True)
class Week:
    """How sharp the eye was by the end of a week; begins: its Monday."""

    begins: date
    threshold: Threshold


@dataclass(frozen=True)
class RegionThreshold:
    """How sharp the eye is in a region of hue."""

    region: str
    threshold: Threshold


@dataclass(frozen=True)
class DrillProgress:
    """A kind of question. unit: of its level; threshold: None while too little is answered; weakest first."""

    drill: Drill
    unit: str
    answers: int
    right: int
    threshold: Threshold | None
    by_region: tuple[RegionThreshold, ...]
    weeks: tuple[Week, ...]


@dataclass(frozen=True)
class BiasTold:
    """A bias that is told in words, by so much, with how far that may be off (nine of ten)."""

    region: str
    words: str
    by: float
    within: float
    answers: int


@dataclass(frozen=True)
class Progress:
    """What all answers tell."""

    drills: tuple[DrillProgress, ...]
    biases: tuple[BiasTold, ...]


def progress(collection: Collection) -> Progress:
    """What all answers tell so far."""
    with collection() as session:
        by_drill: dict[Drill, list[PracticeAnswer]] = defaultdict(list)
        for answer in session.scalars(select(PracticeAnswer).order_by(PracticeAnswer.id)):
            by_drill[answer.drill].append(answer)
        drills = tuple(_drill(drill, by_drill[drill]) for drill in Drill if by_drill[drill])
        biases = (
            *_two(by_drill[Drill.LIGHTER], "lighter", "darker", "L*"),
            *_two(by_drill[Drill.WARMER], "warmer", "cooler", "of temperature"),
            *_named(by_drill[Drill.VALUE_STEP]),
        )
        return Progress(drills, tuple(sorted(biases, key=lambda one: -abs(one.by))))


def _drill(drill: Drill, answers: Sequence[PracticeAnswer]) -> DrillProgress:
    by_region: dict[str, list[PracticeAnswer]] = defaultdict(list)
    for answer in answers[-LAST:]:
        for region in {answer.region, answer.other} - {""}:
            by_region[region].append(answer)
    regions = [
        RegionThreshold(region, threshold)
        for region, them in by_region.items()
        if (threshold := _threshold(drill, them)) is not None
    ]
    return DrillProgress(
        drill, SCALES[drill].unit if drill in SCALES else "", len(answers), sum(answer.right for answer in answers),
        _threshold(drill, answers), tuple(sorted(regions, key=lambda one: -one.threshold.level)),
        tuple(_weeks(drill, answers)),
    )  # fmt: skip


def _threshold(drill: Drill, answers: Sequence[PracticeAnswer]) -> Threshold | None:
    if drill not in SCALES or len(answers) < _LEAST_ANSWERS:
        return None
    kept = answers[-LAST:]
    return threshold_of([answer.level for answer in kept], [answer.right for answer in kept], SCALES[drill])


def _weeks(drill: Drill, answers: Sequence[PracticeAnswer]) -> list[Week]:
    """By the end of each week in which something was answered."""
    ends: dict[date, int] = {}
    for count, answer in enumerate(answers, 1):
        day = answer.made_at.date()
        ends[day - timedelta(days=day.weekday())] = count
    found = []
    for monday, count in list(ends.items())[-_MOST_WEEKS:]:
        threshold = _threshold(drill, answers[:count])
        if threshold is not None:
            found.append(Week(monday, threshold))
    return found


def _two(answers: Sequence[PracticeAnswer], more: str, less: str, unit: str) -> list[BiasTold]:
    judged = [
        Judged(answer.region, answer.other, answer.signed, answer.first)
        for answer in answers
        if answer.signed is not None and answer.first is not None
    ]
    return [
        BiasTold(
            region, _words(region, more if bias.by > 0 else less, abs(bias.by), unit), bias.by, 1.645 * bias.sd,
            bias.answers,
        )
        for region, bias in bias_by_region(judged).items()
        if bias.is_sure
    ]  # fmt: skip


def _named(answers: Sequence[PracticeAnswer]) -> list[BiasTold]:
    """The mean of what was named less what it is, of a region; in L*, ten to a step."""
    by_region: dict[str, list[float]] = defaultdict(list)
    for answer in answers[-LAST:]:
        if answer.signed is not None:
            by_region[answer.region].append(_TEN_L * answer.signed)
    found = []
    for region, errors in by_region.items():
        if len(errors) < _LEAST_VALUES:
            continue
        mean, within = float(np.mean(errors)), 1.645 * float(np.std(errors, ddof=1)) / len(errors) ** 0.5
        if abs(mean) > within and abs(mean) >= 2.0:
            words = _words(region, "lighter" if mean > 0 else "darker", abs(mean), "L*, by the steps you name")
            found.append(BiasTold(region, words, mean, within, len(errors)))
    return found


def _words(region: str, which: str, by: float, unit: str) -> str:
    return f"{region} look {which} to you than they are, by {by:.0f} {unit}"
