"""Serve the application: its page is handed out at once, and answered as soon as all behind it is loaded."""

from __future__ import annotations

import signal
import socket
from contextlib import ExitStack, closing
from dataclasses import replace
from pathlib import Path
from types import FrameType
from typing import NoReturn

import click

from tidy_tinder import __version__
from tidy_tinder.commands.loading import loading
from tidy_tinder.commands.options import DATA, DEMO, port_in_words, port_option
from tidy_tinder.settings import DEFAULT_PORT, Settings, settings_for
from tidy_tinder.storage.lock import only_program
from tidy_tinder.storage.places import backups_of
from tidy_tinder.web.door import door
from tidy_tinder.web.kept_answers import KeptAnswers


@click.command()
@DEMO
@port_option(DEFAULT_PORT)
@DATA
@click.option("--phones-on", help="The address of this computer that phones reach, if it is not found by itself.")
def serve(demo: bool, port: int, data: Path | None, phones_on: str | None) -> None:
    """Serve the application on this machine; the first line printed is its address."""
    settings = replace(settings_for(data, demo), phones_on=phones_on)
    signal.signal(signal.SIGTERM, _stop)
    with closing(_listen(port)) as listener:
        _serve(settings, listener)


def _serve(settings: Settings, listener: socket.socket) -> None:
    address = f"http://127.0.0.1:{listener.getsockname()[1]}/"
    kept = KeptAnswers(settings.database, settings.demo)
    with only_program(settings.database, f"at {address}"):
        left = kept.read()
        with door(listener, left) as give, ExitStack() as unless_it_serves:
            click.echo(address)
            # While the browser takes the page from the door, what answers it is loaded: most of the start. First what
            # opens the collection and answers the first page, then all the rest.
            with loading():
                from tidy_tinder.commands.fitted import keep_fitted, leave  # noqa: PLC0415
                from tidy_tinder.commands.opening import open_for  # noqa: PLC0415
                from tidy_tinder.web.first_page import FirstPage  # noqa: PLC0415

            collection = open_for(settings)
            first_page = FirstPage(collection, settings.demo, kept, left)
            unless_it_serves.callback(leave, collection, first_page, kept)
            keep_fitted(collection, first_page, kept)
            if not left:
                for asked, answer in first_page.at_hand():
                    give(asked, answer)
            with loading():
                from tidy_tinder.commands.serving import ready  # noqa: PLC0415

            serving = ready(collection, settings, first_page, kept)
            unless_it_serves.pop_all()
        with closing(serving):
            click.echo(f"Tidy Tinder {__version__}. The collection is {settings.database};", err=True)
            click.echo(f"copies made before an upgrade or a restore go to {backups_of(settings.database)}.", err=True)
            click.echo("Stop with Ctrl+C.", err=True)
            serving.run(listener)


def _stop(_signal: int, _frame: FrameType | None) -> NoReturn:
    """End as Ctrl+C does: what runs is stopped and the file left whole."""
    raise KeyboardInterrupt


def _listen(port: int) -> socket.socket:
    """A listening socket on the loopback address."""
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    with (
        ExitStack() as unless_it_listens,
        port_in_words(port, f"perhaps Tidy Tinder is running already: look at http://127.0.0.1:{port}/"),
    ):
        unless_it_listens.callback(listener.close)
        listener.bind(("127.0.0.1", port))
        # Listening here, not in the server, makes a second program on the port fail at once, in words.
        listener.listen(128)
        unless_it_listens.pop_all()
    return listener
