"""What a request says in JSON is read strictly; what cannot be read is refused in words, whatever route it goes to."""

from __future__ import annotations

from typing import Any

import orjson
from flask import Flask
from flask.json.provider import DefaultJSONProvider

from tidy_tinder.web.errors import NotJsonError


class _Strict(DefaultJSONProvider):
    """JSON as the standard has it (RFC 8259): no NaN, no lone surrogates, no more than some hundred levels."""

    def loads(self, s: str | bytes, **_kwargs: Any) -> Any:
        """Read it. Raises NotJsonError."""
        try:
            return orjson.loads(s)
        except orjson.JSONDecodeError as error:
            raise NotJsonError(f"It is not JSON that can be read here: {error}.") from None


def setup_json(app: Flask) -> None:
    """Read JSON by the strict reader."""
    app.json = _Strict(app)
