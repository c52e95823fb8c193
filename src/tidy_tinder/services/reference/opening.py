"""References opened one after another in the background; a program that ends is taken up."""

from __future__ import annotations

from sqlalchemy import select

from tidy_tinder.services.background.one_by_one import OneByOne
from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.reference.apart import Opened, open_apart
from tidy_tinder.services.reference.store import take_up
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import PictureState, Reference, ReferencePicture

_FAILED = "Opening this picture failed. The reason stands in the window where the program was started."


class PictureOpener(OneByOne):
    """Opens the pictures of one collection that wait, the first one first."""

    def __init__(self, collection: Collection) -> None:
        super().__init__(collection, "pictures")

    def _take_up(self) -> int:
        return take_up(self._collection)

    def _next(self) -> int | None:
        with self._collection() as session:
            session.connection(execution_options=WRITER)
            waiting = select(ReferencePicture).join(Reference, Reference.id == ReferencePicture.reference_id)
            picture = session.scalars(
                waiting.where(ReferencePicture.state == PictureState.WAITING)
                .order_by(ReferencePicture.reference_id)
                .limit(1)
            ).first()
            if picture is None:
                return None
            picture.state = PictureState.OPENING
            session.commit()
            return picture.reference_id

    def _work(self, number: int, process: OtherProcess) -> None:
        with self._collection() as session:
            picture = session.get(ReferencePicture, number)
            content = None if picture is None else picture.content
        if content is None:
            return
        opened = open_apart(process, content)
        if opened is not None:
            self._keep(number, opened)

    def _failed(self, number: int) -> None:
        self._keep(number, Opened(refused=_FAILED))

    def _keep(self, number: int, opened: Opened) -> None:
        with self._collection() as session:
            session.connection(execution_options=WRITER)
            picture = session.get(ReferencePicture, number)
            if picture is None or picture.state != PictureState.OPENING:
                return
            if opened.refused:
                picture.state, picture.message = PictureState.REFUSED, opened.refused
            else:
                picture.state, picture.message = PictureState.READY, ""
                picture.width, picture.height, picture.working = opened.width, opened.height, opened.working
                picture.curve, picture.matrix = list(opened.curve), [list(row) for row in opened.matrix]
                picture.profile = opened.profile
            session.commit()
