"""Phones let in for an hour, a new code, one sent away, all shut out again."""

from __future__ import annotations

from tidy_tinder.formats.qr_code import qr_path
from tidy_tinder.web.endpoint import blueprint, phones_here
from tidy_tinder.web.phones.schemas import PairedPhoneOut, PhonePath, PhonesOut, QrOut

api = blueprint("phones")


@api.get("/phones", responses={"200": PhonesOut})
def get_phones() -> PhonesOut:
    """How it stands."""
    return _out()


@api.post("/phones/open", responses={"200": PhonesOut})
def let_phones_in() -> PhonesOut:
    """Open the program to the local network for an hour, for phones that pair by a code."""
    phones_here().open()
    return _out()


@api.post("/phones/close", responses={"200": PhonesOut})
def shut_phones_out() -> PhonesOut:
    """Close it again; who was paired is forgotten."""
    phones_here().close()
    return _out()


@api.post("/phones/code", responses={"200": PhonesOut})
def renew_phone_code() -> PhonesOut:
    """Another code, with five tries."""
    phones_here().pairing.renew_code()
    return _out()


@api.delete("/phones/<int:phone_id>", responses={"200": PhonesOut})
def send_phone_away(path: PhonePath) -> PhonesOut:
    """Forget one phone; it must be paired anew."""
    phones_here().pairing.send_away(path.phone_id)
    return _out()


def _out() -> PhonesOut:
    phones = phones_here()
    state, address = phones.pairing.state(), phones.address
    return PhonesOut(
        is_open=state.is_open,
        address=address,
        qr=QrOut.model_validate(qr_path(address)) if state.is_open else None,
        code=state.code,
        tries_left=state.tries_left,
        seconds_left=state.seconds_left,
        phones=[PairedPhoneOut.model_validate(phone) for phone in state.phones],
    )
