"""What keeps other pages out of the collection: the names this program answers to, and the headers on every answer."""

from __future__ import annotations

from urllib.parse import urlsplit

from tidy_tinder.core.errors import echoed

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


def foreign_page(host: str, origin: str | None, fetched_from: str | None, path: str) -> str:
    """Whose page asks, where it is somebody else's; empty where it is one of the program's own, or none.

    host: the Host header; origin: the Origin header; fetched_from: Sec-Fetch-Site, which browsers also send where they
    leave Origin away. A link elsewhere may open a page of the program, but nothing may ask its API.
    """
    if origin is not None and origin not in (f"http://{host}", f"https://{host}"):
        return f"A page of {echoed(origin)}"
    if fetched_from == "cross-site" and path.startswith("/api"):
        return "A page elsewhere"
    return ""
