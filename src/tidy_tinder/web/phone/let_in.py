"""Phones let in: the pairing, the phone's application and its listener, as one thing that is opened and closed."""

from __future__ import annotations

import time
from collections.abc import Callable

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.phones.pairing import Pairing
from tidy_tinder.web.phone.app import create_phone_app
from tidy_tinder.web.phone.listening import PhoneListener


class Phones:
    """Shut at first. address: of this computer, where it is not to be found by itself."""

    def __init__(self, collection: Collection, wake: Callable[[], None], address: str | None = None) -> None:
        self.pairing = Pairing(time.monotonic)
        self._listener = PhoneListener(self.pairing, address)
        self._app = create_phone_app(collection, self.pairing, wake, lambda: self._listener.host)

    @property
    def address(self) -> str:
        """Where phones find it; empty while it is shut."""
        return f"http://{self._listener.host}/" if self._listener.host else ""

    def open(self) -> None:
        """Let phones in for an hour. Raises RefusedError where there is no network."""
        self.pairing.open()
        try:
            self._listener.begin(self._app)
        except BaseException:
            self.pairing.close()
            raise

    def close(self) -> None:
        """Shut them out."""
        self.pairing.close()
        self._listener.end()
