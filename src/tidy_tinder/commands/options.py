"""The options that several commands share, and a port that cannot be had, in words."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

import click

FC = TypeVar("FC", bound=Callable[..., object])

DATA = click.option("--data", type=click.Path(path_type=Path), help="Folder of the collection (default: your own).")
DEMO = click.option("--demo", is_flag=True, help="The invented demo collection, in a folder of its own.")


def port_option(default: int) -> Callable[[FC], FC]:
    """The option of a port, each command with its own default."""
    kind, told = click.IntRange(0, 65535), "Port on 127.0.0.1; 0 takes a free one."
    return click.option("--port", type=kind, default=default, show_default=True, help=told)


@contextmanager
def port_in_words(port: int, perhaps: str) -> Iterator[None]:
    """Say why a port cannot be listened on. Raises click.ClickException."""
    try:
        yield
    except PermissionError:
        raise click.ClickException(
            f"Port {port} may not be used by this account. Choose one above 1023 with --port, or --port 0 for a free "
            "one."
        ) from None
    except OSError:
        raise click.ClickException(
            f"Port {port} is taken; {perhaps}. Otherwise choose another with --port, or --port 0 for a free one."
        ) from None
