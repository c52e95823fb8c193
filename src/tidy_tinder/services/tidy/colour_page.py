"""A colour's page: its pencils, marks on every paper, opacity, nearest stand-in, and the recipes that call it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import value_step
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Coat
from tidy_tinder.core.vocabulary import Pressure, StepKind
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.at_work import pulled_out
from tidy_tinder.services.collection.marks import Mark, marks_of
from tidy_tinder.services.collection.patches import LabTriple, Patch, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.standins.mark_beside_mark import RankedStandins, rank_for_colour
from tidy_tinder.services.swatches.one_by_one import PaperOpacity, history_of, opacity_of
from tidy_tinder.services.tidy.kin import sisters
from tidy_tinder.storage.models import BoxedSet, Paper, Recipe, RecipeCall, RecipeStep
from tidy_tinder.storage.queries.colours import ColourRow, PencilRow


@dataclass(frozen=True)
class PaperMark:
    """A colour's mark on one paper."""

    paper_id: int
    paper_name: str
    mark: Mark


@dataclass(frozen=True)
class CalledBy:
    """A recipe that calls a colour, in which of its steps (counted from 1)."""

    recipe_id: int
    title: str
    steps: tuple[int, ...]


@dataclass(frozen=True)
class ColourPage:
    """What the panel says of one colour. shown_as says of which mark or chart value `patch` and value speak."""

    colour: ColourRow
    owning: Owning
    in_tray: bool
    pencils: tuple[tuple[PencilRow, str], ...]
    mark: Mark
    patch: Patch | None
    shown_as: str
    value: float | None
    papers: tuple[PaperMark, ...]
    nearest: RankedStandins
    called_by: tuple[CalledBy, ...]
    sister_ids: tuple[int, ...]
    opacity: tuple[PaperOpacity, ...]


def colour_page(collection: Collection, colour_id: int, paper_id: int, closest: Closest) -> ColourPage:
    """What the panel says of one colour on a paper. Raises NotFoundError for an unknown colour or paper."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        row, mark = scene.colour(colour_id), scene.marks[colour_id]
        lab, shown_as = _shown(mark, scene.paper)
        papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
        sets: dict[int, str] = dict(session.execute(select(BoxedSet.id, BoxedSet.name)).all())
        return ColourPage(
            colour=row,
            owning=scene.owning(colour_id),
            in_tray=colour_id in pulled_out(session),
            pencils=tuple((p, sets.get(p.set_id or 0, "")) for p in scene.pencils.get(colour_id, ())),
            mark=mark,
            patch=patch(lab) if lab else None,
            shown_as=shown_as,
            value=float(value_step(lab)) if lab else None,
            papers=tuple(
                PaperMark(p.id, p.name, seen) for p, seen in zip(papers, marks_of(session, row, papers), strict=True)
            ),
            nearest=rank_for_colour(scene, colour_id, Coat(Pressure.HEAVY), closest, limit=1),
            called_by=_called_by(session, colour_id),
            sister_ids=sisters(scene, row),
            opacity=opacity_of(history_of(session, colour_id)),
        )


def _shown(mark: Mark, paper: Paper) -> tuple[LabTriple | None, str]:
    """The Lab that a colour's figures speak of: its darkest known zone here, else nothing."""
    if not mark.zones:
        return None, f"no colour known on {paper.name}, nor by chart"
    zone = mark.zones[0]
    words = {
        Trust.MEASURED: f"{zone.pressure}, measured on {paper.name}",
        Trust.PREDICTED: f"{zone.pressure}, predicted on {paper.name} ± {zone.band} ΔE",
    }
    return zone.lab, words.get(zone.trust, "chart value, on white")


def _called_by(session: Session, colour_id: int) -> tuple[CalledBy, ...]:
    """The recipes that call a colour, and in which steps."""
    numbered = (
        select(Recipe.id, Recipe.title, RecipeStep.id)
        .join(RecipeStep, RecipeStep.recipe_id == Recipe.id)
        .join(RecipeCall, RecipeCall.step_id == RecipeStep.id)
        .where(RecipeCall.colour_id == colour_id)
        .order_by(Recipe.position, RecipeStep.position)
    )
    calling: dict[int, tuple[str, list[int]]] = {}
    for recipe_id, title, step_id in session.execute(numbered).all():
        calling.setdefault(recipe_id, (title, []))[1].append(step_id)
    result = []
    for recipe_id, (title, step_ids) in calling.items():
        steps = session.scalars(
            select(RecipeStep.id)
            .where(RecipeStep.recipe_id == recipe_id, RecipeStep.kind == StepKind.STEP)
            .order_by(RecipeStep.position)
        ).all()
        numbers = tuple(dict.fromkeys(steps.index(i) + 1 for i in step_ids if i in steps))
        result.append(CalledBy(recipe_id, title, numbers))
    return tuple(result)
