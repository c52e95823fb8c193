"""Who may come in with a phone, and by which code."""

from __future__ import annotations

from tidy_tinder.web.shared.base import Id, Out, Schema


class PhonePath(Schema):
    """The number of a paired phone."""

    phone_id: Id


class PairedPhoneOut(Out):
    """A phone that was let in."""

    id: int
    name: str


class QrOut(Out):
    """A QR code: modules on a side, and the dark ones as a path."""

    size: int
    path: str


class PhonesOut(Schema):
    """Whether phones may come in; address, QR code and code for the next one, for how many seconds."""

    is_open: bool
    address: str
    qr: QrOut | None
    code: str
    tries_left: int
    seconds_left: int
    phones: list[PairedPhoneOut]
