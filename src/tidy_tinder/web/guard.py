"""What keeps other pages out of the collection: the names this program answers to, and the headers on every answer."""

from __future__ import annotations

from urllib.parse import urlsplit

# A page elsewhere must not reach the collection through a name that it lets point at this machine.
_OWN_HOSTS = frozenset({"127.0.0.1", "localhost", "::1"})

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; object-src 'none'; "
        "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
}


def is_own(host: str) -> bool:
    """Whether a Host header names this program."""
    try:
        return urlsplit(f"//{host}").hostname in _OWN_HOSTS
    except ValueError:
        return False
