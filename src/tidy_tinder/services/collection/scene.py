"""What is known on one paper, read once for one question: colours, pencils at hand, marks measured or predicted.

Whoever compares, ranks, lays or explains colours on a paper asks here, so that “measured before predicted”, “at hand”
and “how it is owned” mean the same everywhere.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer
from tidy_tinder.core.layers import Coat, Layer
from tidy_tinder.core.standins.singles import Known
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Effect
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import fitted, for_version
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_hand import AtHand, OwnedColour, Owning, at_hand_now
from tidy_tinder.services.collection.chart import chart_by_id, no_colour
from tidy_tinder.services.collection.marks import Mark, known_marks, marks_on
from tidy_tinder.services.collection.measured import band_of
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Seen, Trust, patch
from tidy_tinder.services.collection.predictions import Predictions, paper_fit, predictions_on
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow, PencilRow, pencils_by_colour
from tidy_tinder.storage.queries.swatches import MarkKind, MeasuredMark, spectra_that_count


class Stock:
    """What holds on every paper: the charted colours, and the pencils with what the artist has set about them."""

    def __init__(self, session: Session) -> None:
        self.session = session

    @cached_property
    def colours(self) -> Mapping[int, ColourRow]:
        """All charted colours by their number, in order."""
        return chart_by_id(self.session)

    @cached_property
    def pencils(self) -> Mapping[int, Sequence[PencilRow]]:
        """Every owned stick, by colour."""
        return for_version(self.session, "pencils", ("pencil",), lambda: pencils_by_colour(self.session))

    @cached_property
    def hand(self) -> AtHand:
        """What the artist has set about her pencils."""
        return at_hand_now(self.session)

    @cached_property
    def at_hand(self) -> frozenset[int]:
        """The colours that can be drawn with here and now."""
        return frozenset(i for i, sticks in self.pencils.items() if self.hand.has(sticks))

    def colour(self, colour_id: int) -> ColourRow:
        """One charted colour; raises NotFoundError."""
        if colour_id not in self.colours:
            raise no_colour(colour_id)
        return self.colours[colour_id]

    def owning(self, colour_id: int) -> Owning:
        """How a colour is owned."""
        return self.hand.owning(self.pencils.get(colour_id, ()))

    def place_of(self, colour_id: int) -> str:
        """Where a pencil of this colour stands that can be drawn with; "" where none does, or nobody said."""
        for pencil in self.pencils.get(colour_id, ()):
            if pencil.drawable and pencil.tin:
                return pencil.tin if pencil.slot is None else f"{pencil.tin}, {pencil.slot}"
        return ""

    def owned(self, layer: Layer[int]) -> Layer[OwnedColour]:
        """A layer with its colour and how that is owned; raises NotFoundError."""
        return layer.of(OwnedColour(self.colour(layer.pencil), self.owning(layer.pencil)))


class Scene(Stock):
    """One session, one paper, and what is known there; each part is read when it is first asked for."""

    def __init__(self, session: Session, paper: Paper) -> None:
        super().__init__(session)
        self.paper = paper
        self._predicted: dict[int, Predictions] = {}
        self._compared: dict[Coat, dict[int, Known]] = {}

    @classmethod
    def on(cls, session: Session, paper_id: int) -> Scene:
        """The scene on the paper of this number. Raises NotFoundError."""
        return cls(session, find_paper(session, paper_id))

    @cached_property
    def measured(self) -> Mapping[int, Mapping[MarkKind, MeasuredMark]]:
        """Measured marks by colour and kind."""
        return known_marks(self.session, self.paper)

    @property
    def layered(self) -> frozenset[int]:
        """The colours of which a mark of several layers was measured."""
        return frozenset(i for i, marks in self.measured.items() if any(layers > 1 for _, layers in marks))

    @cached_property
    def marks(self) -> Mapping[int, Mark]:
        """The mark of every charted colour, ready to be drawn."""
        return marks_on(self.session, self.paper, self.predicted())

    @cached_property
    def known(self) -> Fitted | None:
        """The collection as it is fitted; None before the first fit."""
        return fitted(self.session)

    @cached_property
    def fit(self) -> PaperFit:
        """The paper as it is fitted, or guessed; to be asked only where `known` is something."""
        assert self.known is not None, "without a fit nothing is known of a paper"
        return paper_fit(self.known, self.paper)

    def predicted(self, layers: int = 1) -> Predictions:
        """Predicted marks of one layer count."""
        if layers not in self._predicted:
            self._predicted[layers] = predictions_on(self.session, self.paper, layers)
        return self._predicted[layers]

    def look(self, layer: Layer[int]) -> Seen | None:
        """The mark of one pencil as it is laid: measured before predicted; None where nothing is known."""
        mark = self.measured.get(layer.pencil, {}).get((layer.pressure, layer.layers))
        if mark is not None:
            return Seen(patch(mark.lab), Trust.MEASURED, band_of(mark))
        if layer.pressure not in MARK_PRESSURES:
            return None
        predicted = self.predicted(layer.layers).of(layer.pencil, layer.pressure)
        return None if predicted is None else Seen(patch(predicted.lab), Trust.PREDICTED, predicted.band)

    def compared(self, colour_id: int, coat: Coat) -> Known:
        """What is known of a colour for a comparison of marks of one kind, and of charts. Raises NotFoundError."""
        row = self.colour(colour_id)
        if coat not in self._compared:
            question = ("compared", self.paper.id, coat, self.predicted(coat.layers).version)
            self._compared[coat] = for_version(self.session, question, MARK_TABLES, dict)
        known = self._compared[coat]
        if colour_id not in known:
            known[colour_id] = self._compare(row, coat)
        return known[colour_id]

    def _compare(self, row: ColourRow, coat: Coat) -> Known:
        mark = self.measured.get(row.id, {}).get((coat.pressure, coat.layers))
        predicted = self.predicted(coat.layers).of(row.id, coat.pressure) if mark is None else None
        lab = mark.lab if mark else predicted.lab if predicted else None
        return Known(
            row.id,
            np.array(lab) if lab else None,
            np.array(row.lab) if row.lab else None,
            ordinary=row.effect == Effect.ORDINARY,
            band=predicted.band if predicted else band_of(mark) if mark else None,
            by_photo=mark is not None and mark.doubt is not None,
        )

    def spectra(self, coat: Coat, colour_ids: Iterable[int]) -> Mapping[int, Sequence[float]]:
        """Measured spectra of marks of one kind, by colour, where there are some."""
        return spectra_that_count(self.session, self.paper.id, coat.pressure, coat.layers, list(colour_ids))

    def modelled(self, layers: Sequence[Layer[int]]) -> list[FittedLayer] | None:
        """Layers with fitted pencils; None where one of them is not modelled."""
        pencils = self.known.survey.pencils if self.known is not None else {}
        if any(one.pencil not in pencils for one in layers):
            return None
        return [one.of(pencils[one.pencil]) for one in layers]
