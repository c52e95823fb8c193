"""Pairing with phones: shut until the artist opens it, for an hour at most; one code for one phone, five tries.

What is defended against is written down in docs/decisions/0021-a-phone-at-the-table.md.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
from collections.abc import Callable
from dataclasses import dataclass

from tidy_tinder.services.errors import RefusedError

OPEN_SECONDS = 3600.0
MOST_TRIES = 5
_DIGITS = 6
_MOST_PHONES = 8
_LONGEST_NAME = 40


@dataclass(frozen=True)
class PairedPhone:
    """A phone that was let in: by its own name, with the photos that it sent."""

    id: int
    name: str
    photos: tuple[int, ...] = ()


@dataclass(frozen=True)
class PairingState:
    """Whether phones may come in, the code for the next one, how often it may still be tried, for how long."""

    is_open: bool
    code: str = ""
    tries_left: int = 0
    seconds_left: int = 0
    phones: tuple[PairedPhone, ...] = ()


class Pairing:
    """Who may come in. clock: seconds that only rise."""

    def __init__(self, clock: Callable[[], float]) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self._until = 0.0
        self._code = ""
        self._tries = 0
        self._paired: dict[bytes, PairedPhone] = {}
        self._last = 0

    def open(self) -> None:
        """Let phones in for an hour from now, with a new code."""
        with self._lock:
            self._until = self._clock() + OPEN_SECONDS
            self._renew()

    def close(self) -> None:
        """Let nobody in any more, and forget who was."""
        with self._lock:
            self._until = 0.0
            self._code = ""
            self._paired.clear()

    def renew_code(self) -> None:
        """Another code, with all its tries. Raises RefusedError while it is shut."""
        with self._lock:
            if not self._is_open():
                raise RefusedError("No phone may come in now. Let one in first.")
            self._renew()

    def state(self) -> PairingState:
        """How it stands now."""
        with self._lock:
            if not self._is_open():
                return PairingState(False)
            left = int(self._until - self._clock())
            return PairingState(True, self._code, self._tries, left, tuple(self._paired.values()))

    def pair(self, code: str, name: str) -> str:
        """The secret by which a phone is known from now on. A code is good for one phone.

        Raises RefusedError while it is shut, for a wrong code, and after the last try.
        """
        with self._lock:
            if not self._is_open():
                raise RefusedError("No phone may come in now. Let one in on the computer first.")
            if self._tries == 0:
                raise RefusedError("That was tried too often. Ask for a new code on the computer.")
            if not hmac.compare_digest("".join(code.split()).encode(), self._code.encode()):
                self._tries -= 1
                raise RefusedError(f"That is not the code. {self._tries} tries are left.")
            if len(self._paired) >= _MOST_PHONES:
                raise RefusedError(f"{_MOST_PHONES} phones are in already. Send one away on the computer.")
            secret = secrets.token_urlsafe(32)
            self._last += 1
            self._paired[_digest(secret)] = PairedPhone(self._last, _shown(name) or f"phone {self._last}")
            self._renew()
            return secret

    def who(self, secret: str) -> PairedPhone | None:
        """The phone that this secret was given to, while it may be in."""
        with self._lock:
            return self._paired.get(_digest(secret)) if self._is_open() else None

    def sent(self, secret: str, photo_id: int) -> None:
        """Note that a phone sent a photo: of these it may ask how far they are."""
        with self._lock:
            phone = self._paired.get(_digest(secret))
            if phone is not None:
                self._paired[_digest(secret)] = PairedPhone(phone.id, phone.name, (*phone.photos, photo_id))

    def send_away(self, phone_id: int) -> None:
        """Forget a phone; it must be paired anew."""
        with self._lock:
            self._paired = {key: phone for key, phone in self._paired.items() if phone.id != phone_id}

    def _is_open(self) -> bool:
        if self._clock() >= self._until:
            self._paired.clear()
            return False
        return True

    def _renew(self) -> None:
        self._code = f"{secrets.randbelow(10**_DIGITS):0{_DIGITS}d}"
        self._tries = MOST_TRIES


def _digest(secret: str) -> bytes:
    return hashlib.sha256(secret.encode()).digest()


def _shown(name: str) -> str:
    return "".join(c for c in name if c.isprintable()).strip()[:_LONGEST_NAME]
