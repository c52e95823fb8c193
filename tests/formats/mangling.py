"""Files that were cut, mangled, doubled or written into, by seed."""

from __future__ import annotations

import random

_JUNK = (b"\x00", b"\xff\xfe", b'"', b"\n" * 400, b"<", b"[" * 3000, b"9" * 5000, b"\xf0\x9f\x96\x8d", b"=1+1")


def broken(whole: bytes, rng: random.Random) -> bytes:
    """A file that was cut, mangled, doubled or written into, at one to three places."""
    made = whole
    for _ in range(rng.randint(1, 3)):
        at, upto = sorted(rng.randint(0, len(made)) for _ in range(2))
        instead = rng.choice([b"", rng.randbytes(6), rng.choice(_JUNK), made[at:upto][:4000] * 2])
        goes_on = rng.choice([at, at, at + 6, upto, len(made)])
        made = made[:at] + instead + made[goes_on:]
    return made
