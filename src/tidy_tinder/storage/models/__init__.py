"""The tables, by what they hold. Every constraint has a name, so that a migration can speak of it.

Colours are stored as CIE L*a*b*, D65, 2°; spectra as 31 reflectance factors, 400 to 700 nm step 10.
"""

from __future__ import annotations

from tidy_tinder.storage.models.base import Base, Journaled
from tidy_tinder.storage.models.bench import (
    WHOLE,
    Bench,
    CheckOfValues,
    CheckPicture,
    DrawingPhoto,
    DrawingPhotoPicture,
    Drying,
    LogEntry,
    OwnTask,
    Prepared,
    Sitting,
    SittingClock,
    SittingTime,
    StepMark,
)
from tidy_tinder.storage.models.drawings import Drawing, Pick, Reference, ReferencePicture, Section, SectionMap
from tidy_tinder.storage.models.fading import FadeLook, FadeMark, FadeReading, FadeResult, FadeStrip
from tidy_tinder.storage.models.journal import FittingJob, JournalChange, JournalEntry, PencilFitted
from tidy_tinder.storage.models.practice import PracticeAnswer, PracticeRound
from tidy_tinder.storage.models.recipes import Choice, Exclusion, Recipe, RecipeCall, RecipeStep, RecipeVersion
from tidy_tinder.storage.models.restock import (
    PencilLength,
    Price,
    Wanted,
)
from tidy_tinder.storage.models.sheets import Photo, PhotoReading, Sheet, SheetPlace
from tidy_tinder.storage.models.states import (
    CallState,
    DrawingState,
    DryingState,
    ItemState,
    JobState,
    PhotoState,
    PictureState,
    SectionKind,
    SectionState,
    SessionState,
)
from tidy_tinder.storage.models.swatches import Scrap, ScrapLayer, ScrapReading, SessionItem, Swatch, SwatchSession
from tidy_tinder.storage.models.tidy import BoxedSet, Colour, ColourRange, Paper, Pencil, SetColour, Setting, TrayPencil

__all__ = [
    "WHOLE",
    "Base",
    "Bench",
    "BoxedSet",
    "CallState",
    "CheckOfValues",
    "CheckPicture",
    "Choice",
    "Colour",
    "ColourRange",
    "Drawing",
    "DrawingPhoto",
    "DrawingPhotoPicture",
    "DrawingState",
    "Drying",
    "DryingState",
    "Exclusion",
    "FadeLook",
    "FadeMark",
    "FadeReading",
    "FadeResult",
    "FadeStrip",
    "FittingJob",
    "ItemState",
    "JobState",
    "JournalChange",
    "JournalEntry",
    "Journaled",
    "LogEntry",
    "OwnTask",
    "Paper",
    "Pencil",
    "PencilFitted",
    "PencilLength",
    "Photo",
    "PhotoReading",
    "PhotoState",
    "Pick",
    "PictureState",
    "PracticeAnswer",
    "PracticeRound",
    "Prepared",
    "Price",
    "Recipe",
    "RecipeCall",
    "RecipeStep",
    "RecipeVersion",
    "Reference",
    "ReferencePicture",
    "Scrap",
    "ScrapLayer",
    "ScrapReading",
    "Section",
    "SectionKind",
    "SectionMap",
    "SectionState",
    "SessionItem",
    "SessionState",
    "SetColour",
    "Setting",
    "Sheet",
    "SheetPlace",
    "Sitting",
    "SittingClock",
    "SittingTime",
    "StepMark",
    "Swatch",
    "SwatchSession",
    "TrayPencil",
    "Wanted",
]
