"""Versions of a recipe: kept before the first edit and whenever the artist wants, compared, gone back to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from difflib import SequenceMatcher

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_json import CallInFile, RecipeFile, StepInFile, recipe_as_json, recipe_as_kept
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.scene import Stock
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, writing
from tidy_tinder.services.recipes.in_file import add_step, charted, file_of
from tidy_tinder.services.recipes.removing import remove_step
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.storage.models import Recipe, RecipeStep, RecipeVersion

AS_TAKEN_IN = "As taken in"
_LONGEST_NAME = 80


@dataclass(frozen=True)
class VersionView:
    """A version that is kept; steps, calls: how many it has."""

    id: int
    name: str
    kept_at: datetime
    steps: int
    calls: int


@dataclass(frozen=True)
class LineSeen:
    """A line of one version: its words, and each call as it is meant, in words."""

    kind: StepKind
    text: str
    calls: tuple[str, ...]


@dataclass(frozen=True)
class ComparedLine:
    """A line before and after; None where one of them does not have it. same: nothing of it differs."""

    before: LineSeen | None
    after: LineSeen | None

    @property
    def same(self) -> bool:
        """Whether nothing of it differs."""
        return self.before == self.after


def keep_as_taken_in(session: Session, recipe: Recipe) -> None:
    """Keep a recipe as it stands, before it is edited for the first time."""
    if session.scalar(select(RecipeVersion.id).where(RecipeVersion.recipe_id == recipe.id).limit(1)) is None:
        _keep(session, recipe, AS_TAKEN_IN)


def keep_version(collection: Collection, recipe_id: int, name: str) -> tuple[int, Changed]:
    """Keep a recipe as it stands now: the version's number, and the change. Raises NotFoundError, RefusedError."""
    name = " ".join(name.split())
    if len(name) > _LONGEST_NAME:
        raise RefusedError(f"The name has {len(name)} characters; it may have {_LONGEST_NAME}.")
    with writing(collection, "Version kept") as session:
        recipe = find_recipe(session, recipe_id)
        version = _keep(session, recipe, name)
        relabel(session, f"“{recipe.title}” kept as a version{f': {name}' if name else ''}")
        return version.id, changed(session)


def versions_of(collection: Collection, recipe_id: int) -> tuple[VersionView, ...]:
    """The versions of a recipe, the newest first. Raises NotFoundError."""
    with collection() as session:
        find_recipe(session, recipe_id)
        mine = select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id).order_by(RecipeVersion.id.desc())
        views = []
        for row in session.scalars(mine):
            steps = _file(row).steps
            calls = sum(len(step.calls) for step in steps)
            count = sum(step.kind == StepKind.STEP for step in steps)
            views.append(VersionView(row.id, row.name, row.kept_at.replace(tzinfo=UTC), count, calls))
        return tuple(views)


def compare_versions(collection: Collection, recipe_id: int, one: int, other: int | None) -> tuple[ComparedLine, ...]:
    """A version beside another, line by line; other: None for the recipe as it is now. Raises NotFoundError."""
    with collection() as session:
        recipe = find_recipe(session, recipe_id)
        before = _file(_version(session, recipe_id, one))
        after = file_of(Stock(session), recipe) if other is None else _file(_version(session, recipe_id, other))
        return tuple(_compared([_seen(s) for s in before.steps], [_seen(s) for s in after.steps]))


def go_back(collection: Collection, recipe_id: int, version_id: int) -> Changed | None:
    """Let a recipe be as it was in a version; lines that are the same keep what was chosen for them.

    None where it is so already. Raises NotFoundError.
    """
    with writing(collection, "Recipe as it was") as session:
        recipe = find_recipe(session, recipe_id)
        version = _version(session, recipe_id, version_id)
        file, standing = _file(version), file_of(Stock(session), recipe)
        same = [_as_it_is_laid(step) for step in file.steps] == [_as_it_is_laid(step) for step in standing.steps]
        if file.title == standing.title and same:
            return None
        recipe.title, recipe.edited_at = file.title, now()
        _write_back(session, recipe, file.steps, standing.steps)
        relabel(session, f"Recipe “{recipe.title}” as it was: {version.name or 'a version without a name'}")
        return changed(session)


def _write_back(
    session: Session, recipe: Recipe, wanted: Sequence[StepInFile], standing: Sequence[StepInFile]
) -> None:  # fmt: skip
    rows = list(recipe.steps)
    kept: dict[int, RecipeStep] = {}
    before, after = ([_as_it_is_laid(step) for step in side] for side in (standing, wanted))
    for block in SequenceMatcher(None, before, after, autojunk=False).get_matching_blocks():
        kept.update({block.b + i: rows[block.a + i] for i in range(block.size)})
    staying = {row.id for row in kept.values()}
    for row in rows:
        if row.id not in staying:
            remove_step(session, row)
    for at, row in kept.items():
        row.position = -1 - at
    session.flush()
    charts = charted(session)
    for position, step in enumerate(wanted):
        if position in kept:
            kept[position].position = position
        else:
            add_step(session, recipe.id, position, step, charts)
    session.flush()


def _as_it_is_laid(step: StepInFile) -> StepInFile:
    """A line without whether it was looked through: what the artist said of its words since holds."""
    return step.model_copy(update={"to_look_through": False})


def _keep(session: Session, recipe: Recipe, name: str) -> RecipeVersion:
    content = recipe_as_json(file_of(Stock(session), recipe))
    version = RecipeVersion(recipe_id=recipe.id, kept_at=now(), name=name, content=content)
    session.add(version)
    session.flush()
    return version


def _version(session: Session, recipe_id: int, version_id: int) -> RecipeVersion:
    version = session.get(RecipeVersion, version_id)
    if version is None or version.recipe_id != recipe_id:
        raise NotFoundError("This version is not kept any more. It may have been taken back in another window.")
    return version


def _file(version: RecipeVersion) -> RecipeFile:
    return recipe_as_kept(version.content)


def _seen(step: StepInFile) -> LineSeen:
    said = [f"for: {step.purpose}"] if step.purpose else []
    said += ["left to dry"] if step.waits else []
    return LineSeen(step.kind, step.text, (*(_in_words(call) for call in step.calls), *said))


def _in_words(call: CallInFile) -> str:
    named = f"{call.range} {call.code} {call.name}" if call.code else f"“{call.as_written}”"
    named += f" or {call.or_range} {call.or_code}" if call.or_code else ""
    layers = f"{call.layers} layers" if call.layers > 1 else ""
    return ", ".join(part for part in (named, call.pressure, layers, call.role) if part)


def _compared(before: Sequence[LineSeen], after: Sequence[LineSeen]) -> list[ComparedLine]:
    """Lines beside each other: by their words first, what is left of a stretch in its order."""
    lines: list[ComparedLine] = []
    matcher = SequenceMatcher(None, [line.text for line in before], [line.text for line in after], autojunk=False)
    for _, i, i_end, j, j_end in matcher.get_opcodes():
        longest = max(i_end - i, j_end - j)
        for k in range(longest):
            lines.append(
                ComparedLine(
                    before[i + k] if i + k < i_end else None,
                    after[j + k] if j + k < j_end else None,
                )
            )
    return lines
