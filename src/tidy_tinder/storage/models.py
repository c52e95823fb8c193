"""The tables. Every constraint has a name, so that a migration can speak of it.

Colours are stored as CIE L*a*b*, D65, 2°; spectra as 31 reflectance factors, 400 to 700 nm step 10.
"""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, Index, MetaData, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

NAMING = {
    "ix": "ix_%(table_name)s_%(column_0_N_name)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}

OPACITIES = ("transparent", "semi", "opaque")
EFFECTS = ("ordinary", "metallic", "neon", "pearl")
PRESSURES = ("light", "medium", "heavy")
LAID_PRESSURES = (*PRESSURES, "burnish")
FINISHES = ("dry", "burnished", "solvent", "wet")
PENCIL_STATES = ("in_use", "spare", "lost", "used_up")
TOOTHS = ("smooth", "medium", "rough")
SOURCES = ("reader", "photo", "typed")
GROUNDS = ("paper", "black")
SESSION_STATES = ("open", "closed")
ITEM_STATES = ("waiting", "read", "skipped")
CALL_STATES = ("read", "unsettled", "settled", "dismissed")
JOB_STATES = ("running", "done", "cancelled")


def _one_of(column: str, allowed: tuple[str, ...], name: str) -> CheckConstraint:
    quoted = ", ".join(f"'{value}'" for value in allowed)
    return CheckConstraint(f"{column} IN ({quoted})", name=name)


def _lab_bounds(optional: bool) -> CheckConstraint:
    inside = "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200"
    # A comparison with NULL is neither true nor false, and a check that is not false passes: say both.
    missing = "lab_L IS NULL AND lab_a IS NULL AND lab_b IS NULL"
    given = f"lab_L IS NOT NULL AND lab_a IS NOT NULL AND lab_b IS NOT NULL AND {inside}"
    return CheckConstraint(f"({missing}) OR ({given})" if optional else inside, name="lab_bounds")


# Without it SQLite gives the number of a removed row to the next new one, and undo could not bring it back.
_KEEP_IDS = {"sqlite_autoincrement": True}


class Base(DeclarativeBase):
    """Root of all tables."""

    metadata = MetaData(naming_convention=NAMING)


class Journaled(Base):
    """A table whose every write goes into the journal; revision counts the writes of a row."""

    __abstract__ = True

    id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(default=1)


class ColourRange(Journaled):
    """One line of pencils of a maker."""

    __tablename__ = "colour_range"
    __table_args__ = (
        UniqueConstraint("maker", "name"),
        CheckConstraint("new_length_mm BETWEEN 20 AND 400", name="new_length_bounds"),
        _KEEP_IDS,
    )

    maker: Mapped[str]
    name: Mapped[str]
    feel: Mapped[str] = mapped_column(default="")
    position: Mapped[int]
    new_length_mm: Mapped[int] = mapped_column(default=175)
    # None where nobody has said so.
    holds_point: Mapped[bool | None]
    water_soluble: Mapped[bool | None]
    colours: Mapped[list[Colour]] = relationship(order_by="Colour.position", viewonly=True)


class Colour(Journaled):
    """One entry of a range's chart; range and code are its key."""

    __tablename__ = "colour"
    __table_args__ = (
        UniqueConstraint("range_id", "code"),
        _one_of("opacity", (*OPACITIES, ""), "opacity_known"),
        _one_of("effect", EFFECTS, "effect_known"),
        _lab_bounds(optional=True),
        _KEEP_IDS,
    )

    range_id: Mapped[int] = mapped_column(ForeignKey("colour_range.id"), index=True)
    code: Mapped[str]
    name: Mapped[str]
    position: Mapped[int]
    lab_L: Mapped[float | None]
    lab_a: Mapped[float | None]
    lab_b: Mapped[float | None]
    chart_source: Mapped[str] = mapped_column(default="")
    opacity: Mapped[str] = mapped_column(default="")
    lightfastness: Mapped[str] = mapped_column(default="")
    effect: Mapped[str] = mapped_column(default="ordinary")
    range: Mapped[ColourRange] = relationship(viewonly=True)


class BoxedSet(Journaled):
    """A boxed selection of a range."""

    __tablename__ = "boxed_set"
    __table_args__ = (UniqueConstraint("range_id", "name"), _KEEP_IDS)

    range_id: Mapped[int] = mapped_column(ForeignKey("colour_range.id"), index=True)
    name: Mapped[str]


class SetColour(Journaled):
    """A colour that a set holds."""

    __tablename__ = "set_colour"
    __table_args__ = (UniqueConstraint("set_id", "colour_id"), _KEEP_IDS)

    set_id: Mapped[int] = mapped_column(ForeignKey("boxed_set.id", ondelete="CASCADE"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)


class Pencil(Journaled):
    """One owned stick of a colour."""

    __tablename__ = "pencil"
    __table_args__ = (
        _one_of("state", PENCIL_STATES, "state_known"),
        CheckConstraint("length_mm IS NULL OR length_mm BETWEEN 0 AND 400", name="length_bounds"),
        _KEEP_IDS,
    )

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    set_id: Mapped[int | None] = mapped_column(ForeignKey("boxed_set.id"))
    tin: Mapped[str] = mapped_column(default="")
    slot: Mapped[int | None]
    length_mm: Mapped[int | None]
    state: Mapped[str] = mapped_column(default="in_use")
    stamp_readable: Mapped[bool] = mapped_column(default=True)
    notes: Mapped[str] = mapped_column(default="")


class Paper(Journaled):
    """A surface that is drawn on."""

    __tablename__ = "paper"
    __table_args__ = (
        UniqueConstraint("name"),
        _one_of("tooth", TOOTHS, "tooth_known"),
        _lab_bounds(optional=False),
        CheckConstraint("most_layers BETWEEN 1 AND 40", name="layers_bounds"),
        _KEEP_IDS,
    )

    name: Mapped[str]
    mill: Mapped[str] = mapped_column(default="")
    kind: Mapped[str] = mapped_column(default="")
    position: Mapped[int]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    tooth: Mapped[str] = mapped_column(default="medium")
    most_layers: Mapped[int] = mapped_column(default=8)
    absorbent: Mapped[bool] = mapped_column(default=False)
    stands_solvent: Mapped[bool] = mapped_column(default=True)
    notes: Mapped[str] = mapped_column(default="")
    copied_from_id: Mapped[int | None] = mapped_column(ForeignKey("paper.id"))


class Swatch(Journaled):
    """A mark that was made and measured."""

    __tablename__ = "swatch"
    __table_args__ = (
        _one_of("pressure", PRESSURES, "pressure_known"),
        _one_of("finish", FINISHES, "finish_known"),
        _one_of("over", GROUNDS, "ground_known"),
        _one_of("source", SOURCES, "source_known"),
        _lab_bounds(optional=False),
        CheckConstraint("layers BETWEEN 1 AND 12", name="layers_bounds"),
        CheckConstraint("averaged_of BETWEEN 1 AND 9", name="averaged_of_bounds"),
        CheckConstraint("burnisher_id IS NULL OR finish = 'burnished'", name="burnisher_burnishes"),
        _KEEP_IDS,
    )

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    pressure: Mapped[str]
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[str] = mapped_column(default="dry")
    over: Mapped[str] = mapped_column(default="paper")
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    spectrum: Mapped[list[float] | None] = mapped_column(JSON(none_as_null=True))
    spectrum_white: Mapped[str] = mapped_column(default="")
    source: Mapped[str]
    instrument: Mapped[str] = mapped_column(default="")
    aperture_mm: Mapped[float | None]
    averaged_of: Mapped[int] = mapped_column(default=1)
    burnisher_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"))
    made_on: Mapped[date]
    note: Mapped[str] = mapped_column(default="")


class SwatchSession(Journaled):
    """A list of marks to be read one after another; it can be left and taken up days later."""

    __tablename__ = "swatch_session"
    __table_args__ = (
        _one_of("state", SESSION_STATES, "state_known"),
        _one_of("finish", FINISHES, "finish_known"),
        CheckConstraint("layers BETWEEN 1 AND 12", name="layers_bounds"),
        CheckConstraint("average_of IN (1, 3)", name="average_of_known"),
        _KEEP_IDS,
    )

    title: Mapped[str]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[str] = mapped_column(default="dry")
    burnisher_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"))
    average_of: Mapped[int] = mapped_column(default=1)
    started_on: Mapped[date]
    state: Mapped[str] = mapped_column(default="open")


class SessionItem(Journaled):
    """One mark of a session. readings: those taken so far; doubt: why the last one waits for the artist."""

    __tablename__ = "session_item"
    __table_args__ = (
        UniqueConstraint("session_id", "position"),
        _one_of("pressure", PRESSURES, "pressure_known"),
        _one_of("over", GROUNDS, "ground_known"),
        _one_of("state", ITEM_STATES, "state_known"),
        _KEEP_IDS,
    )

    session_id: Mapped[int] = mapped_column(ForeignKey("swatch_session.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[str]
    over: Mapped[str] = mapped_column(default="paper")
    state: Mapped[str] = mapped_column(default="waiting")
    swatch_id: Mapped[int | None] = mapped_column(ForeignKey("swatch.id"), index=True)
    readings: Mapped[list[Any]] = mapped_column(JSON, default=list)
    doubt: Mapped[str] = mapped_column(default="")


class TrayPencil(Journaled):
    """A colour that is pulled out for the drawing at hand."""

    __tablename__ = "tray_pencil"
    __table_args__ = (UniqueConstraint("colour_id"), _KEEP_IDS)

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"))


class Recipe(Journaled):
    """A recipe as it was pasted, and how it was read."""

    __tablename__ = "recipe"
    __table_args__ = (_KEEP_IDS,)

    title: Mapped[str]
    source_text: Mapped[str]
    position: Mapped[int]
    steps: Mapped[list[RecipeStep]] = relationship(order_by="RecipeStep.position", viewonly=True)


class RecipeStep(Journaled):
    """One line of a recipe: a heading, a note, or a step with calls. Its text is kept as written."""

    __tablename__ = "recipe_step"
    __table_args__ = (
        UniqueConstraint("recipe_id", "position"),
        _one_of("kind", ("heading", "note", "step"), "kind_known"),
        _one_of("pressure", (*PRESSURES, ""), "pressure_known"),
        _one_of("finish", FINISHES, "finish_known"),
        _KEEP_IDS,
    )

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    kind: Mapped[str]
    area: Mapped[str] = mapped_column(default="")
    text: Mapped[str]
    pressure: Mapped[str] = mapped_column(default="")
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[str] = mapped_column(default="dry")
    calls: Mapped[list[RecipeCall]] = relationship(order_by="RecipeCall.position", viewonly=True)


class RecipeCall(Journaled):
    """One colour that a step asks for; without a colour it is still to be settled by the artist."""

    __tablename__ = "recipe_call"
    __table_args__ = (
        UniqueConstraint("step_id", "position"),
        _one_of("state", CALL_STATES, "state_known"),
        _one_of("pressure", (*PRESSURES, ""), "pressure_known"),
        CheckConstraint("layers BETWEEN 1 AND 12", name="layers_bounds"),
        CheckConstraint("state IN ('unsettled', 'dismissed') OR colour_id IS NOT NULL", name="settled_has_colour"),
        _KEEP_IDS,
    )

    step_id: Mapped[int] = mapped_column(ForeignKey("recipe_step.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    as_written: Mapped[str]
    start: Mapped[int]
    colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    state: Mapped[str]
    problem: Mapped[str] = mapped_column(default="")
    pressure: Mapped[str] = mapped_column(default="")
    layers: Mapped[int] = mapped_column(default=1)
    role: Mapped[str] = mapped_column(default="")


class Choice(Journaled):
    """A stand-in that was chosen: it belongs to a recipe, a call and a paper.

    Without a pressure the pencil is laid as the call asks; over_colour_id is the second of two layered pencils.
    """

    __tablename__ = "choice"
    __table_args__ = (
        UniqueConstraint("call_id", "paper_id"),
        _one_of("pressure", (*LAID_PRESSURES, ""), "pressure_known"),
        _one_of("over_pressure", (*LAID_PRESSURES, ""), "over_pressure_known"),
        CheckConstraint("layers BETWEEN 1 AND 12 AND over_layers BETWEEN 1 AND 12", name="layers_bounds"),
        CheckConstraint(
            "over_colour_id IS NULL OR (pressure <> '' AND over_pressure <> '')", name="pair_has_pressures"
        ),
        _KEEP_IDS,
    )

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    call_id: Mapped[int] = mapped_column(ForeignKey("recipe_call.id", ondelete="CASCADE"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[str] = mapped_column(default="")
    layers: Mapped[int] = mapped_column(default=1)
    over_colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    over_pressure: Mapped[str] = mapped_column(default="")
    over_layers: Mapped[int] = mapped_column(default=1)


class Scrap(Journaled):
    """Layers that were tried on a scrap of a paper: for which colour, and what the artist says of them.

    finish: dry, or solvent over all layers; burnishing is a layer. verdict: words of VERDICTS, none while it waits.
    """

    __tablename__ = "scrap"
    __table_args__ = (
        _one_of("finish", ("dry", "solvent"), "finish_known"),
        CheckConstraint("wanted_layers BETWEEN 1 AND 12", name="wanted_layers_bounds"),
        _one_of("wanted_pressure", (*LAID_PRESSURES, ""), "wanted_pressure_known"),
        _KEEP_IDS,
    )

    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    wanted_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    wanted_pressure: Mapped[str] = mapped_column(default="")
    wanted_layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[str] = mapped_column(default="dry")
    verdict: Mapped[list[Any]] = mapped_column(JSON, default=list)
    note: Mapped[str] = mapped_column(default="")
    made_on: Mapped[date]


class ScrapLayer(Journaled):
    """One pencil of a scrap's layers, the lowest at position 0."""

    __tablename__ = "scrap_layer"
    __table_args__ = (
        UniqueConstraint("scrap_id", "position"),
        _one_of("pressure", LAID_PRESSURES, "pressure_known"),
        CheckConstraint("layers BETWEEN 1 AND 12", name="layers_bounds"),
        _KEEP_IDS,
    )

    scrap_id: Mapped[int] = mapped_column(ForeignKey("scrap.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[str]
    layers: Mapped[int] = mapped_column(default=1)


class ScrapReading(Journaled):
    """The layers of a scrap as they were measured, in their order or turned the other way round."""

    __tablename__ = "scrap_reading"
    __table_args__ = (
        UniqueConstraint("scrap_id", "turned"),
        _one_of("source", SOURCES, "source_known"),
        _lab_bounds(optional=False),
        _KEEP_IDS,
    )

    scrap_id: Mapped[int] = mapped_column(ForeignKey("scrap.id", ondelete="CASCADE"), index=True)
    turned: Mapped[bool]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    spectrum: Mapped[list[float] | None] = mapped_column(JSON(none_as_null=True))
    source: Mapped[str]
    instrument: Mapped[str] = mapped_column(default="")
    made_on: Mapped[date]


class Setting(Journaled):
    """What the artist set: one row a name."""

    __tablename__ = "setting"
    __table_args__ = (UniqueConstraint("name"), _KEEP_IDS)

    name: Mapped[str]
    value: Mapped[str]


class JournalChange(Base):
    """One change as the artist made it.

    The id of the newest change of kind "collection" is the collection's version; a change of a setting,
    such as the paper at hand, leaves what was computed from the collection valid.
    """

    __tablename__ = "journal_change"
    __table_args__ = (
        _one_of("kind", ("collection", "setting"), "kind_known"),
        _KEEP_IDS,
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    made_at: Mapped[datetime]
    label: Mapped[str]
    kind: Mapped[str] = mapped_column(default="collection")
    undoes_id: Mapped[int | None] = mapped_column(ForeignKey("journal_change.id"))
    entries: Mapped[list[JournalEntry]] = relationship(order_by="JournalEntry.position", viewonly=True)


class JournalEntry(Base):
    """What one row was before and after a change; no before for a new row, no after for a removed one."""

    __tablename__ = "journal_entry"
    __table_args__ = (
        UniqueConstraint("change_id", "position"),
        Index("ix_journal_entry_table_name_change_id", "table_name", "change_id"),
        _KEEP_IDS,
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    change_id: Mapped[int] = mapped_column(ForeignKey("journal_change.id"), index=True)
    position: Mapped[int]
    table_name: Mapped[str]
    row_id: Mapped[int]
    before: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    after: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))


class PencilFitted(Base):
    """What fitting a pencil to some marks gave: worked out, so neither journaled nor undone.

    fingerprint: of the marks and the class of cover that it was fitted to; the same again has the same answer.
    """

    __tablename__ = "pencil_fitted"
    __table_args__ = (UniqueConstraint("fingerprint"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    fingerprint: Mapped[str]
    fitted: Mapped[dict[str, Any]] = mapped_column(JSON)


class FittingJob(Base):
    """One going over of the whole collection. version: of the marks that it is for; reused: how many of those done
    were kept from before; taken_up: how often a program that began again went on with it.
    """

    __tablename__ = "fitting_job"
    __table_args__ = (
        _one_of("state", JOB_STATES, "state_known"),
        CheckConstraint("done BETWEEN 0 AND total", name="done_bounds"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    state: Mapped[str] = mapped_column(default="running")
    done: Mapped[int] = mapped_column(default=0)
    reused: Mapped[int] = mapped_column(default=0)
    total: Mapped[int]
    taken_up: Mapped[int] = mapped_column(default=0)
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
