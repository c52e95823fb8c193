"""A recipe written out as text that reads back as the same.

A line keeps the artist's words where they still say what is meant; where something was set by hand that they do not
say, the line is written out: “Quillfen Heron 119 Bracken heavy 2 layers → …”.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from tidy_tinder.core.names.finding import Catalogue, Entry
from tidy_tinder.core.vocabulary import Finish, Purpose, Role, SaidPressure, SaidPurpose, SaidRole, StepKind
from tidy_tinder.formats.recipe_purposes import purpose_in, waits_in
from tidy_tinder.formats.recipe_reading import ReadStep
from tidy_tinder.formats.recipe_text import read_lines, read_recipe
from tidy_tinder.formats.recipe_words import LABEL

_ROLE_WORDS: Mapping[SaidRole, str] = {
    Role.GLAZE: "glaze",
    Role.HIGHLIGHT: "highlight",
    Role.BURNISHER: "burnish",
    Role.BASE: "base",
    Role.DETAIL: "fine detail",
}
_FINISH_WORDS = {Finish.BURNISHED: "burnish", Finish.SOLVENT: "solvent", Finish.WET: "water"}
# In so many words that the reader takes none of them for a colour, after a full stop that parts them from the colours.
_PURPOSE_WORDS: Mapping[SaidPurpose, str] = {
    Purpose.MAP: "all of this is there to map it",
    Purpose.BASE: "all of this is meant as a base layer",
    Purpose.BUILD: "all of this is there to build up the passage",
    Purpose.DEEPEN: "all of this is there to deepen it",
    Purpose.BLEND: "all of this is there to blend it",
    Purpose.BURNISH: "all of this is there to burnish it",
    Purpose.GLAZE: "all of this is meant as a glaze",
    Purpose.HIGHLIGHT: "all of this is meant as a highlight",
    Purpose.RESIST: "all of this is meant as a resist",
    Purpose.LIFT: "all of this is there to lift it",
}
_LET_DRY = "let it dry"
_MOST_ROUNDS = 4


@dataclass(frozen=True)
class WrittenCall:
    """A call as it is meant. colour: its key on the charts, None while it is to be settled or is no colour; other: the
    second of “A or B”.
    """

    as_written: str
    colour: int | None
    pressure: SaidPressure = ""
    layers: int = 1
    role: SaidRole = ""
    other: int | None = None


@dataclass(frozen=True)
class WrittenStep:
    """A line as it is meant; purpose "" and waits False where nothing is said by hand."""

    kind: StepKind
    area: str
    text: str
    finish: Finish = Finish.DRY
    purpose: SaidPurpose = ""
    waits: bool = False
    calls: tuple[WrittenCall, ...] = ()


def write_recipe(title: str, steps: Sequence[WrittenStep], catalogue: Catalogue) -> str:
    """The title and a line for each step, which read back as the same calls, laid the same, in the same areas.

    A call that is still to be settled, and what the artist said is no colour, stand in their own words; a line without
    words or calls is left out.
    """
    steps = [replace(step, text=" ".join(step.text.split())) for step in steps if step.text.strip() or step.calls]
    entries = {entry.key: entry for entry in catalogue.entries}
    lines = [_line(step, step.text) for step in steps]
    told = [0] * len(steps)
    # From her own words to those that only tell what is meant; a line that is told otherwise may name a range that the
    # next one rested on, or no longer name it, so all are read anew.
    for _ in range(_MOST_ROUNDS):
        readings = read_lines(title, lines, catalogue)
        unsaid = [at for at, step in enumerate(steps) if not _says(step, readings[at], lines[at])]
        if not unsaid:
            break
        for at in unsaid:
            told[at] += 1
            lines[at] = _line(steps[at], _written_out(steps[at], entries, readings[at].area, lead=told[at] == 1))
    text = "\n".join([title, *_parted(steps, lines)]) + "\n"
    # “Fly Cap” as a title would be read as a call.
    return text if read_recipe(text, catalogue).title == title else f"# {text}"


def _says(step: WrittenStep, reading: ReadStep, line: str) -> bool:
    """Whether a line reads back as what is meant."""
    if StepKind.HEADING in (step.kind, reading.kind):
        return step.kind == reading.kind
    read = [WrittenCall(c.as_written, c.key, c.pressure, c.layers, c.role, c.other) for c in reading.calls]
    meant = [call for call in step.calls if call.colour is not None]
    same = [replace(call, as_written="") for call in read if call.colour is not None] == [
        replace(call, as_written="") for call in meant
    ]
    purpose = step.purpose in ("", purpose_in(line))
    there = reading.area == step.area and reading.finish == step.finish
    return same and purpose and there and (waits_in(line) or not step.waits)


def _written_out(step: WrittenStep, entries: Mapping[int, Entry], headed: str, lead: bool) -> str:
    """What is meant in words that the reader takes as nothing else; headed: the area of the heading above; lead: after
    the words that lead into the line, as “First reds:”.
    """
    parts = ""
    for at, call in enumerate(step.calls):
        named = " or ".join(_named(entries[key]) for key in (call.colour or 0, call.other or 0) if key in entries)
        named = named or call.as_written
        layers = f"{call.layers} layers" if call.layers > 1 else ""
        words = " ".join(part for part in (named, call.pressure, layers, _ROLE_WORDS.get(call.role, "")) if part)
        under = at and step.calls[at - 1].role == Role.BELOW
        parts += (" under " if under else " → " if at else "") + words
    if not step.calls:
        parts = step.text
    burnishes = any(call.role == Role.BURNISHER for call in step.calls)
    if step.finish != Finish.DRY and not (step.finish == Finish.BURNISHED and burnishes):
        parts += f". {_FINISH_WORDS[step.finish]}"
    if step.purpose and purpose_in(parts) != step.purpose:
        parts += f". {_PURPOSE_WORDS[step.purpose]}"
    led = LABEL.match(step.text)
    if lead and led is not None and step.calls:
        parts = led.group() + parts
    elif step.area and step.area != headed:
        parts = f"{step.area}: {parts}"
    return parts + (f", {_LET_DRY}" if step.waits and not waits_in(parts) else "")


def _named(entry: Entry) -> str:
    return f"{entry.range_name} {entry.code} {entry.name}"


def _line(step: WrittenStep, text: str) -> str:
    match step.kind:
        case StepKind.HEADING:
            return text.rstrip(": ") + ":"
        case StepKind.STEP:
            return f"- {text}"
        case StepKind.NOTE:
            return text


def _parted(steps: Sequence[WrittenStep], lines: Sequence[str]) -> list[str]:
    """The lines with an empty one before each heading."""
    parted: list[str] = []
    for step, line in zip(steps, lines, strict=True):
        parted += ["", line] if step.kind == StepKind.HEADING else [line]
    return parted
